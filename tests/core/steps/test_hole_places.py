"""Where holes are counted from: one frame for a hole and a sketch on the same face, radial holes from either end."""

import pytest

from lathed_solid.core.kernel.measure.surfaces import mass_properties, measure_face
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.steps.extrude import Extrude

from .parts import BOTTOM, LEFT, RIGHT, ROUND, bar, built, failure, plate, sketch
from .test_bodies import proof, stating


def test_a_hole_and_a_circle_at_one_place_of_a_bottom_face_are_one_place():
    """The plate's bottom as it is seen from below: X to the right, Y the other way than from above."""
    at = {"face": BOTTOM, "placement": "point", "x": "12", "y": "-20", "extent": "depth", "depth": "5", "tip": "180°"}
    bored = built(plate(Hole(id="s2", diameter="8", **at))).body
    drawn = sketch("k2", "circle Ø8 at 12,-20", base="face", on=BOTTOM.name)
    inward = Extrude(id="s2", sketch="k2", extent="depth", depth="5", direction="backward")
    sunk = built(plate(inward, sketches=(drawn,))).body
    assert mass_properties(bored).center == pytest.approx(mass_properties(sunk).center)
    astray = failure(plate(Hole(id="s2", diameter="8", **{**at, "y": "20"})))
    assert "misses the picked face" in astray
    assert "along the part’s is under More" in astray
    along_the_part = {**at, "counted": "part", "y": "20"}
    same = built(plate(Hole(id="s2", diameter="8", **along_the_part))).body
    assert mass_properties(same).center == pytest.approx(mass_properties(bored).center)
    content = stating(plate(Hole(id="s2", diameter="#1", **{**at, "x": "#2", "y": "-#3"})), "Ø8", "12", "20")
    assert [line.mark for line in proof(content).lines] == ["in"] * 3


@pytest.mark.parametrize(("end", "z"), [(LEFT, 10), (RIGHT, 50)])
def test_a_radial_hole_is_counted_from_either_end(end, z):
    hole = Hole(id="s2", face=ROUND, placement="radial", along="#1.at", datum=end, diameter="#1")
    content = stating(bar(hole), "Ø5 THRU at 10")
    found = built(content)
    drill = found.body.find("s2/0/side")[0]
    assert measure_face(found.body.face(drill), drill).origin[2] == pytest.approx(z)
    assert {line.mark for line in proof(content).lines} == {"in"}
