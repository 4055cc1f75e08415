"""Views against hidden lines found another way, and cuts, details and broken views against plain geometry."""

from __future__ import annotations

import itertools
import math

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_PolyAlgo, HLRBRep_PolyHLRToShape
from OCP.TopoDS import TopoDS
from scipy.spatial import cKDTree

from lathed_solid.core.drafting.looking import eye_of
from lathed_solid.core.drafting.sheet.adding import aligned_through, bent_about, cut_of
from lathed_solid.core.drafting.sheet.changing import add_view, set_view
from lathed_solid.core.drafting.sheet.model import Break, Cut, Detail, Level, Sheet, SheetView
from lathed_solid.core.drafting.sheet.placing import GAP, Placing
from lathed_solid.core.drafting.sheet.planes import planes
from lathed_solid.core.drafting.sheet.scene import Path
from lathed_solid.core.drafting.sheet.seen import SeenView
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.views import built_for_drawing, seen
from lathed_solid.core.job import sheeting
from lathed_solid.core.kernel.draw.doubles import singled
from lathed_solid.core.kernel.draw.strokes import Stroke
from lathed_solid.core.kernel.ground.geometry import WORLD
from lathed_solid.core.kernel.ground.placing import axes_of
from lathed_solid.core.kernel.ground.topology import EDGE, subshapes
from lathed_solid.core.kernel.measure.curves import places_on
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.rebuild import Cache
from tests.core.strangers.bench import Bench

KEYS = {"front": "F", "top": "T", "right": "R"}


def _by_triangles(shape, eye):
    """Places along the visible lines as the kernel finds them on triangles: another algorithm altogether."""
    BRepMesh_IncrementalMesh(shape, 0.01, False, 0.1)
    algorithm = HLRBRep_PolyAlgo()
    algorithm.Load(shape)
    algorithm.Projector(HLRAlgo_Projector(axes_of(eye)))
    algorithm.Update()
    found = HLRBRep_PolyHLRToShape()
    found.Update(algorithm)
    lines = []
    for compound in (found.VCompound(), found.OutLineVCompound()):
        if compound is None or compound.IsNull():
            continue
        BRepLib.BuildCurves3d_s(compound)
        for edge in subshapes(compound, EDGE):
            a, b = (p[:2] for p in places_on(TopoDS.Edge(edge), 2))
            count = max(2, math.ceil(math.dist(a, b) / 0.1))
            lines += [np.array(a) + (np.array(b) - np.array(a)) * k / count for k in range(count + 1)]
    return np.array(lines)


def _along(strokes):
    found = []
    for s in strokes:
        points = [s.arc.at(k / 200) for k in range(201)] if s.arc is not None else list(s.points)
        for a, b in itertools.pairwise(points):
            count = max(1, math.ceil(math.dist(a, b) / 0.05))
            found += [(a[0] + (b[0] - a[0]) * k / count, a[1] + (b[1] - a[1]) * k / count) for k in range(count + 1)]
    return np.array(found)


@pytest.mark.parametrize("k", [1, 2, 3, 4, 5, 7])  # SKP-06 too, which takes a minute: its groove is a helix
def test_no_edge_is_missing_that_triangles_show(laid, k):
    """At 1:1 no place of a visible line found on triangles lies farther than 0.3 mm from one of ours."""
    made = laid(k)
    content, result = built_for_drawing(made.content, made.cache, made.store)
    views = tuple(SheetView(id=w, way=w) for w in KEYS)
    shown = seen(made.content, Sheet(id="a", views=views), made.cache, made.store)
    for way, key in KEYS.items():
        eye = eye_of(key, "x" if content.turned else "z")
        there = _by_triangles(result.body.shape, eye)
        ours = _along([s for s in shown.views[way].strokes if s.visible])
        away, _ = cKDTree(ours).query(there)
        assert (away > 0.3).sum() == 0, f"{way}: {there[away > 0.3][:5]}"


