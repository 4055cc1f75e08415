"""Drawing by typing: what comes out is closed, sized as typed and fully pinned."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.callout import Callout, Ledger
from lathed_solid.core.quantity import ExpressionError
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.typed.commands import is_command, read_command

LEDGER = Ledger([Callout(number=1, note="46"), Callout(number=2, note="Ø20")])


def drawn(*texts, base="end", unit="mm"):
    sketch, ledger = Sketch(id="k1", name="t", plane=Plane(base)), LEDGER if unit == "mm" else Ledger([], unit)
    for text in texts:
        sketch = read_command(text, ledger, sketch.turned).draw(sketch)
    return settle_sketch(sketch, ledger), ledger


def area(sketch):
    (region,) = find_regions(sketch).regions
    return abs(region.outer.area)


#: Command, unit, enclosed area in the unit's square, ways left to move.
SHAPES = [
    ("rect 40 x 20 at 12,8", "mm", 800, 0), ("rect 40 x 20", "mm", 800, 0), ("rect #1 x #2/2 at -5,0", "mm", 460, 0),
    ("polygon 6 A/F 13 at 3,4", "mm", 13**2 * math.sqrt(3) / 2, 0), ("polygon 4 A/F 10", "mm", 100, 0),
    ("polygon 5 A/C 20 at 0,7", "mm", 2.5 * 100 * math.sin(math.radians(72)), 0),
    ("rect 7 1/2 x 4 3/4 at 3 3/4,2 3/8".replace("3 3/4,2 3/8", "3.75,2.375"), "in", 7.5 * 4.75, 0),
    ("line 0,0 40,0 40,20 0,20 close", "mm", 800, 2), ("line 0,0 40,0 @0,20 @-40,0 close", "mm", 800, 2),
    ("line 0,0 40<0 40<90 close", "mm", 800, 2), ("rect 0,0 40,20", "mm", 800, 2),
]  # fmt: skip


@pytest.mark.parametrize(("text", "unit", "wanted", "ways"), SHAPES, ids=[s[0] for s in SHAPES])
def test_shapes_are_closed_sized_and_pinned(text, unit, wanted, ways):
    sketch, ledger = drawn(text, unit=unit)
    scale = 25.4**2 if unit == "in" else 1.0
    assert find_regions(sketch).gaps == ()
    assert area(sketch) == pytest.approx(wanted * scale, rel=1e-9)
    values = dimension_values(sketch, ledger)
    assert freedom(sketch, values).ways == ways
    for d in sketch.dimensions:
        rest = Sketch(**{**{f: getattr(sketch, f) for f in sketch.__struct_fields__},
                         "dimensions": tuple(x for x in sketch.dimensions if x is not d)})  # fmt: skip
        assert judge(rest, values, d).kind == "fits", "no size is said twice"


def test_the_slot_of_the_base_plate():
    """SKP-03's slot: 5/16 wide, 1 1/4 between centres, at 5 3/4, 2 3/8."""
    sketch, ledger = drawn("slot 5/16 in x 1 1/4 at 5 3/4, 2 3/8", unit="in")
    exact = (0.3125 * 1.25 + math.pi * 0.3125**2 / 4) * 25.4**2
    assert area(sketch) == pytest.approx(exact, rel=2e-3)  # the region's outline is a fine polyline
    assert freedom(sketch, dimension_values(sketch, ledger)).ways == 0


def test_circles_by_diameter_and_radius_keep_their_text():
    sketch, _ = drawn("circle Ø#2 at 12,8", "circle R5 at -12,8")
    assert [(d.kind, d.text) for d in sketch.dimensions if d.kind in ("diameter", "radius")] == [
        ("diameter", "#2"), ("radius", "5"),
    ]  # fmt: skip
    assert [d.sense for d in sketch.dimensions if d.kind == "along"] == [1, -1]
    assert [round(c.radius, 9) for c in sketch.curves()] == [10, 5]


def test_in_a_turned_profile_the_second_number_is_a_diameter():
    sketch, _ = drawn("line 0,0 0,20 40,20 40,0", base="turning")
    assert max(p.y for p in sketch.points().values()) == 10


def test_a_changed_size_keeps_the_shape():
    import msgspec

    sketch, ledger = drawn("polygon 6 A/F 13")
    (size,) = sketch.dimensions
    wider = msgspec.structs.replace(sketch, dimensions=(msgspec.structs.replace(size, text="39"),))
    assert area(settle_sketch(wider, ledger)) == pytest.approx(9 * area(sketch), rel=1e-9)


@given(st.integers(3, 12), st.floats(1, 200), st.floats(-100, 100), st.floats(-100, 100))
def test_any_polygon_is_regular_and_pinned(sides, size, x, y):
    sketch, ledger = drawn(f"polygon {sides} A/C {size:.3f} at {x:.3f},{y:.3f}")
    regular = sides / 2 * (float(f"{size:.3f}") / 2) ** 2 * math.sin(2 * math.pi / sides)
    assert area(sketch) == pytest.approx(regular, rel=1e-6)
    assert freedom(sketch, dimension_values(sketch, ledger)).ways == 0


WRONG = {
    "line 0,0": (8, "needs 2 places"), "line 0,0 40": (9, "two numbers"), "line 0,0 4x,0": (10, "does not fit"),
    "circle 20": (7, "needs its size"), "circle Ø0": (8, "above zero"), "rect 40 x at 0,0": (5, "Two sizes"),
    "polygon 5 A/F 10": (10, "even number"), "polygon": (8, "sides and size"), "slot 8": (5, "Two sizes"),
    "arc 0,0 4,0": (11, "needs 3 places"), "circle Ø20 at 12": (14, "two numbers"), "rect #9 x 5": (5, "no callout #9"),
}  # fmt: skip


@pytest.mark.parametrize("text", WRONG)
def test_wrong_commands_point_at_the_place(text):
    position, words = WRONG[text]
    assert is_command(text)
    with pytest.raises(ExpressionError) as caught:
        read_command(text, LEDGER, False)
    assert words in caught.value.message
    assert caught.value.position == position


def test_what_cannot_be_drawn_is_said():
    with pytest.raises(SketchError, match="3 to 64"):
        drawn("polygon 2 A/C 10")
    with pytest.raises(SketchError, match="the same"):
        drawn("line 0,0 0,0")
    assert not is_command("Ø20 H7")


def test_numbers_that_name_an_open_end_join_it():
    sketch = Sketch(id="k1", name="t", plane=Plane("end"))
    for text in ("line 0,0 30,0", "line 30,0 30,20", "line 30,20 0,0"):
        sketch = read_command(text, LEDGER, False, sketch).draw(sketch)
    assert len(sketch.points()) == 3
    assert area(sketch) == pytest.approx(300)
    beside = read_command("line 30.001,20 50,50", LEDGER, False, sketch).draw(sketch)
    assert len(beside.points()) == 5


def test_a_place_takes_x_from_one_point_and_y_from_another():
    sketch = Sketch(id="k1", name="t", plane=Plane("end"))
    for text in ("point 12,8", "point 40,25", "line 0,0 p1.x,p2.y"):
        sketch = read_command(text, LEDGER, False, sketch).draw(sketch)
    (line,) = sketch.curves()
    end = sketch.points()[line.b]
    assert (end.x, end.y) == (12, 25)
