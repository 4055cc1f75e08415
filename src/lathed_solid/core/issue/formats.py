"""Every format a part or its proof can be written in; a new one is one function and one line."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from ..callout.words import limits_text
from ..job.files import CannotWrite, write_atomic
from ..job.looks import body_color, face_color
from ..job.model import Content
from ..job.proving import prove_result
from ..job.surveying import standing_of
from ..prove.tabular import to_csv
from ..refusal import Refusal
from ..route.model import FileLook
from ..route.rebuild import Cache, RouteResult, rebuild
from ..route.registry import called
from ..standards.finishes import LIGHTEST_METAL

if TYPE_CHECKING:
    from ..job.attachments import Store
    from ..kernel.files.mesh_writing import Body
    from ..kernel.files.writing import Part
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody


class Format(NamedTuple):
    """``endings`` of its files, the usual one first; ``title`` as an action says it, ``short`` as a button does where
    that is too long; ``write`` fills a file.
    """

    id: str
    endings: tuple[str, ...]
    title: str
    write: Callable[[Content, RouteResult, Path], None]
    short: str = ""


def _zero(content: Content, body: NamedBody) -> Frame:
    """Machine zero, which a file counts from. Raises CannotWrite when it is lost: from another a tool would crash."""
    standing = standing_of(content, body)
    if standing.lost:
        raise CannotWrite(f"{standing.lost[0]} Nothing was written: set machine zero in Plan, Zero, first.")
    return standing.frame


def _write_step(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.step import write_step

    parts = _parts(content, result)
    assert result.body is not None  # seen to by ``issue``
    where = _zero(content, result.body)
    write_step(result.body, path, _title(content), parts[0].color, parts, where, _said(content))


def _said(content: Content) -> list[tuple[str, str]]:
    """What the drawing says of the part: title block, every callout with its limits."""
    header, ledger = content.header, content.ledger()
    found = [("part number", header.number), ("revision", header.revision), ("drawing unit", header.units)]
    for callout in content.callouts:
        found.append((f"callout {callout.number}", callout.note))
        try:
            reading = ledger.reading(callout.number)
        except Refusal:
            continue
        if limits := limits_text(reading.main, header.typed_style):
            found.append((f"callout {callout.number} limits", limits))
    return [(key, text) for key, text in found if text]


def _meshed(content: Content, result: RouteResult) -> list[Body]:
    from ..kernel.files.writing import meshed

    assert result.body is not None
    return meshed(_parts(content, result), where=_zero(content, result.body))


def _title(content: Content) -> str:
    return " ".join(filter(None, (content.header.number, content.header.name)))


def _write_stl(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.mesh_writing import write_stl

    write_stl(_meshed(content, result), path)


def _write_3mf(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.mesh_writing import write_3mf

    write_3mf(_meshed(content, result), path, _title(content))


def _write_glb(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.mesh_writing import write_glb

    write_glb(_meshed(content, result), path, _title(content))


def _write_brep(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.writing import write_brep

    assert result.body is not None
    write_brep(_parts(content, result), path, _zero(content, result.body))


def _write_iges(content: Content, result: RouteResult, path: Path) -> None:
    from ..kernel.files.iges import write_iges
    from ..kernel.files.writing import standing

    assert result.body is not None
    where = _zero(content, result.body)
    write_iges([standing(p.body.shape, where) for p in _parts(content, result)], path)


def _write_ledger(content: Content, result: RouteResult, path: Path) -> None:
    from .ledger import to_json

    proof = prove_result(content, result)
    assert proof is not None
    path.write_text(to_json(content, proof), encoding="utf-8")


def _write_proof(content: Content, result: RouteResult, path: Path) -> None:
    proof = prove_result(content, result)
    assert proof is not None
    path.write_text(to_csv(proof), encoding="utf-8")


FORMATS = {
    f.id: f
    for f in (
        Format("step", (".step", ".stp"), "STEP", _write_step),
        Format("stl", (".stl",), "STL", _write_stl),
        Format("3mf", (".3mf",), "3MF", _write_3mf),
        Format("glb", (".glb",), "glTF", _write_glb),
        Format("brep", (".brep",), "BREP", _write_brep),
        Format("iges", (".igs", ".iges"), "IGES", _write_iges),
        Format("csv", (".csv",), "CSV of the proof", _write_proof, "Proof, CSV"),
        Format("json", (".json",), "JSON of the ledger", _write_ledger, "Ledger, JSON"),
    )
}


def format_of(path: Path) -> Format:
    """The format a file's ending asks for. Raises CannotWrite."""
    for form in FORMATS.values():
        if path.suffix.lower() in form.endings:
            return form
    endings = ", ".join(e for f in FORMATS.values() for e in f.endings)
    raise CannotWrite(f"{path.name}: the ending must be one of {endings}.")


def issue(
    content: Content, path: Path, form: Format, cache: Cache | None = None, until: str = "", store: Store | None = None
) -> None:
    """Build the part and write it. Raises CannotWrite, or KernelFailure when there is no whole solid.

    The kernel writes by itself: it writes into a folder of its own beside the target, which no one can have laid a link
    into, and the whole file is put in place at the end.
    """
    from ..kernel.ground.check import KernelFailure

    result = rebuild(content.plan(store.find if store else None), cache, until=until)
    failed = next((r for r in result.reports if r.state == "failed"), None)
    if failed is not None:
        raise KernelFailure(f"The route stops at “{called(content.step(failed.id))}”: {failed.message}")
    if result.body is None:
        raise KernelFailure("There is no solid yet.")
    try:
        with tempfile.TemporaryDirectory(dir=path.parent, prefix=f".{path.name}.") as folder:
            made = Path(folder) / f"part{path.suffix}"
            form.write(content, result, made)
            data = made.read_bytes()
    except OSError as error:
        raise CannotWrite(f"{path} could not be written. Is the folder there, and may it be written to?") from error
    write_atomic(path, data)


def _parts(content: Content, result: RouteResult) -> list[Part]:
    """The bodies as they are called and coloured: by hand, else by the file they came from."""
    from ..kernel.files.writing import Part

    found = []
    for id_, body in result.bodies.items():
        file = result.looks.get(id_, FileLook())
        material = content.material_of(id_)
        own = content.look(id_, file)
        metal = material.density > LIGHTEST_METAL
        name = content.body_name(id_, file)
        special = {
            i: face_color(look, own, material.color) for look in content.faces for i in body.find_any(look.face.name)
        }
        color = body_color(content, id_, file)
        found.append(Part(body, name, color, metal, material.name, material.density, special))
    return found