def test_every_line_belongs_to_faces_it_lies_on(laid):
    for view in laid(3).seen.views.values():
        assert all(s.faces for s in view.strokes)


def test_the_areas_a_cut_lays_open_are_those_of_the_section(laid):
    """SKP-03 cut across its pocket: outline less pocket, counterbore and holes, worked out by hand (inch)."""
    made = laid(3)
    inch = 25.4
    level = 2.375 * inch  # through the middle of the pocket and the slot
    view = SheetView(id="s", way="front", cut=Cut(levels=(Level(at="-2.375"),)))
    shown = seen(made.content, Sheet(id="a", views=(view,)), made.cache, made.store).views["s"]
    assert shown.lost == "" and level > 0
    area = sum(_area(a.loops) for a in shown.areas)
    whole = 7.5 * 0.625 - 3.125 * 0.28 - (1.25 + 0.3125) * 0.625  # the slot's ends are round, its middle is cut
    assert area == pytest.approx(whole * inch**2, rel=1e-4)
    assert all(s.kind != "cut" or s.visible for s in shown.strokes)


@pytest.mark.parametrize(("turn", "removed"), [("30", 18 * 13), ("60", 10 * 5.4 + 5.5 * 7.6), ("#13/6", 18 * 13)])
def test_an_aligned_section_lays_open_what_lies_at_an_angle(laid, turn, removed):
    """SKP-02, its lower half 30° on through a Ø18, 60° on through a counterbored Ø5.5; upright through one of those and
    the M5, worked out by hand. Two halves are one solid, and no line stands where they meet.
    """
    made = laid(2)
    content = made.content
    plain = SheetView(id="p", way="back", cut=Cut())
    bent = SheetView(id="a", way="back", cut=Cut(kind="aligned", turn=turn))
    shown = seen(content, Sheet(id="a", views=(plain, bent)), made.cache, made.store).views
    areas = {k: sum(_area(a.loops) for a in v.areas) for k, v in shown.items()}
    upright = 10 * 5.4 + 5.5 * 7.6 + 4.2 * 11
    assert areas["p"] - areas["a"] == pytest.approx(removed - upright, abs=1e-6)
    assert {a.solid for a in shown["a"].areas} == {0}
    straight = [s for s in shown["a"].strokes if s.is_straight and s.length > 0.1]
    middle = [s for s in straight if all(abs(p[1]) < 1e-6 for p in s.points)]
    assert middle == [], "no line stands where the halves meet"
    lines = {round(c.a[1], 3) for c in shown["a"].centres}
    assert (-33.0 in lines) is (removed == 18 * 13) and (-49.0 in lines) is (removed != 18 * 13)


def test_the_plane_of_an_aligned_section_has_two_arms_and_needs_both_halves(laid):
    made = laid(2)
    end = next(v for v in made.sheet.views if v.way in ("left", "right") and v.cut is None)
    place = (33 * math.cos(math.radians(-30)), 33 * math.sin(math.radians(-30)))
    wanted = aligned_through(end, place, made.seen, 1.0)
    assert (wanted.cut.kind, wanted.cut.turn, wanted.cut.below) == ("aligned", "60", True)
    sheet, name = add_view(made.sheet, msgspec.structs.replace(wanted, at=(60.0, 150.0)))
    content = sheeting.with_sheet(made.content, sheet)
    sheet = content.drawing_sheet("d1")
    assert sheet.view(name).letter == "A"
    composed = drawn_sheet(content, "d1", seen(content, sheet, made.cache, made.store), None, (), 1)
    (arms,) = [
        m.points for m in composed.scene.marks if isinstance(m, Path) and m.pen == "plane" and len(m.points) == 3
    ]
    ways = [math.degrees(math.atan2(p[1] - arms[1][1], p[0] - arms[1][0])) for p in (arms[0], arms[2])]
    assert sorted(ways) == pytest.approx([-30.0, 90.0])
    assert [w.text for w in composed.scene.texts()].count("A") == 3, "and the revision"
    # Across the axis nothing is as far apart as it is drawn there: such a length is not written by it, along it is.
    both = [msgspec.structs.replace(e, view=name, side="") if e.number in (6, 15) else e for e in sheet.labels]
    by_it = msgspec.structs.replace(sheet, labels=tuple(both))
    content = sheeting.with_sheet(content, by_it)
    composed = drawn_sheet(content, "d1", seen(content, by_it, made.cache, made.store), None, (), 1)
    assert composed.unseen == (15,)
    with pytest.raises(Refusal, match="plain section"):
        aligned_through(end, (0.0, 20.0), made.seen, 1.0)
    inch = laid(3)  # zero on its upper face: nothing lies above it
    lost = SheetView(id="a", way="front", cut=Cut(kind="aligned", turn="20"))
    told = seen(inch.content, Sheet(id="a", views=(lost,)), inch.cache, inch.store).views["a"].lost
    assert "one side of the section's axis" in told


