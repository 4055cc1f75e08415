"""What leaves the workshop with a revision: paper, solid, drawings, the job and a manifest, in one folder or zip."""

from __future__ import annotations

import hashlib
import io
import re
import tempfile
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

import msgspec

from ..job.attachments import Store
from ..job.differences import differences
from ..job.files import CannotWrite, write_atomic
from ..job.model import Content, Job, Revision
from ..job.proving import build_and_prove
from ..job.storage import packed
from ..plan.shop import Shop
from ..prove.proof import Proof
from ..route.rebuild import Cache
from ..standards.speeds import ToolMaterial
from .formats import FORMATS, issue

#: Pixels of the picture of the part.
PIXELS = (800, 600)
#: When a PDF says it was made: the same job gives the same bytes.
_TIME = b"D:20260101000000"
_NO_APPROVAL = (
    "A proven model is not an approved part. Whoever answers for its use checks it, by the codes that hold there."
)


class Wanted(NamedTuple):
    """What goes into a package besides the job: the shop's speeds and the tools' material for the operation sheet."""

    shop: Shop
    of: ToolMaterial


def write_package(
    job: Job, label: str, path: Path, wanted: Wanted, cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None,
) -> None:  # fmt: skip
    """The package of issued revision ``label`` as a zip, or, where ``path`` has no ending, as a folder of files. The
    same job gives the same bytes. Raises CannotWrite, also for a part that is out of limits.
    """
    revision = next((r for r in job.revisions if r.label == label), None)
    if revision is None:
        raise CannotWrite(f"Revision {label} has not been issued. Issue it first.")
    files = packaged(job, revision, wanted, cache or Cache(), store, going)
    if path.suffix.lower() == ".zip":
        write_atomic(path, _zipped(files))
        return
    if path.exists() and any(path.iterdir() if path.is_dir() else (path,)):
        raise CannotWrite(f"{path} is not empty. Choose a new folder: nothing is overwritten in one that has files.")
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CannotWrite(f"{path} cannot be made: {error.strerror}.") from error
    for name, data in files.items():
        write_atomic(path / name, data)


def packaged(
    job: Job, revision: Revision, wanted: Wanted, cache: Cache, store: Store | None, going: Callable[[], object]
) -> dict[str, bytes]:
    """The files of a package by name. Raises CannotWrite."""
    content = revision.content
    shown = build_and_prove(content, cache, store=store)
    if shown.proof is None:
        raise CannotWrite("A package needs the whole part, and there is no solid. Mend the route in Shape first.")
    if shown.proof.any_out:
        raise CannotWrite(
            f"Revision {revision.label} is out of limits: {_out(content, shown.proof)}. A package is not made of it. "
            "Mend the part or the callout, and issue a new revision."
        )
    stem = stem_of(content)
    going()
    files = {f"{stem}.pdf": _paper(job, revision, wanted, cache, store, going)}
    going()
    files[f"{stem}.step"] = _written(content, "step", cache, store)
    files[f"{stem}.png"] = _picture(content, cache, store)
    if content.sheets:
        from .drawing.dxf import to_dxf
        from .drawing.writing import composed

        for n, made in enumerate(composed(content, "", _issued(job, revision), cache, store, going), 1):
            name = f"{stem}.dxf" if len(content.sheets) == 1 else f"{stem}-{n}.dxf"
            files[name] = to_dxf(made.scene, content.header.style.unit)
    upto = job.revisions[: job.revisions.index(revision) + 1]
    files[f"{stem}.lathed"] = packed(Job(content=content, revisions=upto), f"{stem}.lathed", store, b"")
    files["manifest.json"] = _manifest(job, revision, files, shown.proof)
    return files


def stem_of(content: Content) -> str:
    """What the files of a package are called: number and revision."""
    header = content.header
    plain = "".join(c if c.isalnum() or c in "-_." else "-" for c in header.number or header.name or "part")
    return f"{plain}-{header.revision}"


