"""The drawing sheets of a job as files: all of them in one PDF, or each as DXF, SVG or PNG."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from ...drafting.sheet.compose import Composed
from ...drafting.sheet.scene import Scene
from ...job.attachments import Store
from ...job.files import CannotWrite, write_atomic
from ...job.model import Content
from ...job.proving import prove_result
from ...route.rebuild import Cache, rebuild
from .facts import drawn_sheet
from .files import FILES
from .views import seen


def write_sheets(
    content: Content, path: Path, which: str = "", revisions: Sequence[tuple[str, str]] = (),
    cache: Cache | None = None, store: Store | None = None, going: Callable[[], object] = lambda: None,
) -> tuple[Path, ...]:  # fmt: skip
    """Build the part and write its sheets as the ending asks (all of them, or ``which``); several that cannot go into
    one file are numbered. Raises CannotWrite.
    """
    ending = path.suffix.lower()
    if ending.removeprefix(".") not in FILES:
        raise CannotWrite(f"{path.name}: the ending must be one of {', '.join(f'.{e}' for e in FILES)}.")
    scenes = [c.scene for c in composed(content, which, revisions, cache, store, going)]
    title = " ".join(filter(None, (content.header.number, content.header.name)))
    return write_pages(scenes, path, title, content.header.style.unit)


def write_pages(scenes: Sequence[Scene], path: Path, title: str, unit: str) -> tuple[Path, ...]:
    """Pages as a PDF, or as files of another ending, numbered when there are several."""
    ending = path.suffix.lower()
    if ending == ".pdf":
        write_atomic(path, page(scenes, ending, title, unit))
        return (path,)
    written = []
    for number, scene in enumerate(scenes, 1):
        target = path if len(scenes) == 1 else path.with_name(f"{path.stem}-{number}{path.suffix}")
        write_atomic(target, page([scene], ending, title, unit))
        written.append(target)
    return tuple(written)


def page(scenes: Sequence[Scene], ending: str, title: str, unit: str) -> bytes:
    """Pages as a file of that ending; only a PDF holds several."""
    if ending == ".pdf":
        from .pdf import to_pdf

        return to_pdf(scenes, title)
    if ending == ".dxf":
        from .dxf import to_dxf

        return to_dxf(scenes[0], unit)
    if ending == ".svg":
        from .svg import to_svg

        return to_svg(scenes[0], title).encode("utf-8")
    from .pdf import to_png

    return to_png(scenes[0])


def composed(
    content: Content, which: str = "", revisions: Sequence[tuple[str, str]] = (), cache: Cache | None = None,
    store: Store | None = None, going: Callable[[], object] = lambda: None,
) -> list[Composed]:  # fmt: skip
    """The sheets of a job drawn from its part as it is now. Raises CannotWrite when there are none."""
    if not content.sheets:
        raise CannotWrite("The job has no drawing sheet yet. Make one in Issue first.")
    cache = cache or Cache()
    proof = prove_result(content, rebuild(content.plan(store.find if store else None), cache))
    made = []
    for number, sheet in enumerate(content.sheets, 1):
        if which in ("", sheet.id):
            found = seen(content, sheet, cache, store, going)
            made.append(drawn_sheet(content, sheet.id, found, proof, revisions, number))
    return made
