"""What standards complete when a note leaves it unsaid. Each figure names its source; stating one overrides it."""

from __future__ import annotations

import msgspec

from ..standards import drills, screws
from ..standards.tables import table
from .limits import General, by_rule
from .model import Characteristic, Kind, Reading


def completions(reading: Reading, unit: str, rule: General) -> Reading:
    """``reading`` with what standards add: tapping drill and its depth, drill tip, countersink angle.

    Raises NotTabled when a share of thread is asked for that no drill can leave.
    """
    found: list[Characteristic] = []

    def add(key: str, kind: Kind, nominal: float, source: str) -> None:
        if reading.get(key) is None:
            main = reading.main.nominal
            lower, upper, _ = by_rule(rule, kind, reading.shape, key, nominal, main, "0.00")
            found.append(Characteristic(key, kind, nominal, lower, upper, source))

    thread = reading.thread
    if thread is not None and thread.internal is not False and reading.is_hole:
        drill = drills.tap_drill(thread, reading.percent)
        share = drills.thread_percent(thread, drill.diameter)
        source = "asked for" if reading.percent is not None else _drill_source(thread.system)
        add("drill", "diameter", drill.diameter, f"{drill.name} drill, {share:.0f} % thread, {source}")
        depth = reading.get("depth")
        if depth is not None and not reading.thru and reading.get("drill_depth") is None:
            run_out = table("screws")["run_out"].get(f"{thread.pitch:g}", 5.0 * thread.pitch)
            add("drill_depth", "length", round(depth.nominal + run_out, 2), f"thread + {run_out:.3g} run-out, DIN 76-1")
    blind = reading.get("depth") or reading.get("drill_depth")
    if blind is not None and not reading.thru and reading.shape in ("diameter", "thread") and reading.is_hole:
        add("tip", "angle", screws.DRILL_TIP, "118° point, DIN 1412 type N")
    if reading.seat == "countersink" and reading.get("seat_angle") is None:
        angle, habit = screws.usual_sink(unit)
        add("seat_angle", "angle", angle, habit)
    return msgspec.structs.replace(reading, completed=tuple(found)) if found else reading


def _drill_source(system: str) -> str:
    return {"M": "ISO 2306", "UN": "ASME B1.1"}.get(system, "next drill above the minor diameter")
