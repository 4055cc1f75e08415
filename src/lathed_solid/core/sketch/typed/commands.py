"""Drawing by typing: ``line 0,0 40,0 @0,20``, ``circle Ø20 at 12,8``, ``slot 8 x 32 at 0,0``.

Places are ``x,y`` from the origin, ``@x,y`` from the place before, ``30<45`` and ``@30<45`` by distance and angle. In a
turned profile the second number is a diameter. Every number is an expression and may name a callout. Sizes that are
typed become sizes of the sketch, with the text as typed.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import NamedTuple

from ...quantity import ExpressionError, Scope, evaluate
from ..make import draw, shapes
from ..model import Sketch

WORDS = ("line", "rect", "circle", "arc", "polygon", "slot")
XY = tuple[float, float]


class Command(NamedTuple):
    """``words`` say what will be drawn; ``draw`` makes the new sketch. Raises ValueError when that cannot be drawn."""

    words: str
    draw: Callable[[Sketch], Sketch]


class Place(NamedTuple):
    """Where, in mm, and the two coordinates as typed (None for polar and relative places)."""

    at: XY
    texts: tuple[str, str] | None


def is_command(text: str) -> bool:
    """Whether a text begins like a drawing command."""
    return text.strip().partition(" ")[0].lower() in WORDS


def read_command(text: str, scope: Scope, turned: bool) -> Command:
    """The command a text gives. Raises ExpressionError pointing at the place that does not fit."""
    return _Reader(text, scope, turned).command()


class _Reader:
    def __init__(self, text: str, scope: Scope, turned: bool) -> None:
        self.text, self.scope, self.turned = text, scope, turned

    def error(self, message: str, position: int | None = None) -> ExpressionError:
        return ExpressionError(message, self.text, len(self.text) if position is None else position)

    def command(self) -> Command:
        word = self.text.strip().partition(" ")[0].lower()
        start = self.text.lower().index(word) + len(word)
        read = {
            "line": self._line, "rect": self._rect, "circle": self._circle, "arc": self._arc, "polygon": self._polygon,
            "slot": self._slot,
        }[word]  # fmt: skip
        return read(start)

    # --- numbers and places
    def value(self, text: str, at: int, want: str = "length") -> float:
        try:
            return evaluate(text, self.scope, want)
        except ExpressionError as error:
            lead = len(text) - len(text.lstrip())
            raise ExpressionError(error.message, self.text, at + max(lead, error.position)) from None

    def places(self, start: int, many: int | None = None) -> list[Place]:
        """Places separated by spaces from ``start`` on. Expressions inside a place hold no spaces."""
        found: list[Place] = []
        for match in re.finditer(r"\S+", self.text[start:]):
            found.append(self._place(match[0], start + match.start(), found[-1].at if found else (0.0, 0.0)))
        if many is not None and len(found) != many:
            raise self.error(f"This needs {many} places, as in 40,0.")
        return found

    def _place(self, text: str, at: int, before: XY) -> Place:
        relative, body = text.startswith("@"), text.lstrip("@")
        lead = at + len(text) - len(body)
        for sign in "<,":
            first, found, second = body.partition(sign)
            if not found:
                continue
            if not first or not second:
                raise self.error("A place has two numbers, as in 40,0 or 30<45.", lead)
            here = before if relative else (0.0, 0.0)
            if sign == "<":
                far, turn = self.value(first, lead), self.value(second, lead + len(first) + 1, "angle")
                along, across = far * math.cos(turn), far * math.sin(turn)
                return Place((_clean(here[0] + along), _clean(here[1] + across)), None)
            x, y = self.value(first, lead), self.value(second, lead + len(first) + 1)
            y = y / 2 if self.turned else y
            return Place((_clean(here[0] + x), _clean(here[1] + y)), None if relative else (first, second))
        raise self.error("A place has two numbers, as in 40,0 or 30<45.", lead)

    def _at(self, start: int) -> tuple[str, int, Place]:
        """What stands before ``at``, where it begins, and the place behind it (the origin when there is none)."""
        match = re.search(r"\bat\s+", self.text[start:], re.IGNORECASE)
        if match is None:
            return self.text[start:], start, Place((0.0, 0.0), None)
        # One place only, so its numbers may be mixed ones: at 5 3/4, 2 3/8.
        begun = start + match.end()
        return self.text[start : start + match.start()], start, self._place(self.text[begun:], begun, (0.0, 0.0))

    def _two(self, text: str, start: int) -> tuple[str, str]:
        """``40 x 20`` as two texts."""
        parts = re.split(r"\s+[xX×]\s*", text.strip())
        if len(parts) != 2 or not all(parts):
            raise self.error("Two sizes are needed, as in 40 x 20.", start + 1)
        return parts[0], parts[1]

    # --- shapes
    def _line(self, start: int) -> Command:
        body = self.text[start:].rstrip()
        closed = body.lower().endswith("close")
        if closed:
            self.text = self.text[: start + len(body) - len("close")]
        places = self.places(start)
        if len(places) < 2 + closed:
            raise self.error(f"A {'closed line' if closed else 'line'} needs {2 + closed} places, as in line 0,0 40,0.")
        many = len(places) - 1 + closed
        words = f"{many} line{'s' * (many > 1)}" + (", closed" if closed else "")
        return Command(words, lambda s: shapes.add_polyline(s, [p.at for p in places], closed)[0])

    def _rect(self, start: int) -> Command:
        if not re.search(r"\s[xX×]\s*", self.text[start:]):
            a, b = self.places(start, 2)
            corners = [a.at, (b.at[0], a.at[1]), b.at, (a.at[0], b.at[1])]
            return Command("a rectangle from corner to corner", lambda s: shapes.add_polyline(s, corners, True)[0])
        text, at, place = self._at(start)
        wide, high = self._two(text, at)
        width, height = self.value(wide, self.text.index(wide, at)), self.value(high, self.text.index(high, at))

        def made(sketch: Sketch) -> Sketch:
            sketch, middle = shapes.place_point(sketch, place.at, place.texts)
            sketch, (low, right, top, left) = shapes.add_centred_rectangle(sketch, middle, width, height)
            sketch = shapes.sized(sketch, "distance", (left, right), wide)
            return shapes.sized(sketch, "distance", (low, top), high)

        return Command(f"a rectangle {wide} x {high} about {_spoken(place)}", made)

    def _circle(self, start: int) -> Command:
        text, at, place = self._at(start)
        match = re.fullmatch(r"\s*(Ø|ø|dia\s|R)\s*(.+)", text, re.IGNORECASE)
        if match is None:
            raise self.error("A circle needs its size, as in circle Ø20 at 12,8 or circle R10.", at + 1)
        is_radius = match[1].upper() == "R"
        size = self.value(match[2], at + match.start(2))
        radius = size if is_radius else size / 2
        if radius <= 0:
            raise self.error("A circle needs a size above zero.", at + match.start(2))

        def made(sketch: Sketch) -> Sketch:
            sketch, middle = shapes.place_point(sketch, place.at, place.texts)
            sketch, circle = draw.add_circle(sketch, draw.Spot(*place.at, middle), radius)
            return shapes.sized(sketch, "radius" if is_radius else "diameter", (circle,), match[2])

        return Command(f"a circle {'R' if is_radius else 'Ø'}{match[2].strip()} about {_spoken(place)}", made)

    def _arc(self, start: int) -> Command:
        a, b, over = self.places(start, 3)
        spots = [draw.Spot(*p.at) for p in (a, b, over)]
        return Command("an arc between two places over a third", lambda s: draw.add_arc(s, *spots)[0])

    def _polygon(self, start: int) -> Command:
        text, at, place = self._at(start)
        match = re.fullmatch(r"\s*(\d+)\s+(A/F|AF|A/C|AC)\s+(.+)", text, re.IGNORECASE)
        if match is None:
            raise self.error(
                "A polygon needs its sides and size, as in polygon 6 A/F 13 at 0,0 (A/C: corners).", at + 1
            )
        sides, flats = int(match[1]), match[2].upper() in ("A/F", "AF")
        size = self.value(match[3], at + match.start(3))
        if flats and sides % 2:
            raise self.error(
                "Only polygons of an even number of sides have flats across. Use A/C.", at + match.start(2)
            )
        corners = size / math.cos(math.pi / sides) if flats else size

        def made(sketch: Sketch) -> Sketch:
            sketch, middle = shapes.place_point(sketch, place.at, place.texts)
            sketch, circle, lines = shapes.add_polygon(sketch, middle, sides, corners)
            if flats:
                return shapes.sized(sketch, "distance", (lines[0], lines[sides // 2]), match[3])
            return shapes.sized(sketch, "diameter", (circle,), match[3])

        across = "flats" if flats else "corners"
        return Command(f"{sides} sides, {match[3].strip()} across {across}, about {_spoken(place)}", made)

    def _slot(self, start: int) -> Command:
        text, at, place = self._at(start)
        wide, long = self._two(text, at)
        width, length = self.value(wide, self.text.index(wide, at)), self.value(long, self.text.index(long, at))

        def made(sketch: Sketch) -> Sketch:
            sketch, middle = shapes.place_point(sketch, place.at, place.texts)
            sketch, spine, (low, high) = shapes.add_slot(sketch, middle, length, width)
            line = next(e for e in sketch.entities if e.id == spine)
            sketch = shapes.sized(sketch, "distance", (line.a, line.b), long)  # type: ignore[union-attr]
            return shapes.sized(sketch, "distance", (low, high), wide)

        return Command(f"a slot {wide} wide, {long} between centres, about {_spoken(place)}", made)


def _clean(value: float) -> float:
    """Without the dust that sines and cosines leave on an axis."""
    return round(value, 12) + 0.0


def _spoken(place: Place) -> str:
    if place.texts is not None:
        return ", ".join(place.texts)
    return "the origin" if place.at == (0.0, 0.0) else f"{place.at[0]:.4g}, {place.at[1]:.4g}"
