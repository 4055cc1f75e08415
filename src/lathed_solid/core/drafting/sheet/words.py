"""How wide text is in the typeface of our sheets, and where long notes are parted."""

from __future__ import annotations

from functools import cache, lru_cache
from importlib import resources

from fontTools.ttLib import TTFont

#: Height of capitals of callouts (ISO 3098-1 series), mm.
HEIGHT = 2.5
#: Height of capitals in the typeface, as a share of its size.
CAPITALS = 0.729
#: What the typeface may lack, as it is said; signs of word processors.
SAID = {"⟂": "perp ", "⌀": "Ø", "’": "'", "“": '"', "”": '"', "…": "..."}
#: Of a line of text: from its base to the next one's, times the height of its capitals.
LEADING = 1.7


@cache
def _widths() -> tuple[dict[int, float], float]:
    with resources.as_file(resources.files("lathed_solid") / "fonts" / "LathedSheet.ttf") as path:
        font = TTFont(path, lazy=True)
        glyphs, metrics, units = font.getBestCmap(), font["hmtx"].metrics, font["head"].unitsPerEm
        found = {code: metrics[name][0] / units for code, name in glyphs.items()}
        font.close()
    return found, found[ord("?")]


@lru_cache(8192)
def width(text: str, height: float) -> float:
    """How wide a line of text is (mm) with capitals ``height`` mm high."""
    widths, unknown = _widths()
    return sum(widths.get(ord(c), unknown) for c in text) * height / CAPITALS


def drawable(text: str) -> str:
    """What the typeface lacks, in short words of the trade."""
    widths, _ = _widths()
    return "".join(c if ord(c) in widths else SAID.get(c, "?") for c in text)


def parted(text: str, height: float, most: float) -> list[str]:
    """The text in lines no wider than ``most`` mm, parted at spaces, about equally long; a longer word stays whole."""
    lines = _filled(text, height, most)
    if len(lines) > 1:
        low, high = most / len(lines), most
        while high - low > 1.0:
            amid = (low + high) / 2
            low, high = (low, amid) if len(_filled(text, height, amid)) == len(lines) else (amid, high)
        lines = _filled(text, height, high)
    return lines


def _filled(text: str, height: float, most: float) -> list[str]:
    lines: list[str] = []
    for word in text.split(" "):
        if lines and width(f"{lines[-1]} {word}", height) <= most:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines
