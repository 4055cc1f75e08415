"""Reading one note: from its text to the characteristics it states, with limits.

The grammar gives a row of items; here each finds its place: what is the main size, which depth belongs to the drill,
which to the seat. Formulas and references to other callouts are worked out in the ledger's scope.
"""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable
from functools import lru_cache

from lark import Lark, Tree, UnexpectedInput

from ..quantity import ExpressionError, Scope
from ..quantity.expression import Misplaced, Node, bounded, misfit
from ..quantity.parsers import make_parser
from ..standards.tables import NotTabled
from ..units import FOOT
from . import items
from .complete import completions
from .grammar import NOTE, NOTE_WORDS, UNSAID
from .holes import HoleItems
from .limits import General
from .model import KEYS, Flag, Reading

NoteError = ExpressionError


@lru_cache(maxsize=1)
def _parser() -> Lark:
    return make_parser(NOTE, "note")


@lru_cache(maxsize=2048)
def _tree(note: str) -> Node:
    if not note.strip():
        raise NoteError("Nothing is typed. Expected a size, as in Ø12 h6, 22, R1, 1 x 45° or M6x1 - 6H.", note, 0)
    bounded(note)
    try:
        return _parser().parse(note)
    except UnexpectedInput as error:
        raise _plainly(misfit(error, note, NOTE_WORDS, UNSAID)) from None


def _plainly(error: NoteError) -> NoteError:
    """At the start nearly anything may stand, so say what a note looks like; name an unknown word whole."""
    word = re.match(r"[^\W\d_]{2,}", error.text[error.position :])
    if error.position == 0:
        found = word[0] if word else error.text[0]
        message = f"“{found}” does not fit here. Expected a size, as in Ø12 h6, 22, R1, 1 x 45° or M6x1 - 6H."
        return NoteError(message, error.text, 0)
    if word and isinstance(error, Misplaced):
        return NoteError(re.sub("“[^”]*”", f"“{word[0]}”", error.message, count=1), error.text, error.position)
    return error


def read_note(note: str, scope: Scope, rule: General = "m") -> Reading:
    """The meaning of ``note``; sizes without limits take the general tolerance ``rule``.

    Raises NoteError (an ExpressionError) pointing at the place that cannot be understood.
    """
    # A comma between digits is a decimal point on metric drawings; a list has a space behind its commas.
    if doubtful := re.search(r"\bat\s*\d+(,)\d", note, re.IGNORECASE):
        words = "One number or two? Write a decimal point for one, or a space behind the comma for x and y."
        raise NoteError(words, note, doubtful.start(1))
    bare, is_reference = _unwrapped(_pointed(note, scope.length_unit))
    return _Reader(bare, scope, rule, is_reference).reading()


def symbols_at(note: str, unit: str) -> tuple[int, ...]:
    """Where in a note each thing begins that it ends with of finish, form and place, and a datum's letter; none where
    it ends otherwise. Raises NoteError.
    """
    bare, is_reference = _unwrapped(_pointed(note, unit))
    nodes = () if is_reference else [n for n in _tree(bare).children if isinstance(n, Tree)]
    last = itertools.takewhile(lambda n: n.data in _SYMBOLS, reversed(nodes))
    return tuple(n.meta.start_pos for n in last)[::-1]


def _pointed(note: str, unit: str) -> str:
    return re.sub(r"(?<=\d),(?=\d)", ".", note) if unit == "mm" else note


def _unwrapped(note: str) -> tuple[str, bool]:
    """``(148)`` is a reference size: the brackets become spaces, so that places in messages stay right."""
    text = note.strip()
    if not (text.startswith("(") and text.endswith(")")):
        return note, False
    depth = 0
    for at, char in enumerate(text):
        depth += (char == "(") - (char == ")")
        if depth == 0 and at < len(text) - 1:
            return note, False
    start = note.index("(")
    end = note.rindex(")")
    return f"{note[:start]} {note[start + 1 : end]} {note[end + 1 :]}", True


