"""The thinnest walls, against closed form."""

import math

import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCone, BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt

from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.kernel.measure.walls import walls

from .strangers.milled import housing


def rod(radius, at=(0, 0, 0), way=(0, 0, 1), long=40.0):
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*at), gp_Dir(*way)), radius, long).Shape()


def cut(shape, *tools):
    for tool in tools:
        shape = BRepAlgoAPI_Cut(shape, tool).Shape()
    return NamedBody(shape, ())


def block(a, b, c):
    return BRepPrimAPI_MakeBox(a, b, c).Shape()


@pytest.mark.parametrize("off", [0.0, 3.0, 4.7])
def test_an_eccentric_tube(off):
    found, _ = walls(cut(rod(20), rod(15, (off, 0, -1), long=42)))
    assert found[0].thick == pytest.approx(5 - off, rel=5e-3)
    assert off == 0 or (found[0].exact and found[0].thick == pytest.approx(5 - off, abs=1e-9))
    assert math.dist(*found[0].ends) == pytest.approx(found[0].thick, abs=1e-6)


def test_a_tapered_wall_is_thinnest_at_its_thin_end():
    """A cone bored parallel: 1.5 at the small end, 6.5 at the other."""
    cone = BRepPrimAPI_MakeCone(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), 16.5, 11.5, 40).Shape()
    found, _ = walls(cut(cone, rod(10, (0, 0, -1), long=42)))
    slope = math.atan2(5, 40)
    assert found[0].thick == pytest.approx(1.5, rel=5e-3) or found[0].thick == pytest.approx(
        1.5 * math.cos(slope), rel=5e-3
    )


def test_crossing_holes_that_pass_near_each_other():
    """Two bores Ø10 and Ø8 square to each other, their axes 9.8 apart: 0.8 between them."""
    found, _ = walls(cut(block(60, 60, 60), rod(5, (30, 30, -1), long=62), rod(4, (-1, 39.8, 30), (1, 0, 0), 62)))
    assert found[0].thick == pytest.approx(0.8, abs=1e-9)
    assert found[0].exact


def test_a_hole_near_an_edge_and_what_is_air_is_no_wall():
    found, _ = walls(cut(block(60, 40, 12), rod(5, (8, 20, -1), long=14), rod(5, (22, 20, -1), long=14)))
    assert found[0].thick == pytest.approx(3.0, abs=1e-9), "hole to edge"
    assert any(w.thick == pytest.approx(4.0, abs=1e-9) for w in found), "hole to hole"
    assert any(w.thick == pytest.approx(12.0, abs=1e-6) for w in found), "top to bottom"
    assert not any(w.thick == pytest.approx(10.0, abs=1e-3) for w in found), "across a hole there is air"


def test_a_pocket_leaves_a_floor():
    b, _ = housing()
    found, _ = walls(build_and_prove(b.content).result.body)
    assert found[0].thick > 0
    assert list(found) == sorted(found, key=lambda w: w.thick)


def test_the_bracket_where_it_is_thinnest():
    """As another caster of rays (with a finer mesh) found them once."""
    from lathed_solid.core.job import storage
    from lathed_solid.core.job.surveying import thin_walls

    from ..conftest import EXAMPLES

    walls_of = thin_walls(storage.load(EXAMPLES / "skp-07.lathed").job.content)
    found = walls_of.thinnest
    assert found[0].thick == pytest.approx(2.35, rel=5e-3)
    behind = walls_of.behind
    base = behind[(abs(behind[:, 2]) < 1e-6) & (behind[:, 0] > 55) & (behind[:, 1] < 20)]
    assert len(base) > 50 and np.median(base[:, 3]) == pytest.approx(8.0, abs=1e-5), "the map of the base, 8 thick"
    assert walls_of.skin.data and list(walls_of.skin.values) == sorted(walls_of.skin.values)
