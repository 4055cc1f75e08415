"""A sheet as DXF: lines by layer, text as text, and every length as a real dimension that knows its value."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

import ezdxf
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment

from ...drafting.sheet.scene import PENS, Arrow, Mark, Path, Round, Scene, Sized, Words, arrow_corners
from ...units import INCH
from ..dxf_bytes import same_bytes

_STYLE = "SHEET"
#: Colour, line type of a layer; its width is that of the pen.
_LAYERS = {
    "VISIBLE": (7, "CONTINUOUS"), "HIDDEN": (8, "DASHED"), "TANGENT": (9, "CONTINUOUS"), "CENTER": (4, "CENTER"),
    "HATCH": (8, "CONTINUOUS"), "THREAD": (7, "CONTINUOUS"), "BREAK": (7, "CONTINUOUS"), "DIM": (3, "CONTINUOUS"),
    "CUTTING": (1, "CENTER"), "FRAME": (7, "CONTINUOUS"), "TEXT": (7, "CONTINUOUS"),
}  # fmt: skip
_ALIGN = {
    "start": TextEntityAlignment.LEFT, "middle": TextEntityAlignment.CENTER, "end": TextEntityAlignment.RIGHT,
}  # fmt: skip


def to_dxf(scene: Scene, unit: str = "mm") -> bytes:
    """The page in mm of paper; dimensions give their values in ``unit``."""
    return same_bytes(partial(_document, scene, unit))


def _document(scene: Scene, unit: str) -> Drawing:
    document = ezdxf.new("R2018", setup=True, units=4)  # type: ignore[attr-defined]
    _set_up(document, unit)
    space = document.modelspace()
    for mark in scene.marks:
        if isinstance(mark, Sized):
            _dimension(document, space, mark, unit)
        else:
            _add(space, mark)
    document.set_modelspace_vport(scene.height, (scene.width / 2, scene.height / 2))
    return document


def _set_up(document: Drawing, unit: str) -> None:
    widths = {pen.layer: pen.width for pen in PENS.values()} | {"TEXT": 0.25}
    for name, (color, line) in _LAYERS.items():
        document.layers.add(name, color=color, linetype=line, lineweight=round(100 * widths[name]))
    document.styles.add(_STYLE, font="DejaVuSans.ttf")  # no face goes with a DXF: ours is as wide as this one
    style = document.dimstyles.duplicate_entry("EZDXF", _STYLE)
    attributes = {"dimtxsty": _STYLE, "dimtxt": 2.5, "dimasz": 2.5, "dimdec": 3 if unit == "mm" else 4}
    for name, value in attributes.items():
        style.set_dxf_attrib(name, value)


def _add(space: Any, mark: Mark) -> None:
    """A line, text or arrow head into a space or a block."""
    if isinstance(mark, Path):
        layer = {"layer": PENS[mark.pen].layer}
        if len(mark.points) == 2:
            space.add_line(*mark.points, dxfattribs=layer)
        else:
            space.add_lwpolyline(mark.points, dxfattribs=layer)
    elif isinstance(mark, Round):
        _round(space, mark)
    elif isinstance(mark, Arrow):
        space.add_solid([*arrow_corners(mark)], dxfattribs={"layer": "DIM"})
    elif isinstance(mark, Words):
        text = space.add_text(
            mark.text, height=mark.height, rotation=mark.turn, dxfattribs={"layer": "TEXT", "style": _STYLE}
        )
        text.set_placement(mark.at, align=_ALIGN[mark.align])


def _round(space: Any, mark: Round) -> None:
    layer = {"layer": PENS[mark.pen].layer}
    if abs(mark.sweep) > 2 * math.pi - 1e-6:
        space.add_circle(mark.center, mark.radius, dxfattribs=layer)
        return
    start, end = math.degrees(mark.start), math.degrees(mark.start + mark.sweep)
    space.add_arc(mark.center, mark.radius, start, end, is_counter_clockwise=mark.sweep > 0, dxfattribs=layer)


def _turn(mark: Sized) -> float:
    """Which way the dimension runs, degrees: level, upright, or as it is slanted."""
    if mark.is_slanted:
        return math.degrees(math.atan2(mark.way[1], mark.way[0])) % 180.0
    return 90.0 if abs(mark.way[1]) > 0.5 else 0.0


def _dimension(document: Drawing, space: Any, mark: Sized, unit: str) -> None:
    """A dimension between its two places; its picture is ours, so that it looks as it does on paper."""
    on_paper = abs((mark.b[0] - mark.a[0]) * mark.way[0] + (mark.b[1] - mark.a[1]) * mark.way[1])
    factor = mark.length / on_paper / (INCH if unit == "in" else 1.0)
    made = space.add_linear_dim(
        base=mark.base, p1=mark.a, p2=mark.b, angle=_turn(mark), text=mark.text,
        dimstyle=_STYLE, override={"dimlfac": factor}, dxfattribs={"layer": "DIM"},
    )  # fmt: skip
    block = document.blocks.new_anonymous_block(type_char="D")
    for inner in mark.marks:
        _add(block, inner)
    made.dimension.dxf.geometry = block.name
    made.dimension.set_dxf_attrib("text_midpoint", (*mark.amid, 0.0))
    made.dimension.set_dxf_attrib("actual_measurement", mark.length / (INCH if unit == "in" else 1.0))
    made.commit()
