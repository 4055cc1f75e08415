"""Pictures of drawings, made by script, and the hands that read them."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pypdfium2
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from trials.worsened import worsened

from lathed_solid.core.drawing.scan.judging import meaning

DOTS = 200


def pictured(pdf: bytes, kind: str, path: Path, seed: int = 2) -> Path:
    """The sheet printed, and scanned or photographed: a file as a scanner or a telephone writes it."""
    page = pypdfium2.PdfDocument(pdf)[0]
    clean = np.array(page.render(scale=DOTS / 72).to_pil().convert("L"))
    image = Image.fromarray(worsened(clean, kind, DOTS, seed).gray)
    if kind == "photo":
        image.save(path, "JPEG", quality=92)
    else:
        image.save(path, "PNG", dpi=(DOTS, DOTS))
    return path


def picture_only(pdf: bytes) -> bytes:
    """A PDF whose page is nothing but a picture of another."""
    image = pypdfium2.PdfDocument(pdf)[0].render(scale=DOTS / 72).to_pil().convert("L")
    out = io.BytesIO()
    image.save(out, "PDF", resolution=DOTS)
    return out.getvalue()


def opened(desk, path: Path):
    """A picture under the glass, wholly read; its offers."""
    laid_under(desk, path)
    return read_through(desk, desk.window.read_side.offers)


def laid_under(desk, path: Path) -> None:
    """A picture under the glass; it is being read."""
    glass = desk.window.glass
    glass.open_file(path)
    desk.wait(lambda: glass.drawing is not None and glass.drawing.name == path.name and glass.paper is not None)


def read_through(desk, offers):
    desk.wait(lambda: bool(offers.offers) and offers.is_settled, 120)
    QTest.qWait(50)
    return offers


def laid_flat(desk):
    """Straighten by its button; the corners that were found are right."""
    glass = desk.window.glass
    desk.click(glass.straight)
    desk.wait(lambda: len(glass.canvas.corners) == 4, 60)
    before = glass.drawing.blob
    desk.click(glass.straightening.bar.do)
    desk.wait(lambda: glass.drawing.blob != before, 60)
    return read_through(desk, desk.window.read_side.offers)


def reviewed(desk, truth: list[str]) -> int:
    """Go through what is not sure by keys alone, as one who sees the sheet: Enter, type, or drop. How much was typed."""
    offers, content = desk.window.read_side.offers, desk.session.content
    ledger, typed = content.ledger(), 0
    stated = {meaning(c.note, ledger) for c in content.callouts}
    wanted = [t for t in truth if meaning(t, ledger) not in stated]
    line = offers.review.line
    while offers.offers:
        if offers.list.currentRow() < 0:
            desk.click(offers.list.viewport(), offers.list.visualItemRect(offers.list.item(0)).center())
        line.setFocus()
        shown = offers.review.offer
        right = next((t for t in wanted if meaning(t, ledger) == meaning(line.text(), ledger)), None)
        digits = "".join(c for c in line.text() if c.isdigit())
        near = next((t for t in wanted if digits and digits in "".join(c for c in t if c.isdigit())), None)
        if right is None and near is None:
            desk.press(line, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
        else:
            if right is None:
                typed += 1
                desk.press(line, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
                line.insert(" ".join(near.split()))  # signs such as ↧ are on no key: they are pasted
            desk.press(line, Qt.Key.Key_Return)
            wanted.remove(right or near)
        desk.wait(lambda s=shown: offers.review.offer != s)
    return typed
