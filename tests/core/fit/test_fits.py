"""Shafts in holes by the limits of both callouts, against ISO 286-2."""

from __future__ import annotations

import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.fits import fits
from lathed_solid.core.fit.joined import joined
from lathed_solid.core.fit.model import Assembly, Pose, Sized

from .shop import part


def pair(hole, shaft, apart=0.0, basis="g6, ISO 286"):
    """A shaft of 20 in a hole of 20 with limits (µm from 20), the shaft moved along by ``apart``."""
    bore = part(
        "plate", {"bore": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 10.0, "hollow": True, "span": (0.0, 12.0)})},
        ((-20, -20, 0), (20, 20, 12)), sized=(Sized("bore", *(20 + v / 1000 for v in hole), "Ø20 H7"),) if hole else (),
    )  # fmt: skip
    rod = part(
        "rod", {"od": ("cylinder", (0, 0, 0), (0, 0, -1), {"radius": 10.0, "span": (-40.0, 0.0)})},
        ((-10, -10, 0), (10, 10, 40)), sized=(Sized("od", *(20 + v / 1000 for v in shaft), "Ø20", basis),) if shaft else (),
    )  # fmt: skip
    assembly, _ = edits.insert(Assembly(), bore)
    assembly, _ = edits.insert(assembly, rod, [Pose((0.0, 0.0, apart))])
    return fits(assembly)


#: ISO 286-2 tables 6 to 32 at 20: H7 0/+21, h6 0/-13, g6 -7/-20, k6 +2/+15, p6 +22/+35 µm.
@pytest.mark.parametrize(
    ("shaft", "least", "most", "words"),
    [
        ((-13, 0), 0.0, 0.034, "clearance"),
        ((-20, -7), 0.007, 0.041, "clearance"),
        ((2, 15), -0.015, 0.019, "transition"),
        ((22, 35), -0.035, -0.001, "interference"),
    ],
)
def test_the_usual_fits_are_told_with_their_clearances(shaft, least, most, words):
    (found,) = pair((0, 21), shaft)
    assert (found.least, found.most) == (pytest.approx(least, abs=1e-9), pytest.approx(most, abs=1e-9))
    assert found.words.startswith(words) and found.notes == ("Ø20", "Ø20 H7")


def test_a_general_tolerance_is_no_fit():
    (found,) = pair((0, 21), (-200, 200), basis="ISO 2768-m")
    assert found.words == "Ø20 has its general tolerance only: no fit is stated"
    assert (found.least, found.most) == (pytest.approx(-0.2), pytest.approx(0.221))


def test_what_states_no_limits_says_so_and_what_stands_beside_the_hole_is_no_fit():
    (found,) = pair(None, (-13, 0))
    assert found.least is None and "no limits" in found.words
    assert pair((0, 21), (-13, 0), apart=12.5) == ()


def test_a_bolt_in_a_hole_far_too_small_cannot_be_missed():
    bore = part(
        "plate", {"bore": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 6.0, "hollow": True, "span": (0.0, 12.0)})},
        ((-20, -20, 0), (20, 20, 12)),
    )  # fmt: skip
    rod = part("bolt", {"od": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 10.0, "span": (-5.0, 40.0)})},
               ((-10, -10, -5), (10, 10, 40)))  # fmt: skip
    assembly, _ = edits.insert(Assembly(), bore)
    assembly, _ = edits.insert(assembly, rod, [Pose((0.0, 0.0, 0.0))])
    (found,) = joined(assembly)
    assert (found.mark, found.says, found.much) == ("bad", "does not go in: it is 8 larger", "-8 mm")
