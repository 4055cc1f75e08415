"""The logbook: every set of readings, with when, who, what with and what came of it."""

from __future__ import annotations

import csv
import datetime
import io
import itertools

import msgspec

from ..cells import meant, plain
from ..refusal import Refusal
from ..units import UNITS
from .instrument import WAYS, Way


class LogEntry(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``values`` in mm (grams for a scale), as read. ``when`` is ISO 8601 local time; ``callout`` the balloon the
    readings became, or are of, if any, ``key`` which of its sizes; ``piece`` the part in hand where there are several.
    ``error`` and ``resolution`` are the instrument's at that time.
    """

    id: str
    when: str
    instrument: str
    way: Way
    values: tuple[float, ...]
    operator: str = ""
    feature: str = ""
    conclusion: str = ""
    callout: int | None = None
    resolution: float = 0.01
    error: float = 0.02
    key: str = ""
    piece: str = ""


COLUMNS = (
    "when", "operator", "instrument", "resolution", "error", "way", "feature", "readings", "unit",
    "conclusion", "balloon", "size", "piece",
)  # fmt: skip
#: A logbook file larger than this is not a logbook, bytes.
MAX_CSV = 4 * 1024 * 1024
MAX_ROWS = 50_000


def to_csv(entries: tuple[LogEntry, ...]) -> str:
    """One row an entry, readings separated by spaces, in mm (g for weights)."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for e in entries:
        readings = " ".join(f"{v:.10g}" for v in e.values)
        unit = "g" if e.way == "weight" else "mm"
        writer.writerow(
            [e.when, plain(e.operator), plain(e.instrument), f"{e.resolution:g}", f"{e.error:g}", e.way,
             plain(e.feature), readings, unit, plain(e.conclusion), e.callout or "", e.key, plain(e.piece)]
        )  # fmt: skip
    return out.getvalue()


class CannotImport(Refusal):
    """A file that is no logbook; the text names the row."""


def from_csv(text: str, taken: set[str]) -> tuple[LogEntry, ...]:
    """Entries from a CSV with the columns above (``when``, ``way`` and ``readings`` are needed; unit mm, in or g).

    ``taken`` are ids in use. Raises CannotImport naming the row that cannot be read.
    """
    if len(text) > MAX_CSV:
        raise CannotImport("The file is too large for a logbook.")
    reader = csv.DictReader(io.StringIO(text))
    missing = {"when", "way", "readings"} - set(reader.fieldnames or ())
    if missing:
        raise CannotImport(f"The first row must name the columns; missing: {', '.join(sorted(missing))}.")
    free = (f"r{number}" for number in itertools.count(1) if f"r{number}" not in taken)
    found: list[LogEntry] = []
    for row in reader:
        if len(found) >= MAX_ROWS:
            raise CannotImport(f"The file has more than {MAX_ROWS} rows; that is no logbook of one part.")
        found.append(_entry(row, reader.line_num, next(free)))
    return tuple(found)


def _entry(row: dict[str, str | None], line: int, id_: str) -> LogEntry:
    cell = {k: meant((v or "").strip()) for k, v in row.items() if k is not None and not isinstance(v, list)}
    way = next((w for w in WAYS if w == cell["way"].lower()), None)
    if way is None:
        raise CannotImport(f"Row {line}: the way of touching “{cell['way']}” is not one of {', '.join(WAYS)}.")
    unit = cell.get("unit") or "mm"
    if unit not in ("mm", "in", "g"):
        raise CannotImport(f"Row {line}: the unit “{unit}” is not mm, in or g.")
    try:
        datetime.datetime.fromisoformat(cell["when"])
        values = tuple(float(v) * UNITS.get(unit, 1.0) for v in cell["readings"].split())
        balloon = int(cell["balloon"]) if cell.get("balloon") else None
        resolution, error = float(cell.get("resolution") or 0.01), float(cell.get("error") or 0.02)
    except ValueError as problem:
        raise CannotImport(f"Row {line} cannot be read: {problem}.") from None
    if not (0 < resolution < 1e3 and 0 <= error < 1e3):
        raise CannotImport(f"Row {line}: an instrument resolves to {resolution:g} and errs by {error:g}: not usable.")
    if not values or not all(-1e5 < v < 1e5 for v in values):
        raise CannotImport(f"Row {line}: there is no usable reading in “{cell['readings']}”.")
    return LogEntry(
        id=id_, when=cell["when"], instrument=cell.get("instrument", ""), way=way,
        values=values, operator=cell.get("operator", ""), feature=cell.get("feature", ""),
        conclusion=cell.get("conclusion", ""), callout=balloon, resolution=resolution, error=error,
        key=cell.get("size", ""), piece=cell.get("piece", ""),
    )  # fmt: skip


def fresh_id(taken: set[str]) -> str:
    number = 1
    while f"r{number}" in taken:
        number += 1
    return f"r{number}"