def _issued(job: Job, revision: Revision) -> list[tuple[str, str]]:
    return [(r.label, r.date) for r in job.revisions[: job.revisions.index(revision) + 1]]


def _out(content: Content, proof: Proof) -> str:
    numbers = [str(c.number) for c in content.callouts if proof.mark_of(c.number) == "out"]
    stated = [f"stated {c.what}" for c in proof.stated if c.mark == "out"]
    return ", ".join([f"callout {n}" for n in numbers] + stated)


def _paper(
    job: Job, revision: Revision, wanted: Wanted, cache: Cache, store: Store | None, going: Callable[[], object]
) -> bytes:
    """Sheets, operation sheet and inspection report, one after the other."""
    from .drawing.pdf import to_pdf
    from .drawing.writing import composed
    from .report.writing import Asked, written
    from .setups import issued
    from .sheets import PIXELS as SMALL
    from .traveller import traveller

    content, parts = revision.content, []
    if content.sheets:
        scenes = [c.scene for c in composed(content, "", _issued(job, revision), cache, store, going)]
        parts.append(to_pdf(scenes, stem_of(content)))
    going()
    if content.sheet.setups:
        sheet = issued(content, wanted.shop, wanted.of, SMALL, cache, store)
        parts.append(traveller(sheet, revision.date))
    going()
    parts.append(written(content, ".pdf", Asked(date=revision.date), cache, store)[0])
    return _joined(parts)


def _joined(parts: Sequence[bytes]) -> bytes:
    import pypdfium2

    whole = pypdfium2.PdfDocument.new()
    for part in parts:
        source = pypdfium2.PdfDocument(part)
        whole.import_pages(source)
        source.close()
    out = io.BytesIO()
    whole.save(out)
    whole.close()
    dated = re.sub(rb"D:\d{14}", _TIME, out.getvalue())
    return re.sub(rb"/ID\[<[0-9A-F]{32}><[0-9A-F]{32}>\]", b"/ID[<" + 32 * b"0" + b"><" + 32 * b"0" + b">]", dated)


def _written(content: Content, form: str, cache: Cache, store: Store | None) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"part{FORMATS[form].endings[0]}"
        issue(content, path, FORMATS[form], cache, store=store)
        return path.read_bytes()


def _picture(content: Content, cache: Cache, store: Store | None) -> bytes:
    from ..drafting.looking import seen_from
    from ..route.rebuild import rebuild
    from .picture.small import look_at, still

    body = rebuild(content.plan(store.find if store else None), cache).body
    assert body is not None
    from ..kernel.measure.triangles import triangles

    out = seen_from("F" if content.turned else "T", "x" if content.turned else "z")[0]
    return still(triangles(body.shape), look_at(out, False), frozenset(), PIXELS)


def _manifest(job: Job, revision: Revision, files: dict[str, bytes], proof: Proof) -> bytes:
    """What is in the package with its hashes, what was proved, and what changed since the revision before."""
    content, at = revision.content, job.revisions.index(revision)
    marks = [proof.mark_of(c.number) for c in content.callouts]
    before = job.revisions[at - 1] if at else None
    changed = [c._asdict() for c in differences(before.content, content)] if before is not None else []
    told = {
        "number": content.header.number, "name": content.header.name, "revision": revision.label,
        "issued": revision.date, "material": content.header.material.name,
        "volume_mm3": revision.volume, "mass_g": revision.mass,
        "callouts": len(marks), "in_limits": sum(m in ("in", "near") for m in marks),
        "not_measured": [c.number for c, m in zip(content.callouts, marks, strict=True) if m == "open"],
        "proved": proof.all_in, "caution": _NO_APPROVAL,
        "since": before.label if before is not None else None, "changes": changed,
        "files": [
            {"name": n, "bytes": len(d), "sha256": hashlib.sha256(d).hexdigest()} for n, d in sorted(files.items())
        ],
    }  # fmt: skip
    return msgspec.json.format(msgspec.json.encode(told), indent=1) + b"\n"


def _zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in sorted(files.items()):
            info = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(info, data)
    return out.getvalue()
