"""DXF drawings, through ezdxf: what they show, their words, dimensions and outlines."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from functools import cache
from importlib import resources
from itertools import islice, pairwise
from typing import TYPE_CHECKING, NamedTuple

import ezdxf
import ezdxf.recover
from ezdxf.disassemble import recursive_decompose, to_primitives
from ezdxf.entities.mtext import MText
from ezdxf.entities.text import Text as LineText
from ezdxf.tools.text import plain_mtext, plain_text
from PIL import Image, ImageDraw, ImageFont

from ..units import FOOT, INCH
from .dxf_blocks import unfolded
from .dxf_dimensions import dimension_notes
from .paper import CannotRead, Kind, Raster, Word, pixels, whole
from .ruling import Box, Ruling, sizes_only, square, straight

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ezdxf.document import Drawing
    from ezdxf.entities.dxfentity import DXFEntity
    from ezdxf.math import Vec3

#: Entities that are looked at, blocks taken apart; a file with more is not a drawing of a part.
MAX_ENTITIES = 100_000
MAX_VERTICES = 1_500_000
_UNITS = {1: INCH, 2: FOOT, 4: 1.0, 5: 10.0, 6: 1000.0}
#: Coordinates beyond this are no part of a drawing, drawing units.
_REACH = 1e5
#: A text with its codes is read so far; the library takes a minute for a million letters.
_LONGEST = 4000
XY = tuple[float, float]


_Line = tuple[float, float, float]


def _ball(flat: list[XY]) -> Box | None:
    """The box of a closed line that is a circle."""
    xs, ys = [p[0] for p in flat], [p[1] for p in flat]
    box = min(xs), min(ys), max(xs), max(ys)
    middle, radius = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), (box[2] - box[0]) / 2
    return box if all(abs(math.dist(p, middle) - radius) < 0.05 * radius for p in flat) else None


class Text(NamedTuple):
    """Text at its left end of the baseline, drawing units; ``angle`` radians."""

    text: str
    at: XY
    height: float
    angle: float


class DxfPaper:
    """A DXF's model space as one sheet; sheet units are the drawing's own."""

    kind: Kind = "dxf"
    sheets = 1

    def __init__(self, data: bytes, name: str) -> None:
        """Raises CannotRead for nonsense, empty and endless files."""
        self.document = _document(data, name)
        self.space = self.document.modelspace()
        self.lines: list[list[XY]] = []
        self.texts: list[Text] = []
        try:
            self._take_apart(name)
        except CannotRead:
            raise
        except Exception as error:  # the library raises anything at all on nonsense geometry
            raise CannotRead(f"{name} holds geometry that makes no sense ({type(error).__name__}).") from error
        points = [p for line in self.lines for p in line] + [c for t in self.texts for c in _corners(t)]
        if not points:
            raise CannotRead(f"{name} shows nothing: its model space is empty.")
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        width, height = max(xs) - min(xs), max(ys) - min(ys)
        rim = 0.04 * max(width, height, 1e-6)
        self.left, self.top = min(xs) - rim, max(ys) + rim
        self._size = (width + 2 * rim, height + 2 * rim)

    def _take_apart(self, name: str) -> None:
        if unfolded(self.document, self.space) > MAX_ENTITIES:
            raise CannotRead(f"{name} has more than {MAX_ENTITIES} entities; it is no drawing of one part.")
        vertices = 0
        for entity in recursive_decompose(self.space):
            kind = entity.dxftype()
            if kind in ("TEXT", "MTEXT", "ATTRIB"):
                self.texts += _texts(entity)
                continue
            if kind in ("HATCH", "IMAGE", "POINT", "VIEWPORT"):
                continue
            for primitive in to_primitives([entity]):
                if primitive.path is None:
                    continue
                if not _within_reach(primitive.path.control_vertices()):
                    continue  # flattened to hundredths it would fill the memory
                # A curve that would take for ever is left off before, not after, it has filled the memory.
                places = islice(primitive.path.flattening(distance=0.02, segments=8), MAX_VERTICES + 1)
                flat = [(v.x, v.y) for v in places]
                vertices += len(flat)
                if vertices > MAX_VERTICES:
                    raise CannotRead(f"{name} has far more lines than a drawing of a part.")
                if len(flat) > 1 and all(math.isfinite(c) and abs(c) < _REACH for p in flat for c in p):
                    self.lines.append(flat)

    # --- paper
    def size(self, sheet: int) -> tuple[float, float]:
        return self._size

    def dimensions(self, sheet: int) -> tuple[tuple[str, float, float], ...]:
        return (
            tuple((whole(note), *self.place(x, y)) for note, x, y in dimension_notes(self.space)) if sheet == 1 else ()
        )

    def sizes(self, sheet: int) -> tuple[Word, ...]:
        return sizes_only(self.words(sheet), self._ruling(sheet), self.size(sheet))

    def _ruling(self, sheet: int) -> Ruling:
        level, upright, rounds, squares = list[_Line](), list[_Line](), list[Box](), list[Box]()
        near = 1e-3 * self._size[0]
        for line in self.lines:
            flat = [(x - self.left, self.top - y) for x, y in line]
            if len(flat) > 8 and flat[0] == flat[-1] and (ball := _ball(flat)) is not None:
                rounds.append(ball)
                continue
            if (box := square(flat, near)) is not None:
                squares.append(box)
            for a, b in pairwise(flat):
                if found := straight(a, b, near):
                    (level if found[0] == "level" else upright).append(found[1])
        return Ruling(tuple(level), tuple(upright), tuple(rounds), tuple(squares))

    def natural_scale(self) -> float:
        return _UNITS.get(int(self.document.header.get("$INSUNITS", 0)), 0.0)

    def dots(self, sheet: int) -> float:
        return 0.0

    def place(self, x: float, y: float) -> tuple[float, float]:
        """A point of the drawing as fractions of the sheet."""
        return (x - self.left) / self._size[0], (self.top - y) / self._size[1]

    def render(self, sheet: int, box: tuple[float, float, float, float], width: int) -> Raster:
        across, down = pixels(self, sheet, box, width)
        fine = 2 if across * down < 4_000_000 else 1
        k = fine * across / ((box[2] - box[0]) * self._size[0])
        x0, y0 = self.left + box[0] * self._size[0], self.top - box[1] * self._size[1]
        image = Image.new("L", (across * fine, down * fine), 255)
        pen = ImageDraw.Draw(image)
        thick = max(1, round(1.2 * fine))
        for line in self.lines:
            pen.line([((x - x0) * k, (y0 - y) * k) for x, y in line], fill=25, width=thick)
        for text in self.texts:
            _write(image, text, ((text.at[0] - x0) * k, (y0 - text.at[1]) * k), text.height * k)
        if fine > 1:
            image = image.resize((across, down), Image.Resampling.BOX)
        return Raster(across, down, image.convert("RGB").tobytes())

    def words(self, sheet: int) -> tuple[Word, ...]:
        found = []
        for text in self.texts:
            corners = [self.place(*c) for c in _corners(text)]
            xs, ys = [p[0] for p in corners], [p[1] for p in corners]
            found.append(Word(text.text, min(xs), min(ys), max(xs), max(ys)))
        return tuple(found)


def _corners(text: Text) -> list[XY]:
    """The box of a text, from the shipped font's usual width."""
    lines = text.text.split("\n")
    length, below = 0.68 * text.height * max(len(line) for line in lines), -1.5 * (len(lines) - 1) * text.height
    c, s = math.cos(text.angle), math.sin(text.angle)
    flat = ((0.0, below), (length, below), (length, text.height), (0.0, text.height))
    return [(text.at[0] + u * c - v * s, text.at[1] + u * s + v * c) for u, v in flat]


