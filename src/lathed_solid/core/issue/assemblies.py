"""An assembly as a file: its solid with its structure, or its drawing sheets, as the ending asks."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ..fit.model import Assembly
from ..job.assembling.judging import write_assembly
from ..job.attachments import Store
from ..job.files import CannotWrite
from .drawing.files import FILES


def write(
    assembly: Assembly, path: Path, store: Store, going: Callable[[], object] = lambda: None, which: str = ""
) -> tuple[Path, ...]:
    """Its sheets are all written, or ``which``. Raises CannotWrite, OSError, or Refusal where a part is not at hand."""
    ending = path.suffix.lower().removeprefix(".")
    if ending in ("step", "stp"):
        write_assembly(assembly, path, store)
        return (path,)
    if ending not in FILES:
        raise CannotWrite(f"{path.name}: the ending must be .step or one of {', '.join(f'.{e}' for e in FILES)}.")
    from .drawing.assembly.sheet import pages
    from .drawing.writing import write_pages

    scenes = [p.composed.scene for p in pages(assembly, store, going) if which in ("", p.sheet.id)]
    return write_pages(scenes, path, " ".join(filter(None, (assembly.number, assembly.title))), assembly.unit)
