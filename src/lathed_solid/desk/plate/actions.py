"""Everything the plate can do, as rows for the window's list of actions."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ...core.sketch.hand.tools import TOOLS
from .panel import PlatePanel


def plate_actions(plate: PlatePanel) -> list[tuple[str, str, str, Callable[[], object], str]]:
    """Id, title, keys, what to run and icon of everything the plate can do."""
    tools = [
        (f"plate.{t.id}", f"Plate: {t.title.lower()}", "", partial(plate.take_tool, t.id), t.icon)
        for t in TOOLS.values()
    ]
    return [
        ("plate.select", "Plate: choose and drag", "", partial(plate.take_tool, "select"), "select"),
        ("plate.dimension", "Plate: size what is chosen", "", plate.relating.dimension, "dimension"),
        *tools,
        ("plate.areas", "Plate: choose the areas a step takes", "", partial(plate.take_tool, "areas"), "areas"),
        ("plate.wiggle", "Plate: show what can still move", "", plate.player.play, "wiggle"),
        ("plate.ways", "Plate: show other solutions", "", plate.ways.show, "ways"),
        ("plate.marks", "Plate: all relation marks or only the assumed ones", "", plate.toggle_marks, ""),
        ("plate.edge", "Plate: take the picked edges from the part", "", partial(plate.solid.take, "edge"), "take"),
        (
            "plate.outline",
            "Plate: take the outline of the picked face",
            "",
            partial(plate.solid.take, "silhouette"),
            "take",
        ),
        ("plate.cut", "Plate: take where the plane cuts the picked face", "", partial(plate.solid.take, "cut"), "take"),
        ("plate.borrow", "Plate: take the lines of another sketch", "", plate.solid.ask_lender, "take"),
        ("plate.quarter", "Plate: turn it a quarter on its face", "Ctrl+R", plate.solid.quarter, "turn"),
        ("plate.construction", "Plate: construction or outline", "", plate.toggle_construction, ""),
        ("plate.scan", "Plate: take the scan below away", "", plate.take_scan_away, "delete"),
        ("plate.svg", "Plate: print the sketch as SVG", "", plate.ask_svg, "export"),
        ("plate.delete", "Plate: delete what is chosen", "", plate.delete_chosen, "delete"),
        ("plate.fit", "Plate: fit the sketch", "", plate.canvas.fit, "fit"),
        ("plate.table", "Plate: show the table", "", lambda: plate.show_table(True), ""),
        ("plate.flat", "Plate: show the sketch", "", lambda: plate.show_table(False), ""),
    ]
