"""From the plate to the solid: free outlines, letters, chosen areas, and lines taken from the solid."""

import math

import msgspec
import numpy as np
import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import settle
from lathed_solid.core.kernel.ground.named import LostReference
from lathed_solid.core.kernel.measure.surfaces import measure_face
from lathed_solid.core.names import bare, piece_of, renamed
from lathed_solid.core.route.model import EdgeRef, StepFailure
from lathed_solid.core.route.outlines import closed_regions
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.route.steps.edges import Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.sketch import lettering
from lathed_solid.core.sketch.make import draw, freehand
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.model import ORIGIN, Dimension, Ellipse, Line, Plane, Projected, Relation, Sketch, Spline
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.typed.commands import read_command

from .sketch.drawn import END, LEDGER, typed


def block(sketch, depth="10", **fields):
    """A body extruded from a sketch."""
    content = Content(sketches=(sketch,))
    content = edits.add_step(
        content, Extrude(id="s1", sketch=sketch.id, mode="add", extent="depth", depth=depth, **fields)
    )
    result = rebuild(content.plan())
    assert [r.message for r in result.reports if r.state == "failed"] == []
    return result.body


def test_an_ellipse_is_exact_whichever_axis_is_longer():
    for end, minor in ((Spot(20, 5), 6), (Spot(3, 5), 6)):
        sketch, e = freehand.add_ellipse(END, Spot(0, 0, ORIGIN), end, minor)
        long = math.hypot(end.x, end.y)
        assert block(sketch).volume == pytest.approx(math.pi * long * minor * 10, rel=1e-6)
        sizes = (
            Dimension(id="d1", kind="long_axis", of=(e,), text="50"),
            Dimension(id="d2", kind="short_axis", of=(e,), text="16"),
        )
        sketch = settle_sketch(msgspec.structs.replace(sketch, dimensions=sizes), LEDGER)
        assert block(sketch).volume == pytest.approx(math.pi * 25 * 8 * 10, rel=1e-6)


def test_lines_touch_and_points_lie_on_an_ellipse():
    sketch, e = freehand.add_ellipse(END, Spot(0, 0, ORIGIN), Spot(20, 0), 8)
    sketch, line = draw.add_line(sketch, Spot(-10, 11), Spot(15, 9))
    sketch, point = draw.add_point(sketch, Spot(10, -8))
    fixed = tuple(
        Dimension(id=f"d{k}", kind=kind, of=(e,), text=text)
        for k, (kind, text) in enumerate((("long_axis", "40"), ("short_axis", "16")))
    )
    held = (*sketch.relations, Relation("r8", "tangent", (line, e)), Relation("r9", "on", (point, e)))
    sketch = settle_sketch(msgspec.structs.replace(sketch, relations=held, dimensions=fixed), LEDGER)
    p = sketch.points()[point]
    axis = sketch.points()[sketch.get(e).a]
    turn = math.atan2(axis.y, axis.x)
    u, v = p.x * math.cos(turn) + p.y * math.sin(turn), -p.x * math.sin(turn) + p.y * math.cos(turn)
    assert (u / 20) ** 2 + (v / 8) ** 2 == pytest.approx(1, abs=1e-9)
    a, b = (sketch.points()[i] for i in (sketch.get(line).a, sketch.get(line).b))
    n = np.array([-(b.y - a.y), b.x - a.x]) / math.hypot(b.x - a.x, b.y - a.y)
    reach = math.hypot(20 * (n @ [math.cos(turn), math.sin(turn)]), 8 * (n @ [-math.sin(turn), math.cos(turn)]))
    assert abs(n @ [a.x, a.y]) == pytest.approx(reach, abs=1e-9)