class _Reader(HoleItems):
    """One pass over one note's items."""

    def __init__(self, note: str, scope: Scope, rule: General, is_reference: bool) -> None:
        super().__init__(note, scope, rule)
        self.flags: list[Flag] = ["REF"] if is_reference else []
        self.hexagon = False

    # --- the whole
    def reading(self) -> Reading:
        for node in _tree(self.note).children:
            if isinstance(node, Tree):
                _RULES[node.data](self, node)
        self._main_or_refuse()
        self._seat_is_wider()
        self._cones_have_angles()
        if "REF" in self.flags or "BASIC" in self.flags:
            self.unlimited("REF" if "REF" in self.flags else "BASIC")
        order = {key: at for at, key in enumerate(KEYS)}
        stated = tuple(sorted(self.found.values(), key=lambda c: order.get(c.key, len(KEYS))))
        reading = Reading(
            shape=self.shape,
            characteristics=stated,
            thru=self.thru,
            seat=self.seat,
            thread=self.thread,
            fit=self.fit,
            flags=tuple(sorted(set(self.flags))),
            clears=self.clears,
            seat_for=self.seat_for,
            percent=self.percent,
            hexagon=self.hexagon,
        )
        try:
            return completions(reading, self.scope.length_unit, self.rule)
        except NotTabled as error:
            raise self.error(error.message) from None

    def _main_or_refuse(self) -> None:
        if "" in self.found:
            main = self.found[""]
            if main.kind in ("diameter", "radius", "thread", "ratio") and main.nominal <= 0:
                raise self.error(f"A {main.kind} must be above zero; this is {main.nominal:g}.")
            return
        if "depth" in self.found and len(self.found) == 1:
            self.promote("depth", "length")  # "156 long" by itself is a length
        elif "drill" in self.found:
            self.promote("drill", "diameter")
            if "drill_depth" in self.found:
                self.promote("drill_depth", "length", key="depth")
        elif any(c.kind in ("finish", "geometric") for c in self.found.values()):
            self.shape = "surface"
            first = next(c for c in self.found.values() if c.kind in ("finish", "geometric"))
            self.promote(first.key, first.kind)
        elif self.seat:
            raise self.error(
                f"The hole's own size is missing. Write it with the {self.seat}, as in Ø5.5 THRU.", at_end=True
            )
        else:
            raise self.error("The size is missing. Expected a number, as in 6x Ø5.5.", at_end=True)

    def _seat_is_wider(self) -> None:
        seat, main = self.found.get("seat"), self.found[""]
        through = self.found.get("drill", main)
        if seat is not None and through.kind in ("diameter", "thread") and seat.nominal <= through.nominal:
            raise self.error("The seat is not wider than its hole.", self.nodes.get("seat"))

    def _cones_have_angles(self) -> None:
        for key, name in (("seat_angle", "countersink"), ("tip", "drill's tip")):
            if (angle := self.found.get(key)) is not None and not 0 < angle.nominal < math.pi:
                raise self.error(f"The angle of a {name} lies between 0° and 180°.", self.nodes.get(key))

    # --- sizes
    def main(self, shape: str, kind: str, node: Node) -> None:
        """The first size is the main one; a hole's second diameter beside a thread is its drill."""
        if "" in self.found:
            if shape == "diameter" and self.thread is not None and "drill" not in self.found:
                self.drill_of_thread(node)
                return
            raise self.error(
                f"Two sizes stand side by side. Say what “{self.slice(node)}” is, as in 5 deep or cbore Ø10.", node
            )
        self.shape = shape  # type: ignore[assignment]
        self.take("", kind, node)  # type: ignore[arg-type]

    def plain(self, node: Node) -> None:
        value = items.values_of(node)[0]
        is_angle = self.quantity(value).is_angle
        if is_angle and self.seat == "countersink" and "seat_angle" not in self.found:
            self.take("seat_angle", "angle", value)
            return
        self.main("angle" if is_angle else "length", "angle" if is_angle else "length", value)

    def diameter(self, node: Node) -> None:
        self.main("diameter", "diameter", items.values_of(node)[0])

    def diameter_deep(self, node: Node) -> None:
        size, depth = items.values_of(node)
        self.main("diameter", "diameter", size)
        self._deep(depth)

    def radius(self, node: Node) -> None:
        self.main("radius", "radius", items.values_of(node)[0])

    def sphere_radius(self, node: Node) -> None:
        self.main("sphere", "radius", items.values_of(node)[0])

    def sphere_diameter(self, node: Node) -> None:
        self.main("sphere", "diameter", items.values_of(node)[0])

    def square(self, node: Node) -> None:
        self.main("square", "length", items.values_of(node)[0])

    def flats(self, node: Node) -> None:
        self.hexagon = "hex" in items.words_of(node).lower()
        self.main("flats", "length", items.values_of(node)[0])

    def corners(self, node: Node) -> None:
        self.hexagon = "hex" in items.words_of(node).lower()
        self.main("corners", "length", items.values_of(node)[0])

    def groove(self, node: Node) -> None:
        """Bottom diameter and width."""
        bottom, width = items.values_of(node)
        self.main("groove", "diameter", bottom)
        self.take("length", "length", width)

    def undercut(self, node: Node) -> None:
        """Width and depth."""
        width, depth = items.values_of(node)
        self.main("undercut", "length", width)
        self.take("depth", "length", depth)

    def across(self, node: Node) -> None:
        self.main("length", "length", items.values_of(node)[0])
        self.flags.append("ACROSS BORE")

    def chamfer(self, node: Node) -> None:
        parts, words = items.values_of(node), items.words_of(node).lower()
        if len(parts) > 1 and self.quantity(parts[0]).is_angle:
            parts.reverse()
        self.shape = "chamfer"
        if "" in self.found:
            raise self.error("A chamfer stands by itself, or with a count.", node)
        self.take("", "length", parts[0])
        if self.found[""].nominal <= 0:
            raise self.error("A chamfer must be above zero.", node)
        if len(parts) == 1:
            self.put("angle", "angle", math.pi / 4, "45°")
        elif self.quantity(parts[1]).is_angle:
            self.take("angle", "angle", parts[1])
            if not 0 < self.found["angle"].nominal < math.pi / 2:
                raise self.error("A chamfer's angle lies between 0° and 90°.", parts[1])
        elif "cham" in words or "chfr" in words or "edge" in words:
            self.take("leg2", "length", parts[1])
        else:
            raise self.error("Two lengths: write 1 x 45° for a chamfer, or 1 x 2 CHAM for its two legs.", node)

    def taper_ratio(self, node: Node) -> None:
        first, second = (float(n) for n in re.findall(r"\d+(?:\.\d+)?", str(items.token(node, "RATIO"))))
        if not (first > 0 and second > 0):
            raise self.error("A taper's ratio has numbers above zero, as in 1:10.", node)
        self._taper(first / second, f"{first:g}:{second:g}", node)

    def taper_foot(self, node: Node) -> None:
        value = items.values_of(node)[0]
        per_foot = self.length(value, unit="in")
        self._taper(per_foot / FOOT, f"{self.slice(value)} PER FOOT", node)

    def taper_ends(self, node: Node) -> None:
        large, small, length = items.values_of(node)
        sizes = sorted((self.length(large), self.length(small)), reverse=True)
        run = self.length(length)
        if run <= 0 or sizes[1] < 0 or sizes[0] == sizes[1]:
            raise self.error("A taper needs two different diameters and a length above zero.", node)
        self.shape = "taper"
        if "" in self.found:
            raise self.error("A taper stands by itself.", node)
        if self.length(large) < self.length(small):
            large, small = small, large
        self.take("", "diameter", large)
        self.take("small", "diameter", small)
        self.take("length", "length", length)

    def _taper(self, ratio: float, written: str, node: Node) -> None:
        if "" in self.found:
            raise self.error("A taper stands by itself.", node)
        self.shape = "taper"
        self.put("", "ratio", ratio, written)

    def keyway(self, node: Node) -> None:
        parts, words = items.values_of(node), items.words_of(node).lower()
        if "" in self.found:
            raise self.error("A keyway stands by itself.", node)
        self.shape = "keyway"
        self.take("", "length", parts[0])
        self.depth_key = "depth"
        if len(parts) > 1:
            self.take("across" if "across" in words or "bore" in words else "depth", "length", parts[1])

    # --- places
    def count(self, node: Node) -> None:
        number = int(re.findall(r"\d+", str(node.children[0]))[0])
        if not 1 <= number <= 9999:
            raise self.error("A count is from 1 to 9999.", node)
        if number == 1 and re.search(r"\s[xX×]", str(node.children[0])):
            raise self.error("Write 1 x 45° for a chamfer, 1 x 2 CHAM for its two legs, or leave the 1 out.", node)
        self.put("count", "count", number, str(number))

    def circle(self, node: Node) -> None:
        self.take("circle", "diameter", items.values_of(node)[0])

    def circle_radius(self, node: Node) -> None:
        """Holes on a radius: their pitch circle is twice as wide."""
        value = items.values_of(node)[0]
        self.put("circle", "diameter", 2 * self.length(value), f"2*({self.slice(value)})", node=value)

    def at(self, node: Node) -> None:
        value = items.values_of(node)[0]
        angle = self.quantity(value).is_angle
        self.take("angle" if angle else "at", "angle" if angle else "length", value)

    def at_pair(self, node: Node) -> None:
        for key, value in zip(("x", "y"), items.values_of(node), strict=True):
            self.take(key, "length", value)

    # --- what else a note says
    def flag(self, node: Node) -> None:
        self.flags.append(items.flag(str(node.children[0])))

    def finish(self, node: Node) -> None:
        text = str(node.children[0])
        figure = re.findall(r"\d*\.?\d+", text)[0]
        inch = "in" in text or (self.scope.length_unit == "in" and "m" not in text)
        unit = "µin" if inch else "µm"
        self.put("finish", "finish", float(figure) * (0.0254 if inch else 1.0), f"Ra {figure} {unit}")

    def geometric(self, node: Node) -> None:
        name, figure, rest = items.geometric(str(node.children[0]))
        key = name.lower().replace(" ", "_")
        self.put(
            key, "geometric", self.in_unit(float(figure.lstrip("Ø"))), " ".join(filter(None, (name, figure, rest)))
        )

    def datum(self, node: Node) -> None:
        self.put("datum", "geometric", 0.0, f"DATUM {str(node.children[0])[-1]}")


_SYMBOLS = ("finish", "geometric", "datum")
_RULES: dict[str, Callable[[_Reader, Node], None]] = {
    name: getattr(_Reader, {"thru": "through", "percent": "percent_of_thread", "fit": "fit_class"}.get(name, name))
    for name in (
        "plain", "diameter", "diameter_deep", "radius", "sphere_radius", "sphere_diameter", "square", "flats",
        "across", "corners", "groove", "undercut", "circle_radius",
        "chamfer", "taper_ratio", "taper_foot", "taper_ends", "screw_thread", "clearance", "keyway",
        "count", "circle", "at", "at_pair", "thru", "depth", "depth_of_thread", "tapped", "counterbore", "spotface",
        "countersink", "counterbore_for", "countersink_for", "drill", "tip", "percent", "flag", "finish",
        "geometric", "datum", "symmetric", "minutes", "unequal", "fit", "extreme",
    )
}  # fmt: skip
