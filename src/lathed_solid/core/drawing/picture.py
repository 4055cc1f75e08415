"""Scanned and photographed drawings: PNG, JPEG, TIFF."""

from __future__ import annotations

import io
import warnings

from PIL import Image, ImageOps

from .paper import MAX_SHEETS, CannotRead, Kind, Raster, Word, pixels

#: Pixels of one picture; beyond this it is not unpacked.
MAX_PICTURE = 60_000_000
_FORMATS = ("PNG", "JPEG", "TIFF")


def _stated_dots(image: Image.Image) -> float:
    """Dots an inch by the file's own word; 0 where it has none, or none that can be meant."""
    stated = image.info.get("dpi", (0, 0))
    try:
        across, down = float(stated[0]), float(stated[1])
    except (TypeError, ValueError, IndexError, ZeroDivisionError):
        return 0.0
    return across if 0 < across < 1e4 and abs(across - down) < 0.01 * across else 0.0


class PicturePaper:
    """A picture, one sheet a frame; sheet units are pixels."""

    kind: Kind = "picture"

    def __init__(self, data: bytes, name: str) -> None:
        """Raises CannotRead for broken pictures and for such that would fill the memory."""
        self._name, self._data = name, data
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore", Image.DecompressionBombWarning)
                with Image.open(io.BytesIO(data), formats=_FORMATS) as image:
                    self.sheets = min(getattr(image, "n_frames", 1), MAX_SHEETS)
                    for frame in range(self.sheets):
                        image.seek(frame)
                        if image.width * image.height > MAX_PICTURE:
                            raise CannotRead(
                                f"{name} has {image.width} x {image.height} pixels, more than can be shown. "
                                "Save it smaller (300 dots an inch is plenty)."
                            )
        except Image.DecompressionBombError as error:
            raise CannotRead(f"{name} unpacks to far more pixels than can be shown. Save it smaller.") from error
        except (OSError, ValueError, SyntaxError, EOFError, TypeError) as error:
            raise CannotRead(f"{name} is damaged and cannot be read.") from error
        self._at = 0
        self._load(1)

    def _load(self, sheet: int) -> Image.Image:
        """The frame of a sheet, unpacked; one is kept."""
        if self._at != sheet:
            try:
                with warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    with Image.open(io.BytesIO(self._data), formats=_FORMATS) as image:
                        image.seek(sheet - 1)
                        self._frame = ImageOps.exif_transpose(image).convert("RGB")
                        self._dots = _stated_dots(image)
            except (OSError, ValueError, SyntaxError, EOFError, TypeError, Image.DecompressionBombError) as error:
                raise CannotRead(f"Sheet {sheet} of {self._name} is damaged and cannot be read.") from error
            self._at = sheet
        return self._frame

    def size(self, sheet: int) -> tuple[float, float]:
        frame = self._load(sheet)
        return float(frame.width), float(frame.height)

    def dimensions(self, sheet: int) -> tuple[tuple[str, float, float], ...]:
        return ()

    def sizes(self, sheet: int) -> tuple[Word, ...]:
        return ()

    def natural_scale(self) -> float:
        return 0.0

    def dots(self, sheet: int) -> float:
        self._load(sheet)
        return self._dots

    def render(self, sheet: int, box: tuple[float, float, float, float], width: int) -> Raster:
        frame = self._load(sheet)
        across, down = pixels(self, sheet, box, width)
        w, h = frame.size
        area = (box[0] * w, box[1] * h, box[2] * w, box[3] * h)
        enlarged = across > (area[2] - area[0])
        how = Image.Resampling.BICUBIC if enlarged else Image.Resampling.BOX
        inside = (max(0.0, area[0]), max(0.0, area[1]), min(float(w), area[2]), min(float(h), area[3]))
        if inside == area:
            made = frame.resize((across, down), how, box=area)
        else:
            made = Image.new("RGB", (across, down), "white")
            k = across / (area[2] - area[0])
            part = (max(1, round((inside[2] - inside[0]) * k)), max(1, round((inside[3] - inside[1]) * k)))
            if inside[2] > inside[0] and inside[3] > inside[1]:
                placed = (round((inside[0] - area[0]) * k), round((inside[1] - area[1]) * k))
                made.paste(frame.resize(part, how, box=inside), placed)
        return Raster(across, down, made.tobytes())

    def words(self, sheet: int) -> tuple[Word, ...]:
        return ()
