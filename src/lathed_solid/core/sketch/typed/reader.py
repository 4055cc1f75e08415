"""Reading what drawing commands are made of: values, places, names of elements."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import NamedTuple

from ...names import refers
from ...quantity import ExpressionError, Scope, evaluate
from ..make.draw import Spot
from ..make.size import place
from ..model import ACROSS, ALONG, ORIGIN, Sketch, ends_of
from ..refusal import SketchError
from ..shadow import in_shadow

XY = tuple[float, float]
NAMES = {"axis": ALONG, "cross": ACROSS, "origin": ORIGIN}


class Command(NamedTuple):
    """``words`` say what will be drawn; ``draw`` makes the new sketch from the old one and what is chosen in it.

    Raises SketchError when that cannot be drawn.
    """

    words: str
    run: Callable[[Sketch, tuple[str, ...]], Sketch]

    def draw(self, sketch: Sketch, chosen: tuple[str, ...] = ()) -> Sketch:
        return self.run(sketch, chosen)


class Place(NamedTuple):
    """Where, in mm, the two coordinates as typed (None for polar and relative places), and a point it was named by."""

    at: XY
    texts: tuple[str, str] | None
    point: str = ""

    @property
    def spot(self) -> Spot:
        """The place as a click there would be taken: on the named point, the origin, or an axis it lies on."""
        if self.point or self.at == (0.0, 0.0):
            return Spot(*self.at, self.point or ORIGIN)
        on = ALONG if self.at[1] == 0.0 else ACROSS if self.at[0] == 0.0 else ""
        return Spot(*self.at, "", on)


class Reader:
    """One text being read. ``sketch`` lets places be named: ``p3``, ``p3.x,p7.y``, ``c1`` for a centre."""

    def __init__(self, text: str, scope: Scope, turned: bool, sketch: Sketch | None) -> None:
        self.text, self.scope, self.turned, self.sketch = text, scope, turned, sketch

    def error(self, message: str, position: int | None = None) -> ExpressionError:
        return ExpressionError(message, self.text, len(self.text) if position is None else position)

    # --- numbers
    def value(self, text: str, at: int, want: str = "length") -> float:
        try:
            return evaluate(text, self.scope, want)
        except ExpressionError as error:
            lead = len(text) - len(text.lstrip())
            raise ExpressionError(error.message, self.text, at + max(lead, error.position)) from None

    def count(self, text: str, at: int) -> int:
        value = self.value(text, at, "number")
        if value < 1 or abs(value - round(value)) > 1e-9:
            raise self.error("A count is a whole number above zero.", at)
        return round(value)

    def two(self, text: str, start: int) -> tuple[str, str]:
        """``40 x 20`` as two texts."""
        parts = re.split(r"\s+[xX×]\s*", text.strip())
        if len(parts) != 2 or not all(parts):
            raise self.error("Two sizes are needed, as in 40 x 20.", start + 1)
        return parts[0], parts[1]

    # --- places
    def places(self, start: int, many: int | None = None, end: int | None = None) -> list[Place]:
        """Places separated by spaces from ``start`` on. Expressions inside a place hold no spaces."""
        found: list[Place] = []
        for match in re.finditer(r"\S+", self.text[start:end]):
            read = self.place(match[0], start + match.start(), found[-1].at if found else (0.0, 0.0))
            found.append(self._joined(read))
        if many is not None and len(found) != many:
            raise self.error(f"This needs {many} places, as in 40,0.")
        return found

    def _joined(self, place: Place) -> Place:
        """Plain numbers that name the very place of an open end mean that end, as a click there would."""
        if self.sketch is None or place.point or any(refers(text) for text in place.texts or ()):
            return place
        points = self.sketch.points()
        # The outline of the face under the plate is only joined when it is named, or clicked.
        own = (c for c in self.sketch.curves() if not in_shadow(c.id))
        ends = {i for curve in own for i in ends_of(curve) or ()}
        here = (i for i in ends if math.dist((points[i].x, points[i].y), place.at) < 1e-9)
        return place._replace(point=min(here, default=""))

    def place(self, text: str, at: int, before: XY) -> Place:
        relative, body = text.startswith("@"), text.lstrip("@")
        lead = at + len(text) - len(body)
        if not relative and (named := self._named(text.strip())) is not None:
            return named
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
                return Place((clean(here[0] + along), clean(here[1] + across)), None)
            return self._two_numbers(first, second, lead, here, relative)
        raise self.error("A place has two numbers, as in 40,0 or 30<45, or is a point such as p3.", lead)

    def _two_numbers(self, first: str, second: str, lead: int, here: XY, relative: bool) -> Place:
        """X from one and Y from another: each a number, or that of a point (``p3.x``)."""
        x, taken_x = self._coordinate(first, lead, 0)
        y, taken_y = self._coordinate(second, lead + len(first) + 1, 1)
        texts = None if relative or taken_x or taken_y else (first, second)
        return Place((clean(here[0] + x), clean(here[1] + y)), texts)

    def _coordinate(self, text: str, at: int, k: int) -> tuple[float, bool]:
        match = re.fullmatch(r"\s*([A-Za-z][\w.]*)\.([xy])\s*", text)
        if match and (named := self._named(match[1])) is not None:
            return named.at[0 if match[2] == "x" else 1], True
        value = self.value(text, at)
        return (value / 2 if k == 1 and self.turned else value), False

    def _named(self, text: str) -> Place | None:
        """The place of an element called by its name; None when it is no name."""
        id_ = NAMES.get(text, text)
        if self.sketch is None or not re.fullmatch(r"[A-Za-z][\w.]*", text):
            return None
        try:
            at = place(self.sketch, id_)
        except (SketchError, AssertionError):
            return None
        centre = id_ if id_ == ORIGIN or id_ in self.sketch.points() else getattr(self.sketch.get(id_), "center", "")
        return Place(at, None, centre)

    def at(self, start: int, word: str = "at") -> tuple[str, int, Place]:
        """What stands before ``at``, where it begins, and the place behind it (the origin when there is none)."""
        match = re.search(rf"\b{word}\s+", self.text[start:], re.IGNORECASE)
        if match is None:
            return self.text[start:], start, Place((0.0, 0.0), None)
        # One place only, so its numbers may be mixed ones: at 5 3/4, 2 3/8.
        begun = start + match.end()
        return self.text[start : start + match.start()], start, self.place(self.text[begun:], begun, (0.0, 0.0))

    # --- elements by name
    def names(self, text: str, at: int) -> tuple[str, ...]:
        """Elements named one after the other."""
        found = []
        for match in re.finditer(r"[^\s,]+", text):
            id_ = NAMES.get(match[0], match[0])
            known = id_ in (ORIGIN, ALONG, ACROSS)
            if not known and (self.sketch is None or all(e.id != id_ for e in self.sketch.entities)):
                raise self.error(f"There is nothing called {match[0]} on the plate.", at + match.start())
            found.append(id_)
        return tuple(found)

    def parted(self, start: int, *words: str) -> dict[str, tuple[str, int]]:
        """The text from ``start`` cut at ``words``: each word's part and where it begins; "" for the part before."""
        pattern = "|".join(rf"\b{w}\b" for w in words)
        parts: dict[str, tuple[str, int]] = {}
        name, begun = "", start
        for match in re.finditer(pattern, self.text[start:], re.IGNORECASE):
            parts[name] = (self.text[begun : start + match.start()], begun)
            name, begun = match[0].lower(), start + match.end()
        parts[name] = (self.text[begun:], begun)
        return parts


def clean(value: float) -> float:
    """Without the dust that sines and cosines leave on an axis."""
    return round(value, 12) + 0.0


def spoken(place: Place) -> str:
    if place.point:
        return place.point
    if place.texts is not None:
        return ", ".join(place.texts)
    return "the origin" if place.at == (0.0, 0.0) else f"{place.at[0]:.4g}, {place.at[1]:.4g}"
