"""Before there is a solid: the views of a DXF say which carries the shape, what is turned, alike, repeated."""

import math

import pytest

from lathed_solid.core.drawing.dxf import DxfPaper
from lathed_solid.core.drawing.views import views_of
from lathed_solid.core.plan.drawn import from_views
from lathed_solid.core.quantity import Style

from ...conftest import EXAMPLES
from ..test_drawing import dxf

MM = Style("mm", 2)


def rectangle(space, left, low, right, high):
    space.add_lwpolyline([(left, low), (right, low), (right, high), (left, high)], close=True)


def told(draw, scale=1.0, style=MM):
    paper = DxfPaper(dxf(draw), "a.dxf")
    return views_of(paper), from_views(views_of(paper), scale, style)


def test_the_flange_is_seen_to_be_turned():
    paper = DxfPaper((EXAMPLES / "skp-02.dxf").read_bytes(), "skp-02.dxf")
    views = views_of(paper)
    assert [(v.pieces, len(v.circles)) for v in views] == [(33, 0), (25, 22)], "section and end view"
    found = from_views(views, 1.0, MM)
    assert [(a.words, a.start) for a in found] == [
        ("Of the drawing's 2 views, the view at the left carries the shape: 33 of 58 lines, arcs and circles.", ""),
        (
            "Round Ø118 in the view at the right, and alike on both sides of the axis in the view at the left: a turned "
            "part.",
            "revolve",
        ),
        ("6 circles Ø5.5 and Ø10 lie evenly on a circle of Ø98.", "ring"),
        ("6 circles Ø18 lie evenly on a circle of Ø66.", "ring"),
    ]
    section, end = (v.on_sheet for v in views)
    assert found[1].boxes == (end, section)
    assert all(0 <= lo < hi <= 1 for box in (section, end) for lo, hi in ((box[0], box[2]), (box[1], box[3])))
    assert section[2] < end[0], "the section is left of the end view"
    for left, top, right, bottom in found[2].boxes:
        assert end[0] < left < right < end[2] and end[1] < top < bottom < end[3]


def test_a_ring_cut_open_is_one_view_although_its_halves_lie_apart():
    def draw(space):
        rectangle(space, 0, 40, 20, 50)
        rectangle(space, 0, -50, 20, -40)
        for radius in (40, 50):
            space.add_circle((120, 0), radius)

    views, found = told(draw)
    assert [v.pieces for v in views] == [8, 2]
    assert found[1].words.startswith("Round Ø100 in the view at the right") and found[1].start == "revolve"


def test_a_plate_above_its_side_view():
    def draw(space):
        rectangle(space, 0, 100, 80, 150)
        for x, y in ((10, 110), (70, 110), (10, 140), (70, 140)):
            space.add_circle((x, y), 3)
        rectangle(space, 0, 0, 80, 12)

    _, found = told(draw)
    assert [a.words for a in found] == [
        "Of the drawing's 2 views, the view at the top carries the shape: 8 of 12 lines, arcs and circles.",
        "The view at the top is alike on both sides of an upright and of a level line through its middle.",
        "4 circles Ø6 lie in a grid of 2 by 2.",
    ]
    assert [a.start for a in found] == ["", "extrude", "row"] and len(found[2].boxes) == 4
    inch = told(draw, 25.4, Style("in", 3))[1]
    assert inch[2].words == "4 circles Ø6 lie in a grid of 2 by 2.", "drawn in inches"
    unknown = told(draw, 0.0)[1]
    assert unknown[2].words == "4 circles of one size lie in a grid of 2 by 2.", "no scale, no size"


@pytest.mark.parametrize("off", [0.0, 0.004, 0.3])
def test_one_hole_off_breaks_what_is_alike(off):
    def draw(space):
        rectangle(space, 0, 0, 60, 40)
        for turn in range(5):
            space.add_circle((30 + 15 * math.cos(turn * 1.2566370614), 20 + 15 * math.sin(turn * 1.2566370614)), 2)
        space.add_circle((30, 20 + off), 4)

    (view,), found = told(draw)
    assert view.pieces == 10 and (view.level == 1.0) == (off < 0.01)
    ring = [a.words for a in found if a.start == "ring"]
    assert ring == ["5 circles Ø4 lie evenly on a circle of Ø30."]


def test_nothing_is_told_of_a_drawing_that_shows_nothing():
    assert told(lambda space: space.add_mtext("only words")) == ((), ())
    splines = told(lambda space: space.add_spline([(0, 0, 0), (1, 2, 0), (4, 1, 0)]))
    assert splines == ((), ())
