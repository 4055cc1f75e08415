"""The colours of a workshop's paper and marking-out plate."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from PyQt6.QtGui import QColor


class Palette(NamedTuple):
    """Names say what a colour is for. All are sRGB hex."""

    paper: str
    panel: str
    raised: str
    ink: str
    faint: str
    rule: str
    brass: str
    brass_wash: str
    plate_top: str
    plate_bottom: str
    scribe: str
    construction: str
    gold: str
    good: str
    warn: str
    out: str
    bar: str
    bar_ink: str
    bar_field: str
    ground_top: str
    ground_bottom: str

    def color(self, name: str, alpha: float = 1.0) -> QColor:
        return _made(getattr(self, name), alpha)


@lru_cache(maxsize=256)
def _made(hex_: str, alpha: float) -> QColor:
    made = QColor(hex_)
    made.setAlphaF(alpha)
    return made


LIGHT = Palette(
    paper="#EDEAE2",
    panel="#F7F5F0",
    raised="#FFFFFF",
    ink="#22282E",
    faint="#62676C",
    rule="#C8C2B4",
    brass="#8A5F1C",
    brass_wash="#EFE0C4",
    plate_top="#123A5C",
    plate_bottom="#0E2F4B",
    scribe="#DDEBF4",
    construction="#6C9BBE",
    gold="#F2C14E",
    good="#2F7D4F",
    warn="#A9640C",
    out="#B3382C",
    bar="#22282E",
    bar_ink="#E9E6DE",
    bar_field="#343C44",
    ground_top="#EFECE5",
    ground_bottom="#D3D5D4",
)

DARK = Palette(
    paper="#1C2126",
    panel="#242A30",
    raised="#2D343B",
    ink="#E6E2D8",
    faint="#A0A6A9",
    rule="#3E464D",
    brass="#D9A441",
    brass_wash="#453A24",
    plate_top="#10324F",
    plate_bottom="#0B2539",
    scribe="#DDEBF4",
    construction="#6C9BBE",
    gold="#F2C14E",
    good="#63B985",
    warn="#E0A243",
    out="#EC7A6D",
    bar="#14181C",
    bar_ink="#E6E2D8",
    bar_field="#2A3138",
    ground_top="#3A4148",
    ground_bottom="#262C32",
)
