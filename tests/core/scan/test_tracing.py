"""A scan under a sketch: where it stands, what of it is snapped to, which circles callouts speak of; sheets made straight."""

from __future__ import annotations

import math

import numpy as np
import pytest

from lathed_solid.core.callout import Place
from lathed_solid.core.job import edits, reading, tracing
from lathed_solid.core.job.model import Content
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.make.snap import snap
from lathed_solid.core.sketch.model import Circle, Plane
from lathed_solid.core.sketch.traces import Traces, snapped

#: A square of 40 with a hole of Ø10 in it, as shares of a sheet 400 mm wide, y down; its ends do not quite meet.
LINES = ((0.1, 0.2, 0.199, 0.2), (0.2, 0.2, 0.2, 0.299), (0.2, 0.3, 0.1, 0.3), (0.1, 0.3, 0.1, 0.201))
CIRCLES = ((0.15, 0.25, 0.0125),)


def content(*notes: str) -> Content:
    made = Content()
    for note in notes:
        made, _ = edits.add_callout(made, note)
    return made


def test_linework_stands_about_the_chosen_zero():
    corner = tracing.in_plane(LINES, CIRCLES, 400, "corner")
    assert corner.circles == (pytest.approx((20, 20, 5)),)
    assert min(v for s in corner.lines for v in s) == pytest.approx(0)
    about = tracing.in_plane(LINES, CIRCLES, 400, "circle")
    assert about.circles[0][:2] == pytest.approx((0, 0))
    assert tracing.in_plane((), (), 400, "circle") == Traces(sketch="")


def test_bits_of_dimension_lines_move_no_zero_and_a_broken_outline_is_taken_whole():
    stray = (*LINES, (0.08, 0.22, 0.095, 0.22), (0.15, 0.31, 0.15, 0.33))
    assert tracing.in_plane(stray, CIRCLES, 400, "corner").circles == (pytest.approx((20, 20, 5)),)
    apart = ((0.11, 0.2, 0.19, 0.2), (0.2, 0.21, 0.2, 0.29), (0.19, 0.3, 0.11, 0.3), (0.1, 0.29, 0.1, 0.21))
    found = tracing.in_plane(apart, CIRCLES, 400, "corner")
    assert found.circles == (pytest.approx((20, 20, 5)),), "the corner of the outline, not of its hole"


def test_a_length_over_a_scan_is_the_only_callout_so_near_and_none_elsewhere():
    made = content("90", "54", "Ø54", "34", "34.2")
    over = tracing.laid_under(made, Traces(sketch=""), "k1")
    near = [tracing.callout_meant(over, "k1", v) for v in (89.7, -54.2, 34.1, 60.0)]
    assert near == [1, 2, None, None], "two callouts so alike are not told apart"
    assert tracing.callout_meant(over, "k2", 90.0) is None


def test_corners_middles_and_lines_are_snapped_to_in_that_order():
    traces = tracing.in_plane(LINES, CIRCLES, 400, "corner")
    (x, y), words = snapped(traces, 39.5, 39.6, 1.5)
    assert (x, y) == pytest.approx((40, 40)) and "corner" in words, "where the lines would cross, not where they end"
    (x, y), words = snapped(traces, 20.6, 19.7, 1.5)
    assert (x, y) == pytest.approx((20, 20)) and "middle" in words
    (x, y), words = snapped(traces, 30.0, 0.3, 1.5)
    assert (x, y) == pytest.approx((30, 0)) and words == "on the scan"
    (x, y), _ = snapped(traces, 20 + 5.4, 20.0, 0.5 + 0.5)
    assert math.hypot(x - 20, y - 20) == pytest.approx(5)
    assert snapped(traces, 30, 30, 1.5) is None


def test_a_snap_to_the_scan_brings_a_place_and_no_relation_and_geometry_goes_first():
    made, id_ = edits.add_sketch(content(), "Outline", Plane("end"))
    sketch, traces = made.sketch(id_), tracing.in_plane(LINES, CIRCLES, 400, "corner")
    found = snap(sketch, 39.6, 20.3, 1.0, traces=traces)
    assert (found.spot.x, found.spot.y) == pytest.approx((40, 20.3)) and not found.spot.point and not found.spot.curve
    level = snap(sketch, 39.6, 10.2, 1.0, last=Spot(12, 10), traces=traces)
    assert level.spot.y == 10 and "level" in level.words and any("scan" in w for w in level.words)
    assert snap(sketch, 0.2, 0.1, 1.0, traces=traces).words == ("the origin",)
    assert not any("scan" in w for w in snap(sketch, 39.6, 20.3, 1.0).words)


def test_circles_are_drawn_as_large_as_their_callouts_say_never_as_the_scan_measures():
    base = content("2x Ø10.2 THRU", "Ø30", "R5")
    traces = Traces(sketch="", circles=((20, 20, 5.0), (50, 20, 5.2), (80, 20, 9.0)))
    (alike,) = tracing.stated(traces, base)
    assert (alike.number, len(alike.circles)) == (1, 2), "the third is nobody's"
    made, id_ = edits.add_sketch(base, "Outline", Plane("end"))
    made = tracing.with_holes(tracing.laid_under(made, traces, id_), id_, [alike])
    sketch = made.sketch(id_)
    assert [e.radius for e in sketch.entities if isinstance(e, Circle)] == pytest.approx([5.1, 5.1])
    assert {d.text for d in sketch.dimensions} == {"#1"}
    assert (
        made.traces_of(id_) is not None
        and tracing.laid_under(made, Traces(sketch=""), id_).traces_of(id_).circles == ()
    )
    assert edits.without_unused_sketch(made, id_).traces == (), "a sketch takes its scan with it"


def test_balloons_go_with_a_sheet_made_straight_and_come_back():
    base, drawing = reading.add_drawing(content(), "photo.jpg", "picture", "a" * 64, 1)
    base, _ = edits.add_callout(base, "R2", place=Place(drawing, 1, 0.3, 0.6))
    matrix = np.array([[1.1, 0.05, -0.1], [-0.02, 1.2, -0.1], [0.1, 0.05, 1.0]])
    straight = reading.straightened(base, drawing, "b" * 64, tuple(matrix.ravel()))
    place, p = straight.callouts[0].place, matrix @ (0.3, 0.6, 1)
    assert (place.x, place.y) == pytest.approx((p[0] / p[2], p[1] / p[2]))
    twice = reading.straightened(straight, drawing, "c" * 64, tuple(matrix.ravel()))
    assert twice.drawing(drawing).original == "a" * 64, "the first picture is the one kept"
    back = reading.as_photographed(twice, drawing)
    assert (back.callouts[0].place.x, back.callouts[0].place.y) == pytest.approx((0.3, 0.6))
    assert back.drawing(drawing).blob == "a" * 64
    with pytest.raises(edits.EditRefused, match="as it was opened"):
        reading.as_photographed(back, drawing)
