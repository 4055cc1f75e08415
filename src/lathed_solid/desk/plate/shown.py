"""All that the plate shows of a sketch, put together once and handed to the canvas as it is."""

from __future__ import annotations

from typing import NamedTuple

from ...core.callout import Ledger
from ...core.drafting.words import size_texts
from ...core.quantity import Style
from ...core.route.settling import dimension_values
from ...core.sketch.model import Sketch
from ...core.sketch.refusal import SketchError
from ...core.sketch.region import find_regions
from ...core.sketch.traces import Traces
from .look import Look


class Shown(NamedTuple):
    """``values`` is None when a number has none, ``problem`` says why. Equal ones look alike on the plate."""

    sketch: Sketch
    texts: dict[str, str]
    values: dict[str, float] | None
    problem: str
    areas: tuple[str, ...]
    needs_outline: bool
    style: Style
    traces: Traces | None = None


def shown_of(
    sketch: Sketch, ledger: Ledger, style: Style, problem: str, areas: tuple[str, ...], needs_outline: bool
) -> Shown:
    """What there is to show of a sketch; ``areas`` are those its step takes."""
    values = None
    try:
        values = dimension_values(sketch, ledger)
    except SketchError as error:
        problem = problem or str(error)
    return Shown(sketch, size_texts(sketch, ledger, style), values, problem, areas, needs_outline, style)


def look_of(shown: Shown, axes: tuple[str, str], all_marks: bool, diagnosed: bool) -> tuple[Look, str]:
    """How it looks, and what is wrong with it (empty when nothing is).

    Without ``diagnosed`` what can still move is left out: the solver is not loaded yet.
    """
    regions, problem, freedom = find_regions(shown.sketch), shown.problem, None
    if diagnosed and shown.values is not None:
        from ...core.sketch.explain.diagnose import freedom as free_motions

        try:
            freedom = free_motions(shown.sketch, shown.values)
        except SketchError as error:
            problem = problem or str(error)
    # What crosses or covers each other is lit until it is mended.
    wrong = frozenset(i for pair in regions.crossings for i in pair) if regions is not None else frozenset()
    return (
        Look(
            freedom=freedom,
            regions=regions,
            texts=shown.texts,
            blamed=wrong,
            areas=shown.areas,
            all_marks=all_marks,
            axes=axes,
            traces=shown.traces,
        ),
        problem,
    )
