"""The turned-profile table and closed regions."""

import pytest

from lathed_solid.core.quantity.expression import Plain
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.make import draw
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.model import Sketch, Station
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.solver.solve import solve
from lathed_solid.core.sketch.turned.profile import from_stations, station_for

EMPTY = Sketch(id="k1", name="profile")


def values(sketch):
    from lathed_solid.core.callout import Ledger
    from lathed_solid.core.route.settling import dimension_values

    return dimension_values(sketch, Ledger([]))


PROFILES = {
    "plain": [Station(id="a", to="50", diameter="20")],
    "stepped": [Station(id="a", to="20", diameter="12"), Station(id="b", length="30", diameter="30")],
    "edges": [
        Station(id="a", to="20", diameter="12", left="1 x 45°", right="R1.5"),
        Station(id="b", to="40", diameter="30", left="C0.5", right="2 x 30°"),
    ],
    "taper": [
        Station(id="a", to="30", diameter="30", diameter2="20", left="1 x 45°"),
        Station(id="b", to="50", diameter="20", right="0.5 x 45°"),
    ],
    "taper with edges": [Station(id="a", to="30", diameter="30", diameter2="20", left="1 x 45°", right="R2")],
    "groove": [
        Station(id="a", to="24", diameter="12", groove="2 x Ø10", left="R0.5", right="0.3 x 45°"),
        Station(id="b", to="60", diameter="24"),
    ],
    "groove at the end": [Station(id="a", to="24", diameter="12", groove="2 x 10")],
}


@pytest.mark.parametrize("name", PROFILES)
def test_tables_write_closed_pinned_sketches(name):
    sketch = from_stations(EMPTY, tuple(PROFILES[name]), Plain())
    v = values(sketch)
    solution = solve(sketch, v)
    assert solution.ok
    assert solution.worst < 1e-8
    assert freedom(sketch, v).ways == 0
    found = find_regions(sketch)
    assert found.problem(sketch) == ""
    assert len(found.regions) == 1


def test_profile_sizes_can_change_by_the_solver_too():
    sketch = from_stations(EMPTY, tuple(PROFILES["edges"]), Plain())
    v = values(sketch)
    grown = solve(sketch, v | {"a.diameter": 16.0, "b.to": 55.0, "a.right.radius": 2.0})
    assert grown.ok
    anew = from_stations(
        EMPTY,
        (
            Station(id="a", to="20", diameter="16", left="1 x 45°", right="R2"),
            Station(id="b", to="55", diameter="30", left="C0.5", right="2 x 30°"),
        ),
        Plain(),
    )
    for id_, p in anew.points().items():
        q = grown.sketch.points()[id_]
        assert (q.x, q.y) == pytest.approx((p.x, p.y), abs=1e-8), id_


WRONG = {
    "no rows": ([], "no rows yet"),
    "no diameter": ([Station(id="a", to="5")], "Row 1 has no diameter"),
    "no length": ([Station(id="a", diameter="5")], "neither a position nor a length"),
    "backwards": (
        [Station(id="a", to="5", diameter="5"), Station(id="b", to="3", diameter="6")],
        "Positions must rise",
    ),
    "zero": ([Station(id="a", to="5", diameter="0")], "must be above zero"),
    "negative": ([Station(id="a", length="-5", diameter="3")], "must be above zero"),
    "nonsense": ([Station(id="a", to="5", diameter="foo")], "Row 1, diameter"),
    "same twice": ([Station(id="a", to="5", diameter="5"), Station(id="b", to="9", diameter="5")], "Make them one row"),
    "big chamfer": ([Station(id="a", to="5", diameter="5", left="4 x 45°")], "do not fit"),
    "big radius": (
        [Station(id="a", to="5", diameter="5", right="R9"), Station(id="b", to="9", diameter="9")],
        "do not fit",
    ),
    "deep groove": ([Station(id="a", to="5", diameter="5", groove="2 x 6")], "does not fit inside"),
    "edge words": ([Station(id="a", to="5", diameter="5", left="big")], "typed as 1 x 45"),
}


@pytest.mark.parametrize("name", WRONG)
def test_wrong_tables_name_the_row(name):
    stations, words = WRONG[name]
    with pytest.raises(SketchError, match=words):
        from_stations(EMPTY, tuple(stations), Plain())


def test_sizes_changed_on_the_plate_go_back_to_the_table():
    stations = tuple(PROFILES["edges"])
    assert station_for(stations, "a.to", "25", Plain())[0].to == "25"
    assert station_for(stations, "a.left.leg", "2", Plain())[0].left == "2 x 45°"
    assert station_for(stations, "a.right.radius", "#4", Plain())[0].right == "R#4"
    assert station_for(tuple(PROFILES["groove"]), "a.width", "3", Plain())[0].groove == "3 x 10"
    with pytest.raises(SketchError):
        station_for(stations, "z.to", "1", Plain())


def test_open_ends_branches_and_crossings_are_pointed_out():
    sketch, _ = draw.add_line(EMPTY, Spot(0, 0), Spot(10, 0.5))
    last = sketch.get("l1").b
    sketch, _ = draw.add_line(sketch, Spot(10, 0.5, last), Spot(5, 8))
    sketch, _ = draw.add_line(sketch, Spot(5.0, 8.02), Spot(0.2, 0.1))
    found = find_regions(sketch)
    assert {round(g.size, 3) for g in found.gaps} == {0.02, round((0.2**2 + 0.1**2) ** 0.5, 3)}
    assert "open" in found.problem(sketch)
    bow, points = EMPTY, [(0, 0), (10, 10), (10, 0), (0, 9)]
    ids = []
    for a, b in zip(points, points[1:] + points[:1], strict=True):
        start = ids[-1] if ids else ""
        bow, line = draw.add_line(bow, Spot(*a, start), Spot(*b, bow.get("l1").a if b == points[0] else ""))
        ids.append(bow.get(line).b)
    crossed = find_regions(bow)
    assert crossed.problem(bow) == "" and crossed.divided and len(crossed.every()) == 2


def test_holes_belong_to_the_area_around_them():
    sketch = draw.add_rectangle(EMPTY, Spot(0, 0), Spot(40, 20))
    sketch, _ = draw.add_circle(sketch, Spot(10, 10), 3)
    sketch, _ = draw.add_circle(sketch, Spot(30, 10), 3)
    sketch, island = draw.add_circle(sketch, Spot(30, 10), 1)
    regions = find_regions(sketch).regions
    assert sorted(len(r.holes) for r in regions) == [0, 2]
    assert any(r.id == island for r in regions)
    grown, _ = draw.add_circle(sketch, Spot(80, 10), 3)
    assert {r.id for r in regions} < {r.id for r in find_regions(grown).regions}
