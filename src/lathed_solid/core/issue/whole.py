"""Whether a part is whole: what leaves the workshop is never made of a route that stopped half-way."""

from __future__ import annotations

from ..job.model import Content
from ..route.rebuild import RouteResult
from ..route.registry import called


def why_not_whole(content: Content, result: RouteResult) -> str:
    """Why a built part is not whole, to be told after "needs the whole part, and"; empty when it is."""
    failed = next((r for r in result.reports if r.state == "failed"), None)
    if failed is not None:
        return f"step “{called(content.step(failed.id))}” fails"
    return "" if result.body is not None else "there is no solid"
