"""A sheet of four views and the files, against the kernel's bare calls in the same process.

Bare views: hidden lines of the same four directions, their edges told apart and sampled, nothing more. Bare files: the
kernel's own writer of the same solid, meshing in one call, no names, no check that the triangles close. A rendered
picture is told against casting the same primary rays and nothing else.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

import msgspec
import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from OCP.StlAPI import StlAPI_Writer

from lathed_solid.core.drafting.looking import eye_of
from lathed_solid.core.drafting.sheet.model import SheetView
from lathed_solid.core.drafting.sheet.seen import Seen
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.views import seen
from lathed_solid.core.issue.formats import FORMATS
from lathed_solid.core.issue.picture.lens import camera
from lathed_solid.core.issue.picture.model import PASSES, Shot
from lathed_solid.core.issue.picture.posing import posed_part
from lathed_solid.core.issue.picture.render import rendered, settled
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.draw.hidden import hidden_lines_of
from lathed_solid.core.kernel.files.writing import DEFLECTION
from lathed_solid.core.route.rebuild import Cache, rebuild

from .row import Row, median_ms

EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-02.lathed"
_WAYS = ("front", "right", "top", "three faces")
_KEYS = ("F", "R", "T", "I")


def run() -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        store, cache = Store(Path(folder) / "store"), Cache()
        content = load(EXAMPLE, store).job.content
        return [
            *_views(content, cache, store),
            *_files(content, cache, store, Path(folder)),
            _picture(content, cache, store),
        ]


class _Told(Exception):
    """The first view is there."""


def _stop(found: Seen) -> None:
    raise _Told


def _views(content: Content, cache: Cache, store: Store) -> list[Row]:
    """Four views from a part that is built: exact lines, owners, centre lines, callouts laid out."""
    sheet = content.sheets[0]
    views = tuple(SheetView(id=f"v{n}", way=way, at=(100.0 + 90 * n, 150.0)) for n, way in enumerate(_WAYS))  # type: ignore[arg-type]
    sheet = msgspec.structs.replace(sheet, views=views, labels=())
    body = rebuild(content.plan(store.find), cache).body
    assert body is not None
    whole = msgspec.structs.replace(content, sheets=(sheet,))

    def ours() -> None:
        found = seen(whole, sheet, cache, store)
        drawn_sheet(whole, sheet.id, found, None, (), 1)

    def first() -> None:
        with suppress(_Told):
            seen(whole, sheet, cache, store, tell=_stop)

    def bare() -> None:
        for key in _KEYS:
            hidden_lines_of([body.shape], eye_of(key, "x"))

    mine, reference = median_ms(ours), median_ms(bare)
    found = seen(whole, sheet, cache, store)
    begun = median_ms(first)
    laid = median_ms(lambda: drawn_sheet(whole, sheet.id, found, None, (), 1))
    return [
        Row("its first view, which is shown at once", begun, reference, begun / reference, "ms (aim 300 ms)"),
        Row("sheet of four views from a built part", mine, reference, mine / reference, "ms"),
        Row("the same laid out again from what is seen", laid, mine, laid / mine, "ms (aim 50 ms)"),
    ]


def _files(content: Content, cache: Cache, store: Store, folder: Path) -> list[Row]:
    result = rebuild(content.plan(store.find), cache)
    assert result.body is not None
    shape = result.body.shape

    def bare_stl(path: Path) -> None:
        copy = BRepBuilderAPI_Copy(shape, True, False).Shape()
        BRepMesh_IncrementalMesh(copy, DEFLECTION, False, 0.2, True)
        StlAPI_Writer().Write(copy, str(path))

    def bare_step(path: Path) -> None:
        writer = STEPControl_Writer()
        writer.Transfer(shape, STEPControl_StepModelType.STEPControl_AsIs)
        writer.Write(str(path))

    bare: dict[str, Callable[[Path], None]] = {"stl": bare_stl, "step": bare_step, "3mf": bare_stl, "glb": bare_stl}
    rows = []
    for form, reference in bare.items():
        path = folder / f"part.{form}"
        ours = median_ms(lambda form=form, path=path: FORMATS[form].write(content, result, path))  # type: ignore[misc]
        theirs = median_ms(lambda reference=reference, path=path: reference(path))  # type: ignore[misc]
        what = "its STL" if form in ("3mf", "glb") else "the bare writer"
        rows.append(Row(f"{FORMATS[form].title} against {what}", ours, theirs, ours / theirs, "ms (aim 1.2)"))
    return rows


def _picture(content: Content, cache: Cache, store: Store) -> Row:
    """A pass of a picture against its primary rays alone."""
    shot = Shot(size=(640, 480), quality="draft")
    posed = posed_part(content, shot, cache, store)
    facets = posed.subject.facets
    cam = camera(facets.points, posed.toward, posed.over, shot.lens, shot.size)
    scene = EmbreeScene()
    TriangleMesh(scene, np.ascontiguousarray(facets.points[facets.corners], np.float32))
    x, y = np.meshgrid(np.linspace(-1, 1, 640), np.linspace(1, -1, 480))
    ways = np.ascontiguousarray(cam.rays(x.ravel(), y.ravel()), np.float32)
    places = np.ascontiguousarray(np.broadcast_to(cam.eye, ways.shape), np.float32)
    begun = time.perf_counter()
    settled(rendered(posed.subject, shot, posed.toward, posed.over))
    ours = 1000 * (time.perf_counter() - begun) / PASSES["draft"]
    reference = median_ms(lambda: scene.run(places, ways, output=True))
    return Row("a pass of a 640 x 480 picture against its first rays", ours, reference, ours / reference, "ms")
