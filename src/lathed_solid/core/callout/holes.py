"""What notes say of holes and threads: threads, drills, depths, seats, clearance for a screw."""

from __future__ import annotations

import re
from collections.abc import Callable

from ..quantity import Scope
from ..quantity.expression import Node
from ..standards import drills, screws
from ..standards.tables import NotTabled
from ..standards.threads import ScrewThread, parse_designation
from . import items
from .limits import General
from .values import Values


class HoleItems(Values):
    """Items of holes and threads in any order; each depth goes to what was named before it."""

    def __init__(self, note: str, scope: Scope, rule: General) -> None:
        super().__init__(note, scope, rule)
        self.thru, self.seat = False, ""
        self.thread: ScrewThread | None = None
        self.clears = self.seat_for = ""
        self.percent: float | None = None
        #: What the next depth belongs to: the key it will get.
        self.depth_key = "depth"

    def drill_of_thread(self, node: Node) -> None:
        self.take("drill", "diameter", node)
        self.depth_key = "drill_depth"

    def screw_thread(self, node: Node) -> None:
        text, parts = str(node.children[0]), items.values_of(node)
        if self._is_fit(text):
            self.apply_fit(text, node)
            return
        depth = None
        found = re.fullmatch(r"(M\d+(?:\.\d+)?)\s*[xX×]\s*(\d*\.?\d+)", text)
        if found and not parts and float(found[2]) > float(found[1][1:]) / 1.5:
            # "M6 x 14" has no pitch in it: that is how deep or long the thread goes.
            text, depth = found[1], found[2]
        try:
            self.thread = parse_designation(text)
        except NotTabled as error:
            raise self.error(error.message, node) from None
        if "" in self.found:
            self._drill_first(node)
        self.shape = "thread"
        self.put("", "thread", self.thread.diameter, self.thread.designation)
        self.depth_key = "depth"
        if depth is not None:
            self.put("depth", "length", self.in_unit(float(depth)), depth)
        elif parts:
            self.take("depth", "length", parts[0])

    def _is_fit(self, text: str) -> bool:
        """``Ø20 M7`` is a fit: a thread would not be smaller than the hole it stands behind; ``Ø5 m6`` is a pin's."""
        main = self.found.get("")
        found = re.fullmatch(r"([Mm])([5-9]|1[01])", text)
        if found is None or main is None or self.last != "":
            return False
        if found[1] == "m":
            return main.kind in ("diameter", "length")
        return main.kind == "diameter" and main.nominal > int(found[2])

    def _drill_first(self, node: Node) -> None:
        """``Ø5 18 deep M6 14 deep``: what came first was the drill."""
        if self.shape != "diameter" or "drill" in self.found:
            raise self.error("A thread stands for the whole size; say what the other size is.", node)
        self.rename("", "drill")
        if "depth" in self.found:
            self.rename("depth", "drill_depth")

    def clearance(self, node: Node) -> None:
        text = str(node.children[0])
        size, series = items.screw(text), items.series(text)
        try:
            hole = screws.clearance(size, series)
        except NotTabled as error:
            raise self.error(error.message, node) from None
        if "" in self.found:
            raise self.error("A clearance hole takes its size from the screw; leave the other size out.", node)
        self.shape, self.clears = "diameter", f"{size} {series.upper()}"
        self.put("", "diameter", hole.diameter, self.clears, basis=hole.source, fit=hole.fit)

    def through(self, node: Node) -> None:
        self.thru = True
        self.put("thru", "count", 2.0, "THRU")

    def depth(self, node: Node) -> None:
        self._deep(items.values_of(node)[0])

    def depth_of_thread(self, node: Node) -> None:
        self.take("depth", "length", items.values_of(node)[0])

    def _deep(self, value: Node) -> None:
        key = self.depth_key if self.depth_key not in self.found else "depth"
        if self.shape == "keyway" and "across" in self.found:
            raise self.error("This keyway already has its depth across the bore.", value)
        self.take(key, "length", value)
        self.depth_key = "depth"

    def tapped(self, node: Node) -> None:
        """The word alone says nothing that the thread does not."""

    def counterbore(self, node: Node) -> None:
        self._seat("counterbore", node)

    def spotface(self, node: Node) -> None:
        self.flags.append("SPOTFACE")
        self._seat("counterbore", node)

    def _seat(self, kind: str, node: Node) -> None:
        parts = items.values_of(node)
        if self.seat:
            raise self.error("This note has two seats.", node)
        self.seat = kind
        self.take("seat", "diameter", parts[0])
        if len(parts) > 1:
            self.take("seat_depth", "length", parts[1])
        else:
            self.depth_key = "seat_depth"

    def countersink(self, node: Node) -> None:
        parts = items.values_of(node)
        if self.seat:
            raise self.error("This note has two seats.", node)
        self.seat = "countersink"
        angles = [p for p in parts if self.quantity(p).is_angle]
        widths = [p for p in parts if not self.quantity(p).is_angle]
        if len(angles) > 1 or len(widths) > 1:
            raise self.error("A countersink has a diameter and an angle, as in csk Ø10 x 90°.", node)
        if widths:
            self.take("seat", "diameter", widths[0])
        if angles:
            self.take("seat_angle", "angle", angles[0])

    def counterbore_for(self, node: Node) -> None:
        self._seat_for("counterbore", screws.socket_head, node)

    def countersink_for(self, node: Node) -> None:
        self._seat_for("countersink", screws.flat_head, node)

    def _seat_for(self, kind: str, find: Callable[[str], screws.Seat], node: Node) -> None:
        size = items.screw(str(node.children[0]))
        try:
            seat = find(size)
        except NotTabled as error:
            raise self.error(error.message, node) from None
        if self.seat:
            raise self.error("This note has two seats.", node)
        self.seat, self.seat_for = kind, size
        self.put("seat", "diameter", seat.diameter, size, basis=seat.source)
        if seat.depth is not None:
            self.put("seat_depth", "length", seat.depth, size, basis=seat.source)
        if seat.angle is not None:
            self.put("seat_angle", "angle", seat.angle, size, basis=seat.source)

    def drill(self, node: Node) -> None:
        name, parts = items.token(node, "DRILL_NAME"), items.values_of(node)
        if name is not None:
            try:
                drill = drills.named(str(name))
            except NotTabled as error:
                raise self.error(error.message, node) from None
            written = f"{'NO. ' if drill.name[0] == '#' else 'LETTER '}{drill.name.lstrip('#')}"
            self.put("drill", "diameter", drill.diameter, written)
        else:
            if not parts:
                raise self.error("Which drill? Write DRILL Ø5.", node)
            self.take("drill", "diameter", parts.pop(0))
        self.depth_key = "drill_depth"
        if parts:
            self.take("drill_depth", "length", parts[0])

    def tip(self, node: Node) -> None:
        self.take("tip", "angle", items.values_of(node)[0])

    def percent_of_thread(self, node: Node) -> None:
        self.percent = float(re.findall(r"\d+(?:\.\d+)?", str(node.children[0]))[0])
