"""Trim, extend, split, corners, offsets, mirrors, copies and repeats: what is left closes, holds and moves as linked."""

import itertools
import math

import msgspec
import pytest

from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.edit import copying, corner, offset, repeating, trim
from lathed_solid.core.sketch.make import draw, rounds
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.make.shapes import related
from lathed_solid.core.sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.typed.commands import read_command

from .drawn import END, LEDGER, typed, ways


def areas(sketch):
    found = find_regions(sketch)
    assert found.problem(sketch) == ""
    return sorted(r.outer.area - sum(abs(h.area) for h in r.holes) for r in found.regions)


def resized(sketch, text, *, of=None, kind=None):
    """The sketch with one size changed and solved again."""
    d = next(d for d in sketch.dimensions if (of is None or d.of == of) and (kind is None or d.kind == kind))
    changed = tuple(msgspec.structs.replace(x, text=text) if x.id == d.id else x for x in sketch.dimensions)
    return settle_sketch(msgspec.structs.replace(sketch, dimensions=changed), LEDGER)


# --- trim, extend, split
def cross():
    sketch, a = draw.add_line(END, Spot(0, 0), Spot(40, 0))
    sketch, b = draw.add_line(sketch, Spot(10, -10), Spot(10, 10))
    sketch, c = draw.add_line(sketch, Spot(30, -10), Spot(30, 10))
    return sketch, a, b, c


def test_trimming_takes_the_piece_under_the_cursor():
    sketch, a, b, _c = cross()
    points = trim.trim(sketch, a, (5, 0)).points()
    line = trim.trim(sketch, a, (5, 0)).get(a)
    assert points[line.a].x == pytest.approx(10)
    assert points[line.b].x == 40
    middle = trim.trim(sketch, a, (20, 0))
    assert len(list(middle.curves())) == 4
    assert any(r.kind == "collinear" for r in middle.relations)
    alone = trim.trim(trim.trim(sketch, b, (10, 5)), b, (10, -5))
    assert b not in {e.id for e in alone.entities}, "what nothing crosses any more goes altogether"


def test_a_trimmed_end_stays_on_what_cut_it():
    sketch, a, _b, c = cross()
    sketch = trim.trim(sketch, a, (35, 0))
    end = sketch.get(a).b
    assert any(r.kind == "on" and r.of == (end, c) for r in sketch.relations)
    assert settle_sketch(sketch, LEDGER).points()[end].x == pytest.approx(30)


def test_a_circle_trimmed_becomes_an_arc_of_the_same_name_and_size():
    sketch, c = draw.add_circle(END, Spot(0, 0), 10)
    sketch, _ = draw.add_line(sketch, Spot(-15, 0), Spot(15, 0))
    half = trim.trim(sketch, c, (0, 5))
    arc = half.get(c)
    assert isinstance(arc, Arc)
    start = half.points()[arc.a]
    assert (start.x, start.y) == pytest.approx((-10, 0), abs=1e-9), "the lower half is left"
    lone, d = draw.add_circle(END, Spot(0, 0), 10)
    lone, _ = draw.add_line(lone, Spot(0, 0), Spot(15, 3))
    with pytest.raises(SketchError, match="crossed twice"):
        trim.trim(lone, d, (0, 10))


def test_a_stroke_across_trims_all_it_crosses():
    sketch, a, b, c = cross()
    less = trim.trim_across(sketch, [(5, -5), (5, 5)])
    assert less.points()[less.get(a).a].x == pytest.approx(10)
    both = trim.trim_across(sketch, [(5, 6), (35, 6)])
    assert {both.points()[both.get(i).b].y for i in (b, c)} == {0}


