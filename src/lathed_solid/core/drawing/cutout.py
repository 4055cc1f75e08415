"""Cut-outs: the piece of a sheet that shows a callout's original number."""

from __future__ import annotations

import io

from .paper import Paper

#: Width of the piece as a share of the sheet's larger side, its height as a share of that, and its pixels.
_SHARE, _PROPORTION, _PIXELS = 0.16, 0.42, 480


def cut_out(paper: Paper, sheet: int, x: float, y: float, turned: int = 0) -> bytes:
    """A PNG of the surroundings of a place, turned as the sheet is looked at."""
    from PIL import Image  # slow to load

    width, height = paper.size(sheet)
    side = _SHARE * max(width, height)
    across, down = (side, side * _PROPORTION) if turned % 2 == 0 else (side * _PROPORTION, side)
    left, top = _inside(x, across / width), _inside(y, down / height)
    box = (left, top, left + min(1.0, across / width), top + min(1.0, down / height))
    raster = paper.render(sheet, box, _PIXELS if turned % 2 == 0 else round(_PIXELS * _PROPORTION))
    image = Image.frombytes("RGB", (raster.width, raster.height), raster.rgb).convert("L")
    if turned % 4:
        image = image.rotate(-90 * turned, expand=True)
    out = io.BytesIO()
    image.quantize(16).save(out, "PNG", optimize=True)
    return out.getvalue()


def _inside(middle: float, share: float) -> float:
    """Where a piece begins so that it lies on the sheet."""
    return min(max(0.0, middle - share / 2), max(0.0, 1.0 - share))