@pytest.mark.parametrize(("angle", "right"), [(50.0, True), (160.0, False), (-75.0, True)])
def test_a_milled_part_is_bent_about_its_largest_hole(angle, right):
    """A plate seen from above, zero at a corner: a Ø12 at 30,25 and a Ø6 20 off it. Each arm runs from the axis to the
    plate's edge; half of the large hole lies on each, all of the small one on its own.
    """
    b = Bench("80", "60", "10", "Ø12 THRU", "Ø6 THRU")
    block = b.block("rect 0,0 #1,#2", depth="#3")
    axis, way = (30.0, 25.0), (math.cos(math.radians(angle)), math.sin(math.radians(angle)))
    hole = axis[0] + 20 * way[0], axis[1] + 20 * way[1]
    b.hole(f"{block}/end", diameter="#4", x="30", y="25")
    b.hole(f"{block}/end", diameter="#5", x=f"{hole[0]:.9f}", y=f"{hole[1]:.9f}")
    above = SheetView(id="top", way="top", at=(100.0, 200.0))
    shown = seen(b.content, Sheet(id="a", size="A2", views=(above,)), Cache(), None)
    section = aligned_through(above, hole, shown, 1.0)
    sheet, name = add_view(
        Sheet(id="a", size="A2", views=(above,)), msgspec.structs.replace(section, at=(300.0, 200.0))
    )
    shown = seen(b.content, sheet, Cache(), None)
    view = shown.views[name]
    assert view.lost == "" and section.cut.upright
    long = min((((80 if way[0] > 0 else 0) - 30) / way[0]), ((60 if way[1] > 0 else 0) - 25) / way[1])
    other = 25.0 if way[1] > 0 else 35.0  # the arm that is drawn, away from the small hole
    wanted = 10 * (long - 6 - 6) + 10 * (other - 6)
    assert sum(_area(a.loops) for a in view.areas) == pytest.approx(wanted, rel=1e-9)
    assert {a.solid for a in view.areas} == {0}
    xs = sorted({round(c.a[0], 3) for c in view.centres if abs(c.a[0] - c.b[0]) < 1e-6})
    assert xs and max(xs) - min(xs) == pytest.approx(20.0), "both holes stand in the plane"
    (arms,) = [
        m.points
        for m in planes(sheet, above, Placing(sheet, above, shown.views["top"]), shown)
        if isinstance(m, Path) and len(m.points) == 3
    ]
    assert arms[1] == pytest.approx((100.0 + axis[0], 200.0 + axis[1]))
    turned = [math.degrees(math.atan2(p[1] - arms[1][1], p[0] - arms[1][0])) for p in (arms[0], arms[2])]
    assert any(abs(t - angle) < 1e-6 for t in turned) and any(abs(abs(t) - 90) < 1e-6 for t in turned)
    # The same about the small hole, as a hand puts it: through the edge alone.
    about = bent_about(section.cut, section, above, hole, shown, 1.0)
    moved = set_view(sheet, name, cut=about)
    assert seen(b.content, moved, Cache(), None).views[name].pivot.origin[:2] == pytest.approx(hole, abs=1e-6)


