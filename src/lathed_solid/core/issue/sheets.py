"""The operation sheet as a file: a PDF to go with the work, or a table."""

from __future__ import annotations

from pathlib import Path

from ..job.attachments import Store
from ..job.files import CannotWrite, write_atomic
from ..job.model import Content
from ..plan.sheet.telling import to_csv
from ..plan.shop import Shop
from ..route.rebuild import Cache
from ..standards.speeds import ToolMaterial
from .setups import issued

#: Pixels of a small picture: 62 x 46 mm at 200 dots an inch.
PIXELS = (488, 362)


def write_sheet(
    content: Content, path: Path, shop: Shop, of: ToolMaterial, date: str = "", cache: Cache | None = None,
    store: Store | None = None,
) -> None:  # fmt: skip
    """Build the part and write its sheet as the ending asks. Raises CannotWrite."""
    ending = path.suffix.lower()
    if ending not in (".pdf", ".csv"):
        raise CannotWrite(f"{path.name}: the ending must be .pdf or .csv.")
    sheet = issued(content, shop, of, PIXELS if ending == ".pdf" else None, cache, store)
    if ending == ".csv":
        write_atomic(path, to_csv(sheet.setups, content.header.style).encode())
        return
    from .traveller import traveller

    write_atomic(path, traveller(sheet, date))
