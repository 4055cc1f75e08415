"""Screws, keys and tapers in what they go into, against figures worked out by hand."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from lathed_solid.core.fit.joined import joined
from lathed_solid.core.fit.model import Assembly, Sized, Threaded
from lathed_solid.core.kernel.ground.figures import Circle
from lathed_solid.core.standards.threads import ScrewThread

from .shop import block, part, put

ROUND, FLAT = "cylinder", "plane"
M6, ONE_TO_FIFTY = ScrewThread(6.0, 1.0), math.atan(0.01)


def rings(z, *radii):
    return {"circles": tuple(Circle((0.0, 0.0, z), (0.0, 0.0, 1.0), r) for r in radii)}


def cap_screw(length=20.0, threaded=None, thread=M6):
    """M6: its head Ø10, 6 high, above zero, the shank down to -length."""
    shank = {"radius": 3.0, "span": (-length, 0.0), "center": (0.0, 0.0, -length / 2), **rings(0.0, 3.0)}
    return part(
        "bought: screw",
        {
            "shank": (ROUND, (0, 0, 0), (0, 0, 1), shank),
            "under": (FLAT, (0, 0, 0), (0, 0, -1), rings(0.0, 5.0, 3.0)),
            "top": (FLAT, (0, 0, 6), (0, 0, 1), rings(6.0, 5.0)),
            "tip": (FLAT, (0, 0, -length), (0, 0, -1), rings(-length, 3.0)),
        },
        ((-5, -5, -length), (5, 5, 6)),
        threads=(Threaded("shank", thread, False, False, threaded or length),),
    )


def plate(thick=8.0, hole=3.3):
    """Under the head, from zero down."""
    bore = {"radius": hole, "hollow": True, "span": (-thick, 0.0), "center": (0.0, 0.0, -thick / 2)}
    return part(
        "plate", {"hole": (ROUND, (0, 0, 0), (0, 0, 1), bore), "face": (FLAT, (0, 0, 0), (0, 0, 1), rings(0.0, hole))},
        ((-20, -20, -thick), (20, 20, 0)),
    )  # fmt: skip


def tapped(deep=16.0, threaded=14.0, material="Aluminium", thread=M6):
    """A blind hole from zero down, drilled Ø5 x 118°."""
    bore = {"radius": 2.5, "hollow": True, "span": (-deep, 0.0), "center": (0.0, 0.0, -deep / 2)}
    point = {"radius": 2.5, "half_angle": math.radians(59), "hollow": True, **rings(-deep, 2.5)}
    return part(
        "base",
        {
            "bore": (ROUND, (0, 0, 0), (0, 0, 1), bore),
            "point": ("cone", (0, 0, -deep), (0, 0, 1), point),
            "face": (FLAT, (0, 0, 0), (0, 0, 1), rings(0.0, 2.5)),
        },
        ((-20, -20, -30), (20, 20, 0)), material=material,
        threads=(Threaded("bore", thread, True, False, threaded, from_high=True),),
    )  # fmt: skip


def bolted(length=20.0, off=0.0, **base):
    """A screw through the plate of 8 into the base; ``off``: how far its head stands up."""
    hole = base.pop("hole", 3.3)
    assembly, _ = put(Assembly(), tapped(**base), (0, 0, -8))
    assembly, _ = put(assembly, plate(hole=hole))
    assembly, _ = put(assembly, cap_screw(length), (0, 0, off))
    return next(j for j in joined(assembly) if j.outer == assembly.instances[0].id)


#: 20 long through 8: 12 engaged, twice Ø6; the drill's point is 2.5/tan 59° = 1.502 below 16 deep.
@pytest.mark.parametrize(
    ("given", "mark", "words"),
    [
        ({}, "good", "engaged 12, 2 times its diameter (Aluminium: 2); 5.502 room under the tip; the head sits on plate"),
        ({"material": "Carbon steel", "length": 14.0}, "good", "engaged 6, 1 times its diameter (Carbon steel: 1)"),
        ({"length": 16.0}, "look", "engaged 8, 1.3 times its diameter; Aluminium asks for 2"),
        ({"length": 14.0}, "bad", "engaged 6, 1 times its diameter; Aluminium asks for 2"),
        ({"material": "Nylon 66"}, "look", "for Nylon 66 no length is tabled"),
        ({"length": 24.0}, "bad", "runs 2 past the last full thread before it is home"),
        ({"length": 26.0, "deep": 14.0}, "bad", "bottoms: 2.498 too long for its hole"),
        ({"off": 0.5}, "look", "the head stands 0.5 off plate"),
        ({"hole": 5.2}, "bad", "the head, Ø10, falls through the hole of plate, Ø10.4"),
        ({"thread": ScrewThread(6.0, 0.75)}, "bad", "M6x1 does not go into M6x0.75"),
    ],
)  # fmt: skip
def test_what_is_said_of_a_screw(given, mark, words):
    found = bolted(**given)
    assert (found.mark, words in found.says) == (mark, True), found


def test_a_nut_is_to_be_engaged_over_all_its_height_and_the_screw_to_come_through():
    nut = part(
        "bought: nut",
        {"bore": (ROUND, (0, 0, 0), (0, 0, 1), {"radius": 2.5, "hollow": True, "span": (0.0, 5.2), "center": (0, 0, 2.6)})},
        ((-5, -5, 0), (5, 5, 5.2)), threads=(Threaded("bore", ScrewThread(6.0, 1.0), True, False, 5.2),),
    )  # fmt: skip

    def told(length, threaded=None):
        assembly, _ = put(Assembly(), plate())
        assembly, _ = put(assembly, cap_screw(length, threaded))
        assembly, _ = put(assembly, nut, (0, 0, -13.2))
        return joined(assembly)[0]

    assert told(16.0).says == "engaged over the whole nut; comes 2.8 through the nut; the head sits on plate"
    assert told(13.5).mark == "look" and "comes 0.3 through" in told(13.5).says
    assert told(12.0).mark == "bad" and "only 4 of the nut's 5.2" in told(12.0).says
    # A screw threaded over its last 6 only: the nut stands half on the plain shank.
    assert told(16.0, 6.0).mark == "bad" and "only 3.2 of the nut's 5.2" in told(16.0, 6.0).says


def test_a_nut_of_our_own_is_no_worse_than_a_bought_one():
    """5.2 high as ISO 4032 has it, made as a part: engaged all along, it is to be looked at and not condemned."""
    nut = part(
        "nut.lathed",
        {"bore": (ROUND, (0, 0, 0), (0, 0, 1), {"radius": 2.5, "hollow": True, "span": (0.0, 5.2), "center": (0, 0, 2.6)})},
        ((-5, -5, 0), (5, 5, 5.2)), material="Carbon steel", threads=(Threaded("bore", M6, True, False, 5.2),),
    )  # fmt: skip
    assembly, _ = put(Assembly(), plate())
    assembly, _ = put(assembly, cap_screw(16.0))
    assembly, _ = put(assembly, nut, (0, 0, -13.2))
    found = joined(assembly)[0]
    assert found.mark == "look" and "all there is of it; Carbon steel asks for 1" in found.says


def slotted(wide, limits):
    """A seat: two walls ``wide`` apart looking at each other."""
    walls = {
        "left": (FLAT, (-wide / 2, 0, 0), (1, 0, 0), {"center": (-wide / 2, 0, 0), "area": 60.0}),
        "right": (FLAT, (wide / 2, 0, 0), (-1, 0, 0), {"center": (wide / 2, 0, 0), "area": 60.0}),
    }
    stated = (Sized("left", wide + limits[0], wide + limits[1], f"{wide:g}", other="right"),)
    return part("shaft", walls, ((-10, -10, -10), (10, 10, 10)), sized=stated)


def test_a_key_is_fitted_by_the_limits_of_its_width():
    """DIN 6885: a 6 h9 key (0/-30) in a 6 P9 seat (-12/-42) is pressed; in N9 (0/-30) it may be either."""
    key = block("key", 6.0, 20.0, 6.0)
    faces = tuple(f for f in key.references if f.startswith("x"))
    walls = tuple(replace(s, center=s.origin, area=100.0) for s in key.surfaces)
    key = replace(key, surfaces=walls, sized=(Sized(faces[0], 5.97, 6.0, "6 h9", other=faces[1]),))
    for limits, least, most, words in (
        ((-0.042, -0.012), -0.042, 0.018, "transition"), ((0.0, 0.03), 0.0, 0.06, "clearance"),
        ((-0.07, -0.04), -0.07, -0.01, "interference"),
    ):  # fmt: skip
        assembly, _ = put(Assembly(), slotted(6.0, limits))
        assembly, _ = put(assembly, key)
        (found,) = joined(assembly)
        assert found.says.startswith(words) and found.much == f"{least:.3f} to {most:.3f} mm", found


def test_a_taper_pin_seats_where_the_diameters_meet():
    def cone(name, small, hollow, half=ONE_TO_FIFTY):
        fields = {"radius": small / 2, "half_angle": half, "hollow": hollow}
        return part(name, {"taper": ("cone", (0, 0, 0), (0, 0, 1), fields)}, ((-3, -3, 0), (3, 3, 30)))

    def told(hole, at=0.0, half=ONE_TO_FIFTY):
        assembly, _ = put(Assembly(), cone("hub", hole, True))
        assembly, _ = put(assembly, cone("pin", 5.0, False, half), (0, 0, at))
        return joined(assembly)[0]

    assert told(5.0).says == "seats here"
    # 1:50 on the diameter: a hole 0.1 larger at its end lets it 5 further in.
    assert told(5.1).says == "seats 5 mm further in" and told(5.1, -5.0).says == "seats here"
    assert told(4.98).mark == "bad" and told(5.0, half=math.atan(1 / 96)).says.startswith("the tapers differ")