def _area(loops):
    """Of one area: its outer loop less its holes."""
    each = []
    for loop in loops:
        x, y = np.array(loop).T
        each.append(abs(float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())) / 2)
    return 2 * max(each) - sum(each)


@given(st.lists(st.tuples(st.floats(-50, 50), st.floats(0.1, 30)), min_size=1, max_size=8), st.floats(0, math.pi))
def test_lines_on_one_carrier_are_drawn_once(spans, turn):
    """Overlapping straight lines come out as long as what they cover together."""
    u, v = math.cos(turn), math.sin(turn)
    strokes = [
        Stroke("sharp", n % 2 == 0, ((a * u, a * v), ((a + b) * u, (a + b) * v))) for n, (a, b) in enumerate(spans)
    ]
    kept = singled(strokes)
    covered, end = 0.0, -1e9
    for a, b in sorted((a, a + b) for a, b in spans):
        covered += max(0.0, b - max(a, end))
        end = max(end, b)
    assert sum(s.length for s in kept) == pytest.approx(covered, abs=0.02 * len(spans))


def test_a_long_part_is_broken_and_a_detail_shows_a_circle():
    line = Stroke("sharp", True, ((0.0, 0.0), (200.0, 0.0)))
    view = SheetView(id="v", at=(10.0, 50.0), breaks=(Break(low=40.0, high=160.0),))
    sheet = Sheet(id="s", views=(view,))
    placing = Placing(sheet, view, SeenView(WORLD, (line,)))
    assert [tuple(round(x, 6) for p in run for x in p) for run in placing.shown(line.points)] == [
        (10.0, 50.0, 50.0, 50.0),
        (50.0 + GAP, 50.0, 90.0 + GAP, 50.0),
    ]
    detail = SheetView(id="d", at=(100.0, 100.0), scale="5:1", detail=Detail(of="w", middle=(20.0, 0.0), radius=3.0))
    whole = SheetView(id="w")
    placing = Placing(Sheet(id="s", views=(whole, detail)), detail, SeenView(WORLD, (line,)))
    (run,) = placing.shown(line.points)
    assert run[0] == pytest.approx((85.0, 100.0)) and run[-1] == pytest.approx((115.0, 100.0))
    assert placing.back((115.0, 100.0)) == pytest.approx((23.0, 0.0))


def test_a_section_that_leaves_several_pieces_is_drawn():
    """A tee slot cut along its middle: what is left of the part falls apart, and is drawn all the same."""
    from tests.core.strangers.milled import tee_slot

    bench, _ = tee_slot()
    first = Sheet(id="a", views=(SheetView(id="v", way="front"),))
    shown = seen(bench.content, first)
    views = tuple(
        SheetView(id=w, way=w, cut=cut_of(SheetView(id="v", way=w), "full", _as(shown, w), 1.0))  # type: ignore[arg-type]
        for w in ("front", "top", "right")
    )
    cut = seen(bench.content, Sheet(id="b", views=views))
    assert all(v.lost == "" and v.areas for v in cut.views.values())
    assert len(cut.views["front"].areas) > 1
    beside = SheetView(id="c", way="front", cut=Cut(levels=(Level(at="-9999"),)))
    words = seen(bench.content, Sheet(id="c", views=(beside,))).views["c"].lost
    assert "nothing is left to be drawn" in words


def _as(shown, way):
    """The same part as another side shows it, as far as a cut asks."""
    eye = eye_of(KEYS[way], "z")
    return msgspec.structs.replace(shown, views={"v": msgspec.structs.replace(shown.views["v"], eye=eye)})
