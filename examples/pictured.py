"""The picture an example is saved with, as the program shows it among the recent jobs and at its start."""

from __future__ import annotations

from pathlib import Path

from lathed_solid.core.fit.model import Assembly
from lathed_solid.core.issue.picture.model import Shot
from lathed_solid.core.issue.picture.taking import take
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content
from lathed_solid.core.route.rebuild import Cache


def preview(content: Content, store: Store | None = None) -> bytes:
    """PNG of the part, a turned one lying."""
    turn, up = (-32.0, "x") if content.turned else (35.0, "z")
    shot = Shot(turn=turn, height=25.0, up=up, size=(512, 384), quality="draft")  # type: ignore[arg-type]
    return take(content, "still", shot, None, 1, Cache(), store or Store(Path("/nonexistent")))


def together(assembly: Assembly, store: Store) -> bytes:
    """PNG of an assembly, from before and above."""
    shot = Shot(turn=35.0, height=25.0, up="z", size=(512, 384), quality="draft")
    return take(assembly, "still", shot, None, 1, Cache(), store)
