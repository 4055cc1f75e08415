"""The room round the part: how bright it is in every direction, sharp and blurred."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np
from scipy.ndimage import gaussian_filter

from ...arrays import Floats
from .model import Ground, Light

_WIDE, _HIGH = 512, 256
#: Blurs of the room (rows of the map), sharpest first; a spread of reflection picks between them.
_BLURS = (0, 3, 8, 20, 45)
#: A spread of half a radian looks into the last blur.
_SPREAD = 8.0


class _Box(NamedTuple):
    """A bright (or dark) field of the room: the middle (degrees to the right of the camera, which has the part before
    it), half its width, from and to what height (degrees), and how bright.
    """

    at: float
    wide: float
    low: float
    high: float
    bright: float


class _Setting(NamedTuple):
    """``walls`` brightness at heights -90, -15, 0, 35 and 90 degrees; ``exposure`` of the picture."""

    walls: tuple[float, float, float, float, float]
    boxes: tuple[_Box, ...]
    exposure: float


_SETTINGS: dict[Light, _Setting] = {
    "workshop window": _Setting(
        (0.16, 0.20, 0.32, 0.42, 0.50),
        (_Box(-58, 30, 10, 60, 2.7), _Box(68, 22, 10, 70, 1.1), _Box(-160, 26, 12, 50, 1.1), _Box(0, 360, 74, 90, 1.2)),
        1.9,
    ),
    "soft tent": _Setting((0.45, 0.55, 0.75, 0.95, 1.10), (_Box(0, 9, -20, 60, 0.25), _Box(0, 360, 66, 90, 1.3)), 1.35),
    "two lamps": _Setting(
        (0.08, 0.10, 0.15, 0.18, 0.22),
        (_Box(-62, 13, 18, 50, 6.5), _Box(74, 13, 25, 58, 4.5), _Box(0, 360, 80, 90, 0.8)),
        2.2,
    ),
    "dark bench": _Setting(
        (0.02, 0.03, 0.05, 0.06, 0.08),
        (_Box(-118, 20, 0, 70, 4.5), _Box(122, 20, 0, 70, 4.0), _Box(-40, 8, 20, 60, 0.9), _Box(0, 360, 78, 90, 1.4)),
        2.2,
    ),
}
#: How bright the ground is, as the part mirrors it.
_GROUND: dict[Ground, float] = {"paper": 0.42, "white": 0.5, "slate": 0.07, "clear": 0.4}


class Room(NamedTuple):
    """``maps`` (blurs, rows, columns), from above downwards and once round from the camera to its right."""

    maps: Floats
    exposure: float
    ground: float

    def bright(self, ways: Floats, spread: Floats) -> Floats:
        """Brightness towards unit ``ways`` (n, 3: at the camera, to its right, up), each blurred by a ``spread`` (n,)
        in radians. Below level the ground is seen.
        """
        across = ((np.arctan2(ways[:, 1], ways[:, 0]) / (2 * np.pi)) % 1 * _WIDE).astype(int) % _WIDE
        rise = np.arcsin(np.clip(ways[:, 2], -1, 1)) / np.pi
        down = np.clip(((0.5 - rise) * _HIGH).astype(int), 0, _HIGH - 1)
        level = np.clip(spread * _SPREAD, 0, len(_BLURS) - 1.001)
        low = level.astype(int)
        share = (level - low).astype(np.float32)
        found: Floats = self.maps[low, down, across] * (1 - share) + self.maps[low + 1, down, across] * share
        return found


@lru_cache(maxsize=16)
def room(light: Light, ground: Ground) -> Room:
    setting = _SETTINGS[light]
    height = (0.5 - (np.arange(_HIGH) + 0.5) / _HIGH) * 180
    around = (np.arange(_WIDE) + 0.5) / _WIDE * 360
    field = np.repeat(np.interp(height, [-90, -15, 0, 35, 90], setting.walls)[:, None], _WIDE, axis=1)
    for box in setting.boxes:
        off = np.abs((around - box.at + 180) % 360 - 180)
        rise = np.clip((height - box.low) / 6, 0, 1) * np.clip((box.high - height) / 6, 0, 1)
        if box.high >= 90:
            rise = np.clip((height - box.low) / 6, 0, 1)
        share = np.clip((box.wide - off) / 8, 0, 1)[None, :] * rise[:, None]
        field = field * (1 - share) + box.bright * share
    floor = np.clip((-height - 1) / 10, 0, 1)[:, None]
    lit = gaussian_filter(field[_HIGH // 3], 40, mode="wrap")  # the ground is brighter towards the window
    field = field * (1 - floor) + _GROUND[ground] * np.clip(lit / lit.mean(), 0.5, 1.8)[None, :] * floor
    maps = [field if not h else gaussian_filter(field, (h, 1.6 * h), mode=("nearest", "wrap")) for h in _BLURS]
    return Room(np.stack(maps).astype(np.float32), setting.exposure, _GROUND[ground])
