"""What is done with a picture in its own process: a sheet read, its corners found, made flat, its outlines found."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import cv2
import msgspec
import numpy as np

from ..paper import CannotRead, Paper
from . import linework as outlines
from . import straight
from .detecting import Detector
from .ink import Gray, evened, ink_of
from .model import Box, SheetText
from .reading import Readers, Tell, prepared, read, read_crossed
from .seen import LEAST, Seen, seen

#: A picture whose ink falls into more pieces than this is noise, or a page that is printed all over.
_MOST_PIECES = 60_000


def _looked_at(paper: Paper, sheet: int, turned: int = 0) -> Seen:
    """Raises CannotRead where there is nothing that could be read."""
    picture = seen(paper, sheet, turned)
    if min(picture.gray.shape) < LEAST:
        raise CannotRead("This picture is too small to be read: it has fewer pixels than a line of writing needs.")
    if np.ptp(cv2.resize(picture.gray, (64, 64), interpolation=cv2.INTER_AREA)) < 3 and picture.gray.std() < 3:
        raise CannotRead("This sheet is empty: nothing on it is darker than the paper.")
    return picture


def read_sheet(paper: Paper, sheet: int, turned: int, second: bool, tell: Tell) -> Iterator[SheetText]:
    """What is found by its ink first, then with the writing that lines cross. Raises CannotRead."""
    picture = _looked_at(paper, sheet, turned)
    _refuse_noise(picture.gray)
    readers = Readers.load()
    text, ready = read(picture.gray, picture.dots, readers, tell)
    yield _turned_back(text, turned)
    if second:
        yield _turned_back(read_crossed(text, ready, Detector(), readers, tell), turned)


def _refuse_noise(gray: Gray) -> None:
    pieces, _ = cv2.connectedComponents(ink_of(evened(gray)), connectivity=8)
    if pieces > _MOST_PIECES:
        raise CannotRead(
            "This picture is noise, or printed all over: it falls into more specks than a drawing has strokes. "
            "Scan it in grey at 200 to 300 dots an inch."
        )


def _turned_back(text: SheetText, turned: int) -> SheetText:
    """Places on the sheet as it lies, for one that was read as it is looked at."""
    if turned % 4 == 0:
        return text
    runs = tuple(msgspec.structs.replace(r, place=_back(r.place, turned)) for r in text.runs)
    return msgspec.structs.replace(text, runs=runs)


def _back(box: Box, turned: int) -> Box:
    x0, y0, x1, y1 = box
    for _ in range(turned % 4):  # one quarter clockwise took (x, y) to (1 - y, x)
        x0, y0, x1, y1 = y0, 1 - x1, y1, 1 - x0
    return x0, y0, x1, y1


def corners(paper: Paper, sheet: int) -> tuple[straight.Corners, bool, float]:
    """The sheet's corners, whether they were found, and its width over its height."""
    gray = _looked_at(paper, sheet).gray
    found = straight.corners_of(gray)
    used = found or ((0.06, 0.06), (0.94, 0.06), (0.94, 0.94), (0.06, 0.94))
    return used, found is not None, straight.proportion(used, (gray.shape[1], gray.shape[0]))


def straightened(
    paper: Paper, sheet: int, at: Sequence[tuple[float, float]], size: tuple[float, float]
) -> tuple[bytes, tuple[float, ...]]:
    """A JPEG that says its dots an inch, and the 3x3 from fractions of the picture to its own."""
    import io

    from PIL import Image

    if len(at) != 4 or not cv2.isContourConvex(np.array(at, np.float32).reshape(-1, 1, 2)):
        raise CannotRead("These four corners enclose no sheet: drag each to its own corner of the paper.")
    a, b, c, d = at
    flat = straight.straightened(_looked_at(paper, sheet).gray, (a, b, c, d), size)
    out = io.BytesIO()
    Image.fromarray(flat.gray).save(out, "JPEG", quality=90, dpi=(flat.dots, flat.dots))
    return out.getvalue(), tuple(float(v) for v in flat.matrix.ravel())


def linework(paper: Paper, sheet: int, box: Box) -> tuple[tuple[outlines.Line, ...], tuple[outlines.Circle, ...]]:
    """Lines and circles inside a box, all in shares of the sheet's width from its top left."""
    picture = _looked_at(paper, sheet)
    ready = prepared(picture.gray, picture.dots)
    back, wide = np.linalg.inv(ready.matrix), picture.gray.shape[1]
    high = picture.gray.shape[0]
    chosen = np.zeros_like(ready.ink)
    corners_ = np.array([[x * wide, y * high, 1] for x, y in (box[:2], (box[2], box[1]), box[2:], (box[0], box[3]))])
    seen = (ready.matrix @ corners_.T)[:2].T
    cv2.fillPoly(chosen, [seen.astype(np.int32)], 255)
    found = outlines.outlines(ready.ink & chosen, ready.mm)

    def placed(x: float, y: float) -> tuple[float, float]:
        p = back @ (x, y, 1.0)
        return float(p[0] / p[2] / wide), float(p[1] / p[2] / wide)

    def inside(x: float, y: float) -> bool:
        return box[0] <= x <= box[2] and box[1] <= y * wide / high <= box[3]

    lines = [(*placed(s[0], s[1]), *placed(s[2], s[3])) for s in found.lines]
    scale = float(np.hypot(*(np.array(placed(1, 0)) - placed(0, 0))))
    circles = [(*placed(x, y), r * scale) for x, y, r in found.circles]
    return (
        tuple(s for s in lines if inside(s[0], s[1]) and inside(s[2], s[3])),
        tuple(c for c in circles if inside(c[0], c[1])),
    )
