"""Files of triangles: closed as other libraries judge them, true to the solid, with names, colours and units."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from trimesh.exchange.gltf import load_glb
from trimesh.exchange.stl import load_stl_binary

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job.edits import change_faces
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.files import threemf
from lathed_solid.core.kernel.files.meshes import watertight
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.files.writing import DEFLECTION
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.kernel.ground.topology import compound_of
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.route.model import FaceRef

from ..conftest import EXAMPLES
from .strangers.test_strangers import PARTS

#: A thread that is modelled, a ring of chamfered holes, a ball, a cone with a cross hole, a name engraved, a slot.
MESHED = ("modelled_stud", "chamfered_holes_in_a_ring", "ball", "oiled_cone", "name_plate", "slotted_screw")


@pytest.fixture(scope="module", params=MESHED)
def part(request):
    content = PARTS[request.param]()[0].content
    shown = build_and_prove(content)
    return content, shown.proof.mass


def wrapped(data):
    return trimesh.Trimesh(data["vertices"], data["faces"], process=True)


def sound(mesh, volume, area, scale=1.0):
    """Closed, outward, and no further from the solid than its triangles may be."""
    assert mesh.is_watertight and mesh.is_winding_consistent and mesh.volume > 0
    assert abs(mesh.volume / scale**3 - volume) < DEFLECTION * area + 1e-5 * volume


def test_what_is_written_is_closed_and_true_to_the_solid(part, tmp_path):
    content, figures = part
    paths = {form: tmp_path / f"part{FORMATS[form].endings[0]}" for form in ("stl", "3mf", "glb", "brep")}
    for form, path in paths.items():
        issue(content, path, FORMATS[form])
    with paths["stl"].open("rb") as file:
        sound(wrapped(load_stl_binary(file)), figures.volume, figures.area)
    with paths["glb"].open("rb") as file:
        tree = load_glb(file)
    (mesh,) = tree["geometry"].values()
    # glTF counts metres; each body is a node of its own below the part's.
    sound(wrapped(mesh), figures.volume, figures.area, 0.001)
    (found,) = read_solids(paths["brep"].read_bytes(), "part.brep", "f")
    assert found.body.volume == pytest.approx(figures.volume, rel=1e-9)
    back = read_3mf(paths["3mf"])
    assert back["unit"] == "MilliMeter" and len(back["bodies"]) == 1
    points, corners, closed = back["bodies"][0]
    assert closed
    sound(trimesh.Trimesh(points, corners, process=False), figures.volume, figures.area)


def read_3mf(path):
    import lib3mf

    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromFile(str(path))
    objects, bodies, names = model.GetMeshObjects(), [], []
    while objects.MoveNext():
        own = objects.GetCurrentMeshObject()
        points = np.array([list(p.Coordinates) for p in own.GetVertices()])
        corners = np.array([list(t.Indices) for t in own.GetTriangleIndices()])
        bodies.append((points, corners, own.IsManifoldAndOriented()))
        names.append(own.GetName())
    return {"unit": model.GetUnit().name, "bodies": bodies, "names": names}


def test_the_same_part_is_the_same_file(tmp_path):
    content = PARTS["oiled_cone"]()[0].content
    for form in ("stl", "3mf", "glb", "brep"):
        made = []
        for name in ("one", "two"):
            path = tmp_path / f"{name}{FORMATS[form].endings[0]}"
            issue(content, path, FORMATS[form])
            made.append(path.read_bytes())
        assert made[0] == made[1], form


def test_several_bodies_keep_their_names_and_colours(tmp_path):
    content = PARTS["moved_body"]()[0].content
    shown = build_and_prove(content)
    many = len(shown.result.bodies)
    path = tmp_path / "part.3mf"
    issue(content, path, FORMATS["3mf"])
    back = read_3mf(path)
    assert len(back["bodies"]) == many and len(set(back["names"])) == many and all(b[2] for b in back["bodies"])


def test_triangles_that_do_not_close_are_refused_and_nothing_is_written():
    body = PARTS["ball"]()[0].proved().result.body
    faces = [body.face(k) for k in range(2, body.face_count + 1)]
    with pytest.raises(KernelFailure, match="do not close"):
        watertight(compound_of(faces), 0.05, 0.5)


def test_a_face_in_a_colour_of_its_own_has_it_in_3mf_and_gltf(tmp_path):
    import lib3mf

    content = load(EXAMPLES / "skp-02.lathed").job.content
    body = build_and_prove(content).result.body
    top = max((s for s in measure_faces(body) if s.kind == "plane"), key=lambda s: s.area)
    content = change_faces(content, [FaceRef(body.name_of(top.index))], finish="painted red")
    for form in ("3mf", "glb"):
        issue(content, tmp_path / f"part.{form}", FORMATS[form])
    with (tmp_path / "part.glb").open("rb") as file:
        own = {name: wrapped(data) for name, data in load_glb(file)["geometry"].items()}
    assert len(own) == 2
    small = min(own.values(), key=lambda m: m.area)
    assert small.area == pytest.approx(top.area * 1e-6, rel=1e-3)
    model = lib3mf.Wrapper().CreateModel()
    model.QueryReader("3mf").ReadFromFile(str(tmp_path / "part.3mf"))
    objects = model.GetMeshObjects()
    assert objects.MoveNext()
    mesh = objects.GetCurrentMeshObject()
    points = np.array([list(p.Coordinates) for p in mesh.GetVertices()])
    group, whole, _ = mesh.GetObjectLevelProperty()
    painted = [
        list(t.Indices)
        for t, p in zip(mesh.GetTriangleIndices(), mesh.GetAllTriangleProperties(), strict=True)
        if p.PropertyIDs[0] != whole
    ]
    a, b, c = (points[np.array(painted)[:, k]] for k in range(3))
    assert np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2 == pytest.approx(top.area, rel=1e-3)
    other = next(p.PropertyIDs[0] for p in mesh.GetAllTriangleProperties() if p.PropertyIDs[0] != whole)
    red = model.GetColorGroupByID(group).GetColor(other)
    assert red.Red > 2 * max(red.Green, red.Blue)
    back = threemf.read_3mf((tmp_path / "part.3mf").read_bytes(), "part.3mf")
    assert len(back) == 1 and back[0].color is not None, "the whole keeps its own"
