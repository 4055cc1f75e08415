"""Lines and arcs that touch two round ones: the one nearest to the place that was told."""

import math

import pytest

from lathed_solid.core.quantity import ExpressionError
from lathed_solid.core.sketch.model import Arc
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions

from .drawn import typed, ways

EYES = ("circle Ø36 at 0,0", "circle Ø22 at 90,0")


@pytest.mark.parametrize(("near", "side"), [("45,16", 1), ("45,-16", -1)])
def test_a_line_touches_both_on_the_side_told(near, side):
    sketch = typed(*EYES, f"line between c1 c2 near {near}")
    line, points = sketch.get("l1"), sketch.points()
    lean = math.asin(7 / 90)
    assert (points[line.a].x, points[line.a].y) == pytest.approx((18 * math.sin(lean), side * 18 * math.cos(lean)))
    assert ways(sketch) == 0


@pytest.mark.parametrize(("near", "bulges"), [("45,30", True), ("45,5", False)])
def test_an_arc_touches_both_bulging_out_or_bowing_in(near, bulges):
    sketch = typed(*EYES, f"arc R120 between c1 c2 near {near}")
    (arc,) = [c for c in sketch.curves() if isinstance(c, Arc)]
    c = sketch.points()[arc.center]
    assert math.hypot(c.x, c.y) == pytest.approx(120 - 18 if bulges else 120 + 18)
    assert ways(sketch) == 0


def test_eyes_joined_without_trimming_enclose_three_areas():
    sketch = typed(*EYES, "arc R120 between c1 c2 near 45,30", "line between c1 c2 near 45,-16")
    areas = {r.id: abs(r.outer.area) for r in find_regions(sketch).every()}
    assert areas["c1"] == pytest.approx(math.pi * 18**2, rel=5e-3)
    assert areas["c2"] == pytest.approx(math.pi * 11**2, rel=5e-3)
    assert len(areas) == 3


def test_what_cannot_be_touched_is_said():
    with pytest.raises(SketchError, match="one lies inside the other"):
        typed("circle Ø36 at 0,0", "circle Ø10 at 2,0", "line between c1 c2 near 0,20")
    with pytest.raises(SketchError, match="No arc of R5"):
        typed(*EYES, "arc R5 between c1 c2 near 45,0")
    with pytest.raises(ExpressionError, match="near which place"):
        typed(*EYES, "line between c1 c2")
