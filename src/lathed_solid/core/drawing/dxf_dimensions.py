"""DIMENSION entities of a DXF as they are written on the sheet."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from typing import TYPE_CHECKING, cast

from ezdxf.tools.text import plain_mtext

if TYPE_CHECKING:
    from ezdxf.entities.dimension import Dimension as DimensionEntity
    from ezdxf.entities.dimstyleoverride import DimStyleOverride
    from ezdxf.layouts.base import BaseLayout


def dimension_notes(space: BaseLayout) -> Iterator[tuple[str, float, float]]:
    """Note and place (drawing units) of every dimension; a damaged one is left out, its lines still show."""
    for entity in cast("Iterator[DimensionEntity]", iter(space.query("DIMENSION"))):
        try:
            note = dimension_note(entity)
            at = entity.dxf.get("text_midpoint") or entity.dxf.defpoint
        except Exception:  # the library raises anything at all on nonsense geometry
            continue
        if math.isfinite(at.x) and math.isfinite(at.y):
            yield note, at.x, at.y


def dimension_note(entity: DimensionEntity) -> str:
    """A DIMENSION entity as notation: prefix by its kind, decimals and tolerance by its style, its own text if any."""
    style = entity.override()
    kind = entity.dxf.dimtype & 7
    value = _measured(entity, kind) * (1.0 if kind in (2, 5) else float(style.get("dimlfac", 1.0) or 1.0))
    decimals = int(style.get("dimadec" if kind in (2, 5) else "dimdec", 2))
    number = f"{value:.{max(0, min(decimals, 6))}f}"
    if "." in number and int(style.get("dimzin", 8)) & 8:
        number = number.rstrip("0").rstrip(".")
    number += "°" * (kind in (2, 5))
    said = str(plain_mtext(str(entity.dxf.get("text", "") or ""), split=False)).strip()
    if said and "<>" not in said:
        return said
    prefix = {3: "Ø", 4: "R"}.get(kind, "")
    post = str(style.get("dimpost", "") or "")
    if "<>" in post:
        before, _, after = post.partition("<>")
        number = before + number + after
        prefix = "" if re.search(r"[ØR]|%%c", before, re.IGNORECASE) else prefix
    else:
        number += post
    if said:
        before, _, after = said.partition("<>")
        prefix = "" if re.search(r"[ØR]|%%c", before, re.IGNORECASE) else prefix
        return f"{before}{prefix}{number}{_tolerance(style)}{after}"
    return prefix + number + _tolerance(style)


def _measured(entity: DimensionEntity, kind: int) -> float:
    found = entity.get_measurement()
    value = float(found) if not hasattr(found, "x") else float(found.x)
    return abs(value)


def _tolerance(style: DimStyleOverride) -> str:
    if not int(style.get("dimtol", 0) or 0):
        return ""
    upper, lower = float(style.get("dimtp", 0.0) or 0.0), float(style.get("dimtm", 0.0) or 0.0)
    if abs(upper - lower) < 1e-12:
        return f" ±{upper:g}"
    return f" {upper:+g}/{-lower:+g}" if lower else f" {upper:+g}/0"
