"""What is wanted of a picture: where the eye stands, its lens, the light, the ground, and how finely it is made."""

from __future__ import annotations

import math
import re
from typing import Literal

import msgspec

from ...drafting.looking import Up, axes_of_standing
from ...kernel.ground.figures import Vector
from ...refusal import Refusal

Light = Literal["workshop window", "soft tent", "two lamps", "dark bench"]
LIGHTS: tuple[Light, ...] = ("workshop window", "soft tent", "two lamps", "dark bench")
Ground = Literal["paper", "white", "slate", "clear"]
GROUNDS: tuple[Ground, ...] = ("paper", "white", "slate", "clear")
#: One picture, a turn round the part, or a sheet of all its parts.
Kind = Literal["still", "turn", "parts"]
#: How many times light is gathered for every pixel.
Quality = Literal["draft", "good", "fine"]
PASSES: dict[Quality, int] = {"draft": 3, "good": 12, "fine": 40}
#: What is cut away: nothing, a quarter, or all before the plane of zero that is square to an axis.
CutAway = Literal["", "quarter", "half"]
#: Pictures offered; any other size may be typed.
SIZES = ((1280, 960), (1600, 1200), (1920, 1080), (2400, 1800))
_LEAST, _MOST, _PIXELS = 64, 6000, 16_000_000
_LENSES = (15.0, 400.0)


class NoPicture(Refusal):
    """A picture that cannot be made as it is wanted."""


class Shot(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``turn`` (degrees, from straight in front to the right) and ``height`` (degrees above level) say where the eye
    stands about the part, ``up`` which machine axis is up; ``lens`` is a focal length on a 36 mm wide frame. ``apart``
    is how far an assembly is pulled apart (0 to 1). The same shot gives the same picture.
    """

    turn: float = 35.0
    height: float = 24.0
    up: Up = "z"
    lens: float = 85.0
    light: Light = "workshop window"
    ground: Ground = "paper"
    shadow: bool = True
    size: tuple[int, int] = SIZES[0]
    quality: Quality = "good"
    cut: CutAway = ""
    apart: float = 0.0

    def toward_eye(self) -> Vector:
        """The unit direction from the part to the eye, in machine axes."""
        front, up, right = axes_of_standing(self.up)
        t, h = math.radians(self.turn), math.radians(self.height)
        shares = (math.cos(h) * math.cos(t), math.sin(h), math.cos(h) * math.sin(t))
        x, y, z = (sum(s * way[k] for s, way in zip(shares, (front, up, right), strict=True)) for k in range(3))
        return x, y, z


_SIZE = re.compile(r"^\s*(\d{1,5})\s*[x×*]\s*(\d{1,5})\s*$")


def pixels(text: str) -> tuple[int, int]:
    """Pixels across and up, of ``1600 x 1200``. Raises NoPicture."""
    match = _SIZE.match(text)
    if match is None:
        raise NoPicture(f"“{text}” is no size. Type pixels across and up: 1600 x 1200.")
    return int(match[1]), int(match[2])


def turned_to(eye: Vector, up: Up) -> tuple[float, float]:
    """The ``turn`` and ``height`` (degrees, rounded to tenths) of a shot from that direction, machine axes."""
    front, over, right = axes_of_standing(up)
    size = math.hypot(*eye)
    level = [sum(a * b for a, b in zip(eye, way, strict=True)) / size for way in (front, over, right)]
    height = math.degrees(math.asin(max(-1.0, min(1.0, level[1]))))
    turn = math.degrees(math.atan2(level[2], level[0])) if abs(height) < 89.9 else 0.0
    return round(turn, 1), round(height, 1)


def checked(shot: Shot) -> Shot:
    """Raises NoPicture for one that cannot be made."""
    wide, high = shot.size
    if not (_LEAST <= wide <= _MOST and _LEAST <= high <= _MOST and wide * high <= _PIXELS):
        raise NoPicture(
            f"A picture of {wide} x {high} pixels is not made: each side is {_LEAST} to {_MOST}, and all of it no more "
            f"than {_PIXELS // 1_000_000} million pixels."
        )
    if not _LENSES[0] <= shot.lens <= _LENSES[1]:
        raise NoPicture(f"The lens is {_LENSES[0]:g} to {_LENSES[1]:g} mm (85 looks natural, 200 hardly narrows).")
    if not (abs(shot.height) <= 90 and math.isfinite(shot.turn)):
        raise NoPicture("The eye stands at most 90 degrees above or below the part.")
    return shot