def test_a_free_edge_closes_an_outline_and_joins_smoothly():
    sketch, s = freehand.add_spline(END, [Spot(0, 0), Spot(10, 6), Spot(20, -4), Spot(30, 0)])
    spline = sketch.get(s)
    points = sketch.points()
    sketch, a = draw.add_line(sketch, Spot(30, 0, spline.through[-1]), Spot(30, 20))
    sketch, b = draw.add_line(sketch, Spot(30, 20, sketch.get(a).b), Spot(0, 20))
    sketch, _ = draw.add_line(sketch, Spot(0, 20, sketch.get(b).b), Spot(0, 0, spline.through[0]))
    (region,) = find_regions(sketch).regions
    assert block(sketch).volume == pytest.approx(10 * region.outer.area, rel=5e-3)
    assert len(points) == 4
    sketch = freehand.with_handle(sketch, s, at_start=False)
    sketch = msgspec.structs.replace(sketch, relations=(*sketch.relations, Relation("r99", "tangent", (a, s))))
    sketch = settle_sketch(sketch, LEDGER)
    now, joined = sketch.points(), sketch.get(s)
    assert isinstance(joined, Spline)
    assert now[joined.end].x == pytest.approx(now[joined.through[-1]].x, abs=1e-9), (
        "the handle lies in line with the edge"
    )
    assert block(sketch).volume > 0


@pytest.mark.parametrize("on", ["line", "arc"])
def test_letters_are_solid_with_their_openings(on):
    if on == "line":
        sketch, line = draw.add_line(END, Spot(0, 0), Spot(60, 0), construction=True)
    else:
        sketch, line = draw.add_arc(END, Spot(-30, 0), Spot(30, 0), Spot(0, 30))
        sketch = draw.toggle_construction(sketch, (line,))
    sketch, text = freehand.add_text(sketch, line, "SKP-08", 5.0, align="middle", font="bold")
    regions = find_regions(sketch)
    assert regions.problem(sketch) == ""
    areas = [
        abs(0.5 * sum(_bezier_area(c) for c in contour.cubics))
        for contour in lettering.contours(sketch.get(text), sketch)
    ]
    holes = sum(len(r.holes) for r in regions.regions)
    assert (len(regions.regions), holes) == (6, 4), "P and 0 have one opening, 8 has two"
    solid = sum(r.outer.area - sum(abs(h.area) for h in r.holes) for r in regions.regions)
    tall = max(r.outer.outline[:, 1].max() for r in regions.regions)
    if on == "line":
        assert tall == pytest.approx(5.0, rel=0.03)
    plate = draw.add_rectangle(sketch, Spot(-50, -20), Spot(90, 60))
    outer = max(find_regions(plate).regions, key=lambda r: r.outer.area)
    contours = lettering.contours(sketch.get(text), sketch)
    filled = sum(a for a, c in zip(areas, contours, strict=True) if any(c.name == r.id for r in regions.regions))
    assert block(plate, depth="1", regions=(outer.id,)).volume == pytest.approx(140 * 80 - filled, rel=1e-7)
    assert solid == pytest.approx(2 * filled - sum(areas), rel=2e-2)
    wider = msgspec.structs.replace(sketch.get(text), spacing=0.5)
    assert lettering.width(wider) == pytest.approx(lettering.width(sketch.get(text)) + 5 * 2.5)


