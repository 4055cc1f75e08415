"""Every tool of the plate and every typed command: what they make solves, closes where it should, and keeps its sizes."""

import math

import pytest

from lathed_solid.core.quantity import ExpressionError
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.hand.tool import Given, Typed
from lathed_solid.core.sketch.hand.tools import GROUPS, TOOLS
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.typed.commands import CHANGES, SHAPES, read_command

from .drawn import END, LEDGER, typed


def length(text):
    return Typed(text, float(text))


def angle(degrees):
    return Typed(f"{degrees}°", math.radians(degrees))


#: Tool: places, typed values, how many sizes that makes, whether an area closes, how many ways stay free.
DRAWN = {
    "point": ([(3, 4)], {}, 0, False, 2),
    "line": ([(1, 2), (9, 5)], {"length": length("8"), "angle": angle(30)}, 2, False, 2),
    "centre_line": ([(1, 2), (9, 2)], {"length": length("8")}, 1, False, 2),
    "rectangle": ([(1, 2), (9, 5)], {"width": length("8"), "height": length("3")}, 2, True, 2),
    "centre_rectangle": ([(10, 10), (14, 12)], {"width": length("8")}, 1, True, 3),
    "slanted_rectangle": ([(0, 1), (8, 4), (6, 9)], {"height": length("5")}, 1, True, 4),
    "circle": ([(10, 10), (14, 12)], {"diameter": length("9")}, 1, True, 2),
    "arc": ([(0, 1), (8, 1), (4, 5)], {"radius": length("5")}, 1, False, 4),
    "centre_arc": ([(0, 1), (8, 1), (0, 9)], {"radius": length("8")}, 1, False, 4),
    "polygon": ([(10, 10), (10, 15)], {"across": length("10"), "sides": Typed("6", 6)}, 1, True, 2),
    "corner_polygon": ([(10, 10), (10, 15)], {"across": length("10"), "sides": Typed("5", 5)}, 1, True, 2),
    "slot": ([(0, 1), (20, 1), (9, 5)], {"length": length("20"), "width": length("8")}, 2, True, 2),
    "arc_slot": ([(0, 1), (20, 1), (0, 21), (25, 1)], {"radius": length("20"), "width": length("6")}, 2, True, 4),
    "ellipse": ([(0, 1), (20, 1), (5, 8)], {"long": length("40"), "short": length("12")}, 2, True, 3),
    "spline": ([(0, 1), (10, 4), (20, 0)], {}, 0, False, 6),
}


@pytest.mark.parametrize("name", DRAWN)
def test_a_tool_makes_what_was_clicked_and_typed(name):
    places, typed, sizes, closes, free = DRAWN[name]
    spots: list[Spot] = []
    tool = TOOLS[name]
    for x, y in places:
        spots.append(tool.aim(tuple(spots), Spot(x, y), typed))
    sketch = settle_sketch(tool.make(END, Given(tuple(spots), typed, ())), LEDGER)
    assert len(sketch.dimensions) == sizes
    assert [d.text for d in sketch.dimensions] == [t.text for k, t in typed.items() if k != "sides"][:sizes]
    assert bool(find_regions(sketch).regions) == closes
    assert freedom(sketch, dimension_values(sketch, LEDGER)).ways == free
    values = tool.live(tuple(spots[:1]), spots[-1])
    assert all(v >= 0 for v in values.values())


def test_every_tool_is_on_the_plate_with_a_picture_and_words():
    from importlib import resources

    icons = resources.files("lathed_solid") / "desk" / "theme" / "icons"
    assert sorted(n for g in GROUPS for n in g) == sorted(TOOLS)
    for tool in TOOLS.values():
        assert (icons / f"{tool.icon}.svg").is_file(), tool.id
        assert all(tool.prompt(k) for k in range(max(1, tool.clicks)))