def test_extending_goes_to_the_next_curve():
    sketch, a = draw.add_line(END, Spot(0, 0), Spot(10, 2))
    sketch, _b = draw.add_line(sketch, Spot(20, -10), Spot(20, 10))
    longer = trim.extend(sketch, a, (9, 2))
    assert longer.points()[longer.get(a).b].x == pytest.approx(20)
    with pytest.raises(SketchError, match="nothing ahead"):
        trim.extend(sketch, a, (1, 0))
    arc, q = draw.add_arc(END, Spot(10, 0), Spot(0, 10), Spot(7.0710678, 7.0710678))
    arc, _ = draw.add_line(arc, Spot(-20, -3), Spot(20, -3))
    longer = trim.extend(arc, q, (10, 0.5))
    assert longer.points()[longer.get(q).a].y == pytest.approx(-3)


def test_splitting_keeps_the_shape():
    sketch = typed("rect 40 x 20")
    line = next(c for c in sketch.curves() if not c.construction)
    two = trim.split(sketch, line.id, (3, -10))
    assert areas(two) == pytest.approx(areas(sketch))
    assert len(find_regions(two).regions[0].outer.curves) == 5
    circle, c = draw.add_circle(END, Spot(5, 5), 4)
    halves = trim.split(circle, c, (9, 5))
    assert areas(halves)[0] == pytest.approx(areas(circle)[0], rel=1e-2)


# --- corners
def test_a_rounded_corner_leaves_the_stated_lengths_alone():
    sketch = typed("rect 40 x 20")
    point = next(p for p in sketch.points().values() if p.x > 0 and p.y > 0)
    sketch, _arc = corner.round_corner(sketch, (point.id,), "5", 5.0)
    sketch = settle_sketch(sketch, LEDGER)
    assert ways(sketch) == 0
    assert areas(sketch)[0] == pytest.approx(800 - (1 - math.pi / 4) * 25, rel=2e-3)
    wider = resized(sketch, "60", of=sketch.dimensions[0].of)
    assert ways(wider) == 0
    assert areas(wider)[0] == pytest.approx(1200 - (1 - math.pi / 4) * 25, rel=2e-3)
    with pytest.raises(SketchError, match="does not fit"):
        corner.round_corner(sketch, (next(p.id for p in sketch.points().values() if p.x < 0 and p.y < 0),), "50", 50.0)


def test_a_corner_between_line_and_arc_is_rounded():
    sketch, a = draw.add_line(END, Spot(-20, 0), Spot(0, 0))
    end = sketch.get(a).b
    sketch, b = draw.add_arc(sketch, Spot(0, 0, end), Spot(10, 10), Spot(2.9289, 7.0711))
    sketch, _arc = corner.round_corner(sketch, (a, b), "1", 1.0)
    sketch = settle_sketch(sketch, LEDGER)
    assert len([r for r in sketch.relations if r.kind == "tangent"]) == 2


def test_a_chamfer_is_leg_by_angle():
    sketch = typed("rect 40 x 20")
    point = next(p for p in sketch.points().values() if p.x > 0 and p.y > 0)
    sketch, _line = corner.break_corner(sketch, (point.id,), "4", 4.0, "45°", math.pi / 4)
    sketch = settle_sketch(sketch, LEDGER)
    assert ways(sketch) == 0
    assert areas(sketch)[0] == pytest.approx(792)
    assert areas(resized(sketch, "6", of=sketch.dimensions[-2].of))[0] == pytest.approx(782)
    with pytest.raises(SketchError, match="longer than"):
        corner.break_corner(
            sketch, (next(p.id for p in sketch.points().values() if p.x < 0 and p.y < 0),), "50", 50.0, "45°", 0.785
        )