def _bezier_area(p):
    """Twice the signed area under one cubic, exact (Green's theorem on Bernstein polynomials)."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = p
    return (
        x0 * (6 * y1 + 3 * y2 + y3) + 3 * x1 * (-2 * y0 + y2 + y3) + 3 * x2 * (-y0 - y1 + 2 * y3) + x3 * (-y0 - 3 * y1 - 6 * y2)
    ) / 10  # fmt: skip


# --- areas
def test_a_dividing_line_makes_two_areas_and_each_can_be_taken():
    sketch = typed("rect 0,0 40,20")
    sketch, _ = draw.add_line(sketch, Spot(10, 0, "", "l1"), Spot(10, 20, "", "l3"))
    # The ends lie on the long sides: split them there, so that the areas are bounded.
    from lathed_solid.core.sketch.edit import trim

    sketch = trim.split(trim.split(sketch, "l1", (10, 0)), "l3", (10, 20))
    regions = find_regions(sketch)
    assert regions.problem(sketch) == ""
    small = min(regions.regions, key=lambda r: r.outer.area)
    assert small.outer.area == pytest.approx(200)
    assert block(sketch, regions=(small.id,)).volume == pytest.approx(2000)
    assert block(sketch).volume == pytest.approx(8000)


def test_what_is_drawn_elsewhere_does_not_shift_the_choice():
    sketch = typed("rect 40 x 20", "circle Ø8 at 50,0")
    circle = next(r for r in find_regions(sketch).regions if "c1" in r.id)
    before = block(sketch, regions=(circle.id,)).volume
    assert before == pytest.approx(math.pi * 160, rel=1e-9)
    more = typed("circle Ø4 at 5,5", "rect 10 x 10 at 80,0", "line 100,0 120,30", sketch=sketch)
    assert block(more, regions=(circle.id,)).volume == pytest.approx(before)
    with pytest.raises(StepFailure, match="open"):
        closed_regions(more)
    gone = draw.delete(sketch, ("c1",))
    with pytest.raises(StepFailure, match="no longer closed"):
        closed_regions(gone, (circle.id,))


def test_an_opening_can_be_chosen_and_open_ends_do_not_hide_what_is_closed():
    sketch = typed("rect 40 x 20", "circle Ø8 at 0,0", "line 30,30 40,40")
    regions = find_regions(sketch)
    assert [r.depth for r in regions.every()] == [0, 1]
    assert regions.gaps
    assert block(sketch, regions=("c1",)).volume == pytest.approx(math.pi * 160)


def areas(sketch):
    return {r.id: abs(r.outer.area) - sum(abs(h.area) for h in r.holes) for r in find_regions(sketch).every()}


def test_areas_come_from_lines_that_cross_touch_or_lie_on_each_other():
    crossed = typed("line 0,0 40,0 40,20 0,20 close", "line 10,-5 10,25")
    assert sorted(areas(crossed).values()) == pytest.approx([200, 600])
    touching = typed("line 0,0 40,0 40,20 0,20 close", "line 10,0 10,20")
    assert sorted(areas(touching).values()) == pytest.approx([200, 600])
    stacked = typed("rect 0,0 40,20", "rect 10,20 30,30")
    assert sorted(areas(stacked).values()) == pytest.approx([200, 800])
    overshoots = typed("line -5,0 45,0", "line -5,20 45,20", "line 0,-5 0,25", "line 40,-5 40,25")
    assert list(areas(overshoots).values()) == pytest.approx([800])
    circles = typed("circle Ø10 at 0,0", "circle Ø10 at 6,0")
    lens = 2 * 25 * math.acos(3 / 5) - 3 * math.sqrt(100 - 36)
    moon = 25 * math.pi - lens
    assert sorted(areas(circles).values()) == pytest.approx([lens, moon, moon], rel=5e-3)


def test_what_is_drawn_elsewhere_does_not_rename_an_area():
    plate = typed("line 0,0 40,0 40,20 0,20 close", "line 10,-5 10,25")
    (name,) = [i for i, a in areas(plate).items() if a == pytest.approx(200)]
    more = plate
    for text in ("line 30,-5 30,25", "circle Ø6 at 35,10", "line -9,40 60,40"):
        more = read_command(text, LEDGER, False, more).draw(more)
    assert areas(more)[name] == pytest.approx(200)


def test_a_solid_takes_just_the_areas_chosen_and_names_faces_after_whole_lines():
    """A rectangle with its corners cut off by crossing lines, their ends left standing (FOUND A5)."""
    lines = ("line -1,7 7,-1", "line 33,-1 41,7", "line 41,13 33,21", "line 7,21 -1,13")
    plate = typed("line 0,0 40,0 40,20 0,20 close", *lines)
    with pytest.raises(StepFailure, match="Click those to be taken"):
        closed_regions(plate)
    (middle,) = [i for i, a in areas(plate).items() if a > 400]
    body = block(plate, regions=(middle,))
    assert body.volume == pytest.approx((800 - 4 * 18) * 10)
    assert {n for names in body.names.values() for n in names} >= {f"s1/l{k}/side" for k in range(1, 9)}
    assert body.face_count == 10


def test_nested_outlines_alternate():
    nested = typed("circle Ø30 at 0,0", "circle Ø20 at 0,0", "circle Ø10 at 0,0")
    regions = find_regions(nested)
    assert sorted(round(r.outer.area - sum(h.area for h in r.holes)) for r in regions.regions) == [78, 392]


# --- lines from the solid
def bored(diameter="12", width="40"):
    """A block with a bore, and a second sketch on top that takes lines from it."""
    base = typed(f"rect {width} x 30", f"circle Ø{diameter} at 4,0")
    top = Sketch(id="k2", name="top", plane=Plane("end", offset="10"), projected=(
        Projected(id="j1", mode="edge", a="s1/c1/side", b="s1/end"), Projected(id="j2", mode="silhouette", a="s1/c1/side"),
    ))  # fmt: skip
    side = Sketch(id="k3", name="side", plane=Plane("side"), projected=(
        Projected(id="j1", mode="cut", a="s1/c1/side"), Projected(id="j2", mode="silhouette", a="s1/l2/side"),
    ))  # fmt: skip
    content = Content(sketches=(base, top, side))
    content = edits.add_step(
        content, Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="10", direction="forward")
    )
    content = edits.add_step(
        content,
        Extrude(id="s2", sketch="k2", mode="add", extent="depth", depth="2", direction="forward", regions=("c9",)),
    )
    return edits.add_step(content, Extrude(id="s3", sketch="k3", mode="cut", regions=("none",)))


def test_edges_silhouettes_and_cuts_follow_the_solid():
    content = bored()
    top = content.sketch("k2")
    # A ring round the bore, 3 mm wide: its circle is concentric with the projected edge.
    result = rebuild(content.plan())
    top = result.renewed["k2"]
    edge = top.get("j1.1")
    assert edge.radius == pytest.approx(6.0)
    ring, c = draw.add_circle(top, Spot(4, 0, edge.center), 9.0)
    made = (Dimension(id="d1", kind="distance", of=("j1.1", c), text="3", rim=(-1, 1)),)
    ring = msgspec.structs.replace(ring, dimensions=made)
    content = edits.set_sketch(content, ring)
    content = edits.change_step(content, "s2", regions=(c,))
    result = rebuild(content.plan())
    assert result.reports[1].state == "done", result.reports[1].message
    assert result.reports[1].volume == pytest.approx(
        40 * 30 * 10 - math.pi * 360 + math.pi * (81 - 36) * 2 + math.pi * 36 * 2, rel=1e-9
    )
    wider = edits.set_sketch(content, typed("rect 40 x 30", "circle Ø16 at 4,0"))
    result = rebuild(settle(wider).content.plan())
    assert result.renewed["k2"].get(c).radius == pytest.approx(11.0), "the ring follows the bore it was taken from"
    again = edits.set_sketch(wider, result.renewed["k2"])
    assert "k2" not in rebuild(again.plan()).renewed, "once stored it is at rest"


def test_a_plane_cuts_a_bore_in_two_lines():
    content = bored()
    content = edits.set_steps(content, [content.step("s1"), content.step("s3")])
    side = rebuild(content.plan()).renewed["k3"]
    cuts = [e for e in side.entities if isinstance(e, Line) and e.id.startswith("j1")]
    places = sorted({round(side.points()[p].y, 6) for line in cuts for p in (line.a, line.b)})
    assert places == [-2.0, 10.0], "Ø12 at 4"
    assert [e for e in side.entities if e.id.startswith("j2.")], "the end face shows its outline"


def test_what_is_gone_is_told_in_words():
    content = bored()
    lost = msgspec.structs.replace(
        content.sketch("k2"),
        projected=(Projected(id="j1", mode="edge", a="s1/c7/side", b="s1/end", was="the rim of the bore"),),
    )
    result = rebuild(edits.set_sketch(content, lost).plan())
    assert result.reports[1].state == "failed"
    assert "the rim of the bore" in result.reports[1].message


def test_a_point_pierced_by_another_sketch_follows_it():
    path = typed("line 0,10 30,20", sketch=Sketch(id="k1", name="path", plane=Plane("side")))
    cross = Sketch(id="k2", name="cross", plane=Plane("end", offset="15"))
    cross, p = draw.add_point(cross, Spot(9, 1))
    cross = msgspec.structs.replace(cross, relations=(Relation("r1", "pierce", (p, "k1/l1")),))
    content = settle(Content(sketches=(path, cross))).content
    assert (content.sketch("k2").points()[p].x, content.sketch("k2").points()[p].y) == pytest.approx((15, 0))
    moved = settle(
        edits.set_sketch(content, msgspec.structs.replace(content.sketch("k2"), plane=Plane("end", offset="24")))
    )
    assert moved.content.sketch("k2").points()[p].x == pytest.approx(18)
    beyond = settle(
        edits.set_sketch(content, msgspec.structs.replace(content.sketch("k2"), plane=Plane("end", offset="40")))
    )
    assert "no longer comes through" in beyond.problems["k2"]


def test_ellipses_are_projected_from_leaning_circles():
    sketch = typed("circle Ø20 at 0,0")
    lean = Sketch(
        id="k2",
        name="lean",
        plane=Plane("side", angle="0"),
        projected=(Projected(id="j1", mode="edge", a="s1/c1/side", b="s1/end"),),
    )
    content = Content(sketches=(sketch, lean))
    content = edits.add_step(
        content, Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="10", direction="forward")
    )
    content = edits.add_step(content, Extrude(id="s2", sketch="k2", mode="cut", regions=("x",)))
    renewed = rebuild(content.plan()).renewed["k2"]
    line = renewed.get("j1.1")
    assert isinstance(line, Line), "edge-on a circle is a line"
    assert not any(isinstance(e, Ellipse) for e in renewed.entities)
    ends = sorted(renewed.points()[i].y for i in (line.a, line.b))
    assert ends == pytest.approx([-10, 10], abs=1e-6)


# --- pieces of one face
def pockets(first, second, *more):
    """A block with two pockets from one sketch: both floors are the end of the same step."""
    base = typed("rect 120 x 30")
    cut = typed(*(f"rect {x - 5},-5 {x + 5},5" for x in (first, second)))
    cut = msgspec.structs.replace(cut, id="k2", plane=Plane("end", offset="10"))
    content = Content(sketches=(base, cut))
    for step in (
        Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="10", direction="forward"),
        Extrude(id="s2", sketch="k2", mode="cut", extent="depth", depth="4", direction="backward"),
        *more,
    ):
        content = edits.add_step(content, step)
    result = rebuild(content.plan())
    assert all(r.state == "done" for r in result.reports), result.reports
    return result.body


def middle(body, reference):
    (index,) = body.find(reference)
    return round(measure_face(body.face(index)).center[0], 6)


def test_a_piece_of_a_face_is_told_by_what_it_borders_on_so_that_twins_may_change_places():
    body = pockets(-30, 0)
    left, right = (body.name_of(i) for i in body.find("s2/start"))
    assert (middle(body, left), middle(body, right)) == (-30, 0)
    assert "~s2/" in left and "~s2/" in right and body.find(f"{bare(left)}~1") == body.find(left)
    moved = pockets(30, 0)  # the first pocket has passed its twin
    assert (middle(moved, left), middle(moved, right)) == (30, 0)
    # A fillet that comes between the floor and its walls changes nothing of that.
    edges = tuple(EdgeRef(left, f"s2/{line}/side") for line in ("l1", "l2", "l3", "l4"))
    rounded = pockets(30, 0, Fillet(id="s3", edges=edges, radius="1"))
    assert (middle(rounded, left), middle(rounded, right)) == (30, 0)
    assert renamed(left, [("s2/", "s9/1/s2/")]) == f"s9/1/{bare(left)}~s9/1/{piece_of(left)}"
    with pytest.raises(LostReference):
        moved.find("s2/start~s2/l99/side")