#: Commands one after the other, then what is chosen for the last: areas (mm², roughly) and ways still free.
TYPED = {
    "a tangent arc goes on": (("line 0,0 20,0", "arc on p2 30,10", "line p3 30,40"), (), 0, 4),
    "an arc about a place": (("arc about 0,0 10,0 0,10",), (), 0, 1),
    "an arc slot": (("slot 6 about 0,0 20,0 0,20",), (), 1, 1),
    "a centre line": (("cl 0,0 40,0",), (), 0, 1),
    "a rectangle over an edge": (("rect 0,0 20,10 15,20",), (), 1, 3),
    "an ellipse": (("ellipse 30 x 12 at 5,5",), (), 1, 0),
    "a closed free edge": (("spline 0,1 10,8 20,0 10,-8 close",), (), 1, 6),
    "letters": (("line 0,0 40,0", 'text "A1" 5 on l1 bold'), (), 2, 1),
    "a corner radius": (("rect 40 x 20", "fillet R3 of p4"), (), 1, 0),
    "two chamfers": (("rect 40 x 20", "chamfer 2 x 30° of p2 p4"), (), 1, 0),
    "an offset of what is chosen": (("rect 40 x 20", "offset -3"), ("l1", "l2", "l3", "l4"), 1, 0),
    "a row": (("circle Ø4 at 5,5", "row 3 x 9 of c1"), (), 3, 0),
    "a row along a line": (("circle Ø4 at 5,5", "line 0,20 30,60", "row 3 x 9 along l1 of c1"), (), 3, 3),
    "a grid": (("circle Ø4 at 5,5", "grid 3 x 9 by 2 x 11 of c1"), (), 6, 0),
    "a ring": (("circle Ø4 at 15,0", "ring 6 about origin of c1"), (), 6, 0),
    "a part of a ring": (("circle Ø4 at 15,0", "ring 3 x 20° about origin of c1"), (), 3, 0),
    "a linked mirror": (("circle Ø4 at 15,9", "mirror about axis of c1"), (), 2, 0),
    "a mirrored copy": (("circle Ø4 at 15,9", "mirror about cross of c1 copy"), (), 2, 3),
    "a copy": (("circle Ø4 at 15,9", "copy 20,0 of c1"), (), 2, 3),
    "a turned copy": (("circle Ø4 at 15,9", "turn 90° about 0,0 of c1 copy"), (), 2, 3),
    "moved": (("line 0,30 20,30", "move 5,5 of l1 p1 p2"), (), 0, 2),
    "scaled": (("spline 0,1 10,8 20,0 10,-8 close", "scale 2 about 0,0 of s1"), (), 1, 6),
    "trimmed": (("line 0,0 40,0", "line 10,-10 10,10", "trim l1 at 30,0"), (), 0, 3),
    "extended": (("line 0,0 5,0", "line 10,-10 10,10", "extend l1 at 5,0"), (), 0, 3),
    "split": (("line 0,0 40,0", "split l1 at 30,0"), (), 0, 2),
    "points spaced": (("line 0,0 40,0", "space 3 on l1"), (), 0, 1),
}


@pytest.mark.parametrize("name", TYPED)
def test_typed_commands(name):
    texts, chosen, areas, free = TYPED[name]
    sketch = typed(*texts[:-1])
    command = read_command(texts[-1], LEDGER, False, sketch)
    assert command.words
    sketch = settle_sketch(command.draw(sketch, chosen), LEDGER)
    regions = find_regions(sketch)
    assert len(regions.regions) == areas
    assert not regions.crossings or areas == 0
    assert freedom(sketch, dimension_values(sketch, LEDGER)).ways == free
    assert {texts[-1].split()[0]} <= SHAPES.keys() | CHANGES.keys()


@pytest.mark.parametrize(
    ("text", "words", "at"),
    [
        ("offset of l1", "", 7), ("mirror of l1", "about which line", 12), ("row 3 of l1", "Two sizes", 4),
        ("ring 0 about origin of l1", "whole number", 4), ("trim l1", "Say where", 7), ("fillet 0 of l1", "above zero", 6),
        ("grid 3 x 4 of l1", "two counts", 16), ("offset 3 of l9", "nothing called l9", 12), ("text SKP 5", "quotes", 5),
        ("scale 0 about 0,0 of l1", "above zero", 5), ("copy of l1", "how much", 10), ("arc about 0,0 1,0", "3 places", 17),
    ],
)  # fmt: skip
def test_a_command_that_does_not_fit_points_at_the_place(text, words, at):
    sketch = typed("line 0,0 40,0")
    with pytest.raises(ExpressionError) as caught:
        read_command(text, LEDGER, False, sketch)
    assert words in caught.value.message
    assert caught.value.position == at


def test_commands_without_anything_chosen_say_so():
    sketch = typed("line 0,0 40,0")
    for text in ("offset 3", "row 3 x 5", "split at 5,0", "space 3"):
        with pytest.raises(SketchError, match="Choose"):
            read_command(text, LEDGER, False, sketch).draw(sketch)


def test_what_is_typed_twice_at_one_place_shares_its_centre():
    sketch = typed("circle Ø30 at 12,8", "circle Ø14 at 12,8")
    assert len({c.center for c in sketch.curves()}) == 1
    assert len(sketch.dimensions) == 4
    other = typed("circle Ø30 at 12,8", "circle Ø14 at 6*2,8")
    assert len({c.center for c in other.curves()}) == 2, "another formula may change by itself"