def test_a_rounded_corner_leaves_mirrored_lines_mirrored():
    """FOUND A8: one corner of a symmetric pair is rounded; nothing else moves."""
    sketch = typed("cl 14,0 14,4", "line 13,2 15,2 16,3.6 12,3.6 close")
    sketch = settle_sketch(related(sketch, "symmetric", "l3", "l5", "l1"), LEDGER)
    rounded = settle_sketch(read_command("fillet 0.3 of l2 l5", LEDGER, False, sketch).draw(sketch), LEDGER)
    far = {i: (rounded.points()[i].x, rounded.points()[i].y) for i in (rounded.get("l4").a, rounded.get("l4").b)}
    assert sorted(far.values()) == [pytest.approx((12, 3.6)), pytest.approx((16, 3.6))]
    both = settle_sketch(read_command("fillet 0.3 of l2 l3", LEDGER, False, rounded).draw(rounded), LEDGER)
    assert areas(both)[0] == pytest.approx(4.8 - 2 * 0.00434, rel=1e-3)
    assert ways(both) == ways(sketch)


# --- offsets
def test_an_offset_can_be_trimmed_and_its_source_split():
    """FOUND A7, A9: what is cut off an offset leaves its source alone, and a split stays where it was made."""
    sketch = typed("line 0,0 40,0", "line 30,-10 30,20", "offset 5 of l1", "trim l3 at 35,5")
    points = sketch.points()
    assert [(points[sketch.get(i).b].x, points[sketch.get(i).b].y) for i in ("l1", "l2", "l3")] == [
        pytest.approx(p) for p in ((40, 0), (30, 20), (30, 5))
    ]
    again = settle_sketch(resized(sketch, "8", of=("l1", "l3")), LEDGER)
    assert again.points()[again.get("l3").b].y == pytest.approx(8) and again.points()[
        again.get("l3").b
    ].x == pytest.approx(30)
    split = typed("circle Ø20 at 0,0", "offset 3 of c1", "split c1 at 6,8")
    (arc, *_) = [c for c in split.curves() if isinstance(c, Arc)]
    assert (split.points()[arc.a].x, split.points()[arc.a].y) == pytest.approx((6, 8))


def test_one_value_drives_an_offset_of_lines_and_arcs():
    sketch = typed("slot 8 x 32")
    ids = tuple(c.id for c in sketch.curves() if not c.construction)
    sketch, made = offset.offset(sketch, ids, "3", 3.0)
    sketch = settle_sketch(sketch, LEDGER)
    assert ways(sketch) == 0
    inner, outer = 32 * 8 + math.pi * 16, 32 * 14 + math.pi * 49
    assert areas(sketch)[0] == pytest.approx(outer - inner, rel=2e-3)
    assert len(made) == 4
    wide = resized(sketch, "5", kind="offset")
    assert areas(wide)[0] == pytest.approx(32 * 18 + math.pi * 81 - inner, rel=2e-3)
    longer = resized(wide, "40", of=sketch.dimensions[0].of)
    assert areas(longer)[0] == pytest.approx(40 * 18 + math.pi * 81 - 40 * 8 - math.pi * 16, rel=2e-3)


def test_signed_offsets_of_corners_circles_and_open_chains():
    sketch = typed("rect 40 x 20")
    ids = tuple(c.id for c in sketch.curves() if not c.construction)
    smaller = settle_sketch(offset.offset(sketch, ids, "-3", -3.0)[0], LEDGER)
    assert ways(smaller) == 0
    assert areas(smaller)[0] == pytest.approx(800 - 34 * 14)
    with pytest.raises(SketchError, match="nothing is left"):
        offset.offset(sketch, ids, "-11", -11.0)
    circle, c = draw.add_circle(END, Spot(0, 0, ORIGIN), 10)
    ring = settle_sketch(offset.offset(circle, (c,), "2", 2.0)[0], LEDGER)
    assert sorted(e.radius for e in ring.entities if isinstance(e, Circle)) == [10, 12]
    opened = typed("line 0,0 40,0 40,30")
    lines = tuple(c.id for c in opened.curves())
    beside = settle_sketch(offset.offset(opened, lines, "2", 2.0)[0], LEDGER)
    assert any((p.x, p.y) == pytest.approx((38, 2)) for p in beside.points().values()), "left of the way drawn"
    both, _ = offset.offset(beside, lines, "2", -2.0)
    both = settle_sketch(offset.under_one_value(both, both.dimensions[-1].id), LEDGER)
    assert len([d for d in both.dimensions if d.kind == "offset"]) == 1, "one value for several offsets"
    assert any((p.x, p.y) == pytest.approx((42, -2)) for p in both.points().values())
    both = resized(both, "3", kind="offset")
    assert {(round(p.x), round(p.y)) for p in both.points().values()} >= {(37, 3), (43, -3)}