@cache
def _font(size: int) -> ImageFont.FreeTypeFont:
    """The shipped face that has the drafting symbols."""
    data = (resources.files("lathed_solid") / "fonts" / "LathedSheet.ttf").read_bytes()
    return ImageFont.truetype(io.BytesIO(data), size)


def _within_reach(places: Iterable[Vec3]) -> bool:
    """Whether geometry lies near enough to zero, as any part does."""
    return all(math.isfinite(c) and abs(c) < _REACH for v in places for c in (v.x, v.y, v.z))


def _document(data: bytes, name: str) -> Drawing:
    try:
        if data.startswith(b"AutoCAD Binary DXF"):
            return ezdxf.recover.read(io.BytesIO(data))[0]
        return ezdxf.read(io.StringIO(data.decode("utf-8")))  # type: ignore[attr-defined]
    except Exception:
        pass
    try:
        return ezdxf.recover.read(io.BytesIO(data))[0]
    except Exception as error:  # whatever the library stumbles over, the file is no use
        raise CannotRead(f"{name} is no DXF that can be read. Save it again, as a 2007 or later DXF.") from error


def _texts(entity: DXFEntity) -> Iterator[Text]:
    if isinstance(entity, MText):
        words = str(plain_mtext(entity.text[:_LONGEST], split=False)).strip()
        height, at = float(entity.dxf.char_height), entity.dxf.insert
        angle = math.radians(entity.get_rotation())
        lines = words.split("\n")
        attachment = entity.dxf.get("attachment_point", 1)
        longest = 0.68 * height * max(len(line) for line in lines)
        across = (0.0, 0.5, 1.0)[(attachment - 1) % 3] * longest
        below = (1.0, 0.5, 0.0)[(attachment - 1) // 3] * height * (1 + 1.5 * (len(lines) - 1))
        up = -below + 1.5 * height * (len(lines) - 1)
        c, s = math.cos(angle), math.sin(angle)
        where = (at.x - across * c - up * s, at.y - across * s + up * c)
    elif isinstance(entity, LineText):
        words, height = plain_text(entity.dxf.text[:_LONGEST]).strip(), float(entity.dxf.height)
        angle = math.radians(entity.dxf.get("rotation", 0.0))
        placed = entity.get_placement()
        where = (placed[1].x, placed[1].y)
        if placed[2] is not None and placed[0].value in (1, 4):  # centred or middle
            where = (where[0] - 0.34 * height * len(words) * math.cos(angle), where[1])
    else:
        return
    sound = all(math.isfinite(v) and abs(v) < _REACH for v in (*where, height)) and height > 0
    if words and sound:
        yield Text(whole(words[:400]), where, height, angle)


def _write(image: Image.Image, text: Text, at: tuple[float, float], size: float) -> None:
    """Write text with its baseline's left end at ``at`` pixels; tiny or far outside is left out."""
    w, h = image.size
    if not 4 <= size <= 400 or not (-2 * w < at[0] < 2 * w and -2 * h < at[1] < 2 * h):
        return
    font = _font(round(1.37 * size))
    lines = text.text.split("\n")
    wide = max(int(font.getlength(line)) for line in lines) + 4
    high = int(1.5 * size * len(lines) + 0.8 * size)
    if wide * high > 4_000_000:
        return
    sheet = Image.new("L", (wide, high), 0)
    pen = ImageDraw.Draw(sheet)
    for n, line in enumerate(lines):
        pen.text((1, int(1.2 * size + 1.5 * size * n)), line, fill=255, font=font, anchor="ls")
    baseline = (1.0, 1.2 * size)
    if abs(text.angle) > 1e-3:
        sheet = sheet.rotate(math.degrees(text.angle), expand=True, resample=Image.Resampling.BICUBIC)
        cx, cy = baseline[0] - wide / 2, baseline[1] - high / 2
        c, s = math.cos(text.angle), math.sin(text.angle)
        baseline = (sheet.width / 2 + cx * c + cy * s, sheet.height / 2 - cx * s + cy * c)
    image.paste(25, (round(at[0] - baseline[0]), round(at[1] - baseline[1])), sheet)
