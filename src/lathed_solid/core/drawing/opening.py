"""Opening a drawing by what its bytes are; the reader of its kind is loaded only then."""

from __future__ import annotations

from .paper import CannotRead, Paper

#: A file larger than this is not opened, bytes.
MAX_FILE = 80 * 1024 * 1024


def open_paper(data: bytes, name: str) -> Paper:
    """Open a drawing by what its bytes are, not by its name. Raises CannotRead."""
    if len(data) > MAX_FILE:
        raise CannotRead(f"{name} is larger than {MAX_FILE // 1024 // 1024} MB. Save it smaller and open it again.")
    if not data:
        raise CannotRead(f"{name} is empty.")
    if data[:1024].lstrip().startswith(b"%PDF") or b"%PDF-" in data[:1024]:
        from .pdf import PdfPaper

        return PdfPaper(data, name)
    if data[:8].startswith((b"\x89PNG", b"\xff\xd8\xff", b"II*\x00", b"MM\x00*")):
        from .picture import PicturePaper

        return PicturePaper(data, name)
    if _looks_like_dxf(data):
        from .dxf import DxfPaper

        return DxfPaper(data, name)
    raise CannotRead(f"{name} is no PDF, PNG, JPEG, TIFF or DXF. Save the drawing as one of these.")


def _looks_like_dxf(data: bytes) -> bool:
    head = data[:4096].replace(b"\r", b"")
    return data.startswith(b"AutoCAD Binary DXF") or (b"SECTION" in head and head.lstrip()[:3] in (b"0\nS", b"999"))