# --- copies
def half_profile():
    """The right half of a link: open on the cross axis."""
    return typed("line 0,10 20,10 25,5 25,0 0,0")


def test_a_linked_mirror_closes_and_follows():
    sketch = half_profile()
    ids = tuple(c.id for c in sketch.curves())
    sketch, new = copying.mirror(sketch, ids, ACROSS, linked=True)
    sketch = settle_sketch(sketch, LEDGER)
    before = ways(half_profile())
    assert ways(sketch) == before, "an image brings no freedom of its own"
    assert areas(sketch)[0] == pytest.approx(2 * (25 * 10 - 12.5))
    point = next(p for p in sketch.points().values() if (p.x, p.y) == (20, 10))
    entities = tuple(msgspec.structs.replace(e, x=15.0) if e.id == point.id else e for e in sketch.entities)
    moved = settle_sketch(msgspec.structs.replace(sketch, entities=entities), LEDGER)
    image = moved.points()[new[point.id]]
    assert image.x == pytest.approx(-moved.points()[point.id].x)


def test_mirrored_arcs_stay_images_without_repeating_themselves():
    sketch, a = draw.add_line(END, Spot(0, 0), Spot(20, 3))
    sketch, b = rounds.add_tangent_arc(sketch, Spot(20, 3, sketch.get(a).b), Spot(24, 10))
    sketch, axis = draw.add_line(sketch, Spot(0, -5), Spot(0, 30), construction=True)
    free = ways(sketch)
    sketch, new = copying.mirror(sketch, (a, b), axis, linked=True)
    sketch = settle_sketch(sketch, LEDGER)
    # The shared point is held on the axis.
    assert ways(sketch) == free - 1
    mine, image = sketch.get(b), sketch.get(new[b])
    assert (image.a, image.b) == (new[mine.b], new[mine.a]), "the image runs the other way round"


def test_a_free_copy_keeps_its_relations_and_no_sizes():
    sketch = typed("rect 40 x 20 at 5,5")
    ids = tuple(c.id for c in sketch.curves())
    copied, new = copying.copied(sketch, ids, copying.shift(100, 0), turns=False)
    assert ways(settle_sketch(copied, LEDGER)) == 4
    assert len(copied.dimensions) == len(sketch.dimensions)
    turned, new = copying.copied(sketch, ids, copying.turned((0, 0), 0.3), turns=True)
    assert not any(r.kind == "horizontal" and r.of[0] in new.values() for r in turned.relations)
    larger, _ = copying.copied(sketch, ids, copying.scaled((0, 0), 2), turns=False)
    assert max(p.x for p in larger.points().values()) == pytest.approx(50)


def test_moving_tells_what_holds():
    sketch = typed("rect 40 x 20 at 5,5")
    ids = tuple(e.id for e in sketch.entities)
    held = copying.ties(sketch, ids)
    assert {d.kind for d in sketch.dimensions if d.id in held} == {"along", "across"}
    moved = copying.moved(sketch, ids, copying.shift(3, 0))
    assert max(p.x for p in moved.points().values()) == pytest.approx(28)


