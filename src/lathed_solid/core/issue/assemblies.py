"""An assembly as a file: its solid with its structure, or its drawing sheet, as the ending asks."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ..fit.model import Assembly
from ..job.assembling.judging import write_assembly
from ..job.attachments import Store
from ..job.files import CannotWrite, write_atomic
from .drawing.files import FILES


def write(assembly: Assembly, path: Path, store: Store, going: Callable[[], object] = lambda: None) -> None:
    """Raises CannotWrite, Refusal for a part that is not at hand, or OSError."""
    ending = path.suffix.lower().removeprefix(".")
    if ending in ("step", "stp"):
        write_assembly(assembly, path, store)
        return
    if ending not in FILES:
        raise CannotWrite(f"{path.name}: the ending must be .step or one of {', '.join(f'.{e}' for e in FILES)}.")
    from .drawing.assembly import assembly_sheet
    from .drawing.writing import page

    scene = assembly_sheet(assembly, store, going=going).scene
    write_atomic(path, page([scene], path.suffix.lower(), assembly.title, assembly.unit))