# --- repeats
def test_a_row_has_linked_count_and_pitch():
    sketch = typed("circle Ø6 at 10,5")
    circle = next(c.id for c in sketch.curves())
    sketch, _row = repeating.add_repeat(sketch, "row", (circle,), (("4", 4),), (("15", 15.0),), (ALONG,))
    sketch = settle_sketch(sketch, LEDGER)
    assert ways(sketch) == 0
    centres = sorted(round(sketch.points()[c.center].x, 6) for c in sketch.curves())
    assert centres == [10, 25, 40, 55]
    sketch = resized(sketch, "12", kind="pitch")
    assert max(sketch.points()[c.center].x for c in sketch.curves()) == pytest.approx(46)
    more = msgspec.structs.replace(sketch, repeats=(msgspec.structs.replace(sketch.repeats[0], count="3+3"),))
    more = settle_sketch(more, LEDGER)
    assert len(more.curves()) == 6
    assert ways(more) == 0
    fewer = msgspec.structs.replace(more, repeats=(msgspec.structs.replace(more.repeats[0], count="2"),))
    assert len(settle_sketch(fewer, LEDGER).curves()) == 2
    bigger = resized(more, "8", kind="diameter")
    assert {c.radius for c in bigger.curves()} == {4}


def test_a_grid_along_a_slanted_line_and_a_ring():
    sketch = typed("circle Ø2 at 0,0", "line 0,0 30,40")
    circle = next(c.id for c in sketch.curves() if isinstance(c, Circle))
    line = next(c.id for c in sketch.curves() if c.id != circle)
    grid, _ = repeating.add_repeat(
        sketch, "grid", (circle,), (("3", 3), ("2", 2)), (("5", 5.0), ("7", 7.0)), (line, ACROSS)
    )
    grid = settle_sketch(grid, LEDGER)
    places = {
        (round(grid.points()[c.center].x, 6), round(grid.points()[c.center].y, 6))
        for c in grid.curves()
        if isinstance(c, Circle)
    }
    assert places == {(0, 0), (3, 4), (6, 8), (0, 7), (3, 11), (6, 15)}
    ring, _ = repeating.add_repeat(typed("circle Ø2 at 20,0"), "ring", ("c1",), (("6", 6),), (), (ORIGIN,))
    ring = settle_sketch(ring, LEDGER)
    assert ways(ring) == 0
    angles = sorted(
        round(math.degrees(math.atan2(ring.points()[c.center].y, ring.points()[c.center].x))) % 360
        for c in ring.curves()
    )
    assert angles == [0, 60, 120, 180, 240, 300]
    part, _ = repeating.add_repeat(
        typed("circle Ø2 at 20,0"), "ring", ("c1",), (("3", 3),), (("25°", math.radians(25)),), (ORIGIN,)
    )
    part = resized(settle_sketch(part, LEDGER), "40°", kind="turn")
    assert max(
        math.degrees(math.atan2(part.points()[c.center].y, part.points()[c.center].x)) for c in part.curves()
    ) == pytest.approx(80)


def test_deleting_a_copy_deletes_the_repeat_and_dissolving_keeps_the_lines():
    sketch = typed("circle Ø6 at 10,5")
    sketch, row = repeating.add_repeat(sketch, "row", ("c1",), (("4", 4),), (("15", 15.0),))
    assert len(draw.delete(sketch, (f"{row}.2.0.c1",)).curves()) == 1
    loose = repeating.dissolve(sketch, row)
    assert len(loose.curves()) == 4
    assert not loose.repeats
    settle_sketch(loose, LEDGER)
    _again, other = repeating.add_repeat(loose, "row", ("c1",), (("2", 2),), (("5", 5.0),))
    assert other != row


def test_points_are_spaced_equally_and_stay_so():
    sketch = typed("line 0,0 40,0")
    sketch, ids = repeating.add_spaced_points(sketch, "l1", 3)
    free = ways(sketch)
    assert free == ways(typed("line 0,0 40,0"))
    end = sketch.get("l1").b
    entities = tuple(msgspec.structs.replace(e, x=80.0) if e.id == end else e for e in sketch.entities)
    sketch = settle_sketch(msgspec.structs.replace(sketch, entities=entities), LEDGER)
    xs = [sketch.points()[i].x for i in (sketch.get("l1").a, *ids, end)]
    steps = [b - a for a, b in itertools.pairwise(xs)]
    assert max(steps) - min(steps) < 1e-9
