"""Part families: one part, and a table of callout values that makes variants of it, one row a variant."""

from __future__ import annotations

import csv
import hashlib
import io
from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple

import msgspec

from ..callout import NoteError
from ..cells import meant, plain
from ..names import lone_ref
from ..plan.finished import Solid
from ..plan.shop import Shop
from ..prove.proof import Mark, Proof, ProofLine
from ..prove.tabular import in_style, row_of
from ..quantity import ExpressionError, Style
from ..refusal import Refusal
from ..route.rebuild import StepReport
from ..route.registry import called
from . import edits
from .model import Cell, Content, FamilyTable, Member, NotThere, StatedFigures
from .pricing import bought
from .settle import settle

#: A family of more members is a table made by mistake.
MOST = 10_000
_WORST: tuple[Mark, ...] = ("out", "open", "near", "in")
State = Literal["proved", "open", "out", "failed"]


class CannotTell(Refusal):
    """A table that is none; the text names the row and what to do."""


class Variant(NamedTuple):
    """A row: its name, its place in the table (in a file from 2, as a spreadsheet counts), what it says of callouts."""

    name: str
    row: int
    cells: Mapping[int, str]


class Line(msgspec.Struct, frozen=True):
    """What came of a variant: figures in mm³ and g (None without a solid), how many callouts have each mark, and words.

    ``key`` tells the same variant of the same part again.
    """

    name: str
    state: State
    key: str
    volume: float | None = None
    grams: float | None = None
    proved: int = 0
    near: int = 0
    out: int = 0
    open: int = 0
    words: str = ""
    #: What it is cut from, and what a piece of that costs in the shop.
    stock: str = ""
    price: float | None = None
    #: The worst mark of each callout, by number, and its words; known only where it was just proved.
    marks: dict[int, tuple[Mark, str]] = {}


def read_table(text: str) -> tuple[Variant, ...]:
    """Variants of a CSV: a column ``name``, and one for each callout that differs, headed ``#3``. An empty cell leaves
    the callout as it is. Raises CannotTell naming the row.
    """
    try:
        rows = list(csv.reader(io.StringIO(text)))
    except csv.Error:
        raise CannotTell("This is no table. Write it as a CSV: name,#3,#7, and a row for each member.") from None
    if not rows or not rows[0] or rows[0][0].strip().lower() != "name":
        raise CannotTell("The first row must begin with “name”, and go on with the callouts that differ: name,#3,#7.")
    numbers = [_numbered(cell) for cell in rows[0][1:]]
    if len(rows) - 1 > MOST:
        raise CannotTell(f"The table has {len(rows) - 1} rows; {MOST} are the most.")
    found: dict[str, Variant] = {}
    for at, row in enumerate(rows[1:], 2):
        cells = [meant(cell.strip()) for cell in row]
        if not any(cells):
            continue
        name = cells[0]
        if not _is_name(name):
            raise CannotTell(f"Row {at}: “{name}” is no name. It becomes the name of a file.")
        if name in found:
            raise CannotTell(f"Row {at}: the name {name} stands in row {found[name].row} already.")
        given = {n: cell for n, cell in zip(numbers, cells[1:], strict=False) if cell}
        found[name] = Variant(name, at, given)
    if not found:
        raise CannotTell("The table has no rows below its head.")
    return tuple(found.values())


def variants_of(table: FamilyTable) -> tuple[Variant, ...]:
    """The members of the job's own table."""
    return tuple(
        Variant(m.name, at, {c.number: c.text for c in m.cells if c.text}) for at, m in enumerate(table.members, 1)
    )


def table_of(variants: tuple[Variant, ...], content: Content) -> FamilyTable:
    """What a file said, as the job's own table. Raises CannotTell for callouts that are not in the job."""
    columns = tuple(dict.fromkeys(n for v in variants for n in v.cells))
    for number in columns:
        if not any(c.number == number for c in content.callouts):
            raise CannotTell(f"There is no callout #{number} in this job. Head each column with one that is.")
    rows = (Member(name=v.name, cells=tuple(Cell(n, text) for n, text in v.cells.items())) for v in variants)
    return FamilyTable(columns=columns, members=tuple(rows))


def table_csv(table: FamilyTable) -> str:
    """The table as ``read_table`` reads it."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["name", *(f"#{n}" for n in table.columns)])
    for member in table.members:
        writer.writerow([plain(member.name), *(plain(member.text(n)) for n in table.columns)])
    return out.getvalue()


def check_name(name: str, others: Iterable[str]) -> str:
    """A member's name. Raises CannotTell when it cannot be the name of a file, or another has it."""
    name = name.strip()
    if not _is_name(name):
        raise CannotTell(f"“{name}” is no name. It becomes the name of a file.")
    if name in others:
        raise CannotTell(f"There is a member called {name} already.")
    return name


def check_cell(content: Content, number: int, text: str) -> str:
    """What may stand in a cell: a size or a note, or nothing. Raises CannotTell."""
    text = text.strip()
    if text:
        try:
            edits.edit_callout(content, number, _noted(content, number, text))
        except (NoteError, NotThere) as error:
            raise CannotTell(f"#{number}: {error.message}") from None
    return text


def _is_name(name: str) -> bool:
    return bool(name) and not set(name) & set("/\\\0") and not name.startswith(".") and len(name) <= 100


def _numbered(cell: str) -> int:
    ref = lone_ref(meant(cell.strip()))
    if ref is None or ref.key:
        raise CannotTell(f"“{cell.strip()}” names no callout. Head each column with one, as #3.")
    return ref.number


def member(content: Content, variant: Variant) -> Content:
    """The part as a variant has it: numbers take the place of the callouts' sizes, whole notes that of the notes.

    Raises Refusal naming row and callout; the sketches have then not followed, or a note cannot be read.
    """
    made = content
    for number, cell in variant.cells.items():
        try:
            made = edits.edit_callout(made, number, _noted(made, number, cell))
        except (NoteError, NotThere) as error:
            raise CannotTell(f"Row {variant.row}, #{number}: {error.message}") from None
    settled = settle(made)
    for sketch, problem in settled.problems.items():
        raise CannotTell(f"Row {variant.row}: the sketch “{made.sketch(sketch).name}” cannot follow. {problem}")
    header = msgspec.structs.replace(content.header, number=f"{content.header.number}-{variant.name}".strip("-"))
    stated = StatedFigures(tolerance=header.stated.tolerance)  # they are of the one part drawn
    header = msgspec.structs.replace(header, stated=stated)
    return msgspec.structs.replace(settled.content, header=header, family=FamilyTable())


def _noted(content: Content, number: int, cell: str) -> str:
    """The note a cell makes: a bare size takes the place of the note's own, with its limits and all else kept."""
    note = next((c.note for c in content.callouts if c.number == number), None)
    if note is None:
        raise NotThere(f"There is no callout #{number}.")
    reading = content.ledger().reading(number)
    if not _is_size(cell, content) or reading.shape not in ("length", "diameter", "radius", "angle"):
        return cell
    written = reading.main.written
    return note.replace(written, cell, 1) if written and written in note else cell


def _is_size(cell: str, content: Content) -> bool:
    from ..quantity import evaluate

    try:
        evaluate(cell, content.ledger())
    except (ExpressionError, Refusal):
        try:
            evaluate(cell, content.ledger(), "angle")
        except (ExpressionError, Refusal):
            return False
    return True


def key_of(content: Content, shop: Shop) -> str:
    """What tells one variant of one part, priced by one shop's tables, from every other."""
    return hashlib.sha256(msgspec.json.encode((content, shop), order="sorted")).hexdigest()[:16]


def priced(line: Line, content: Content, solid: Solid | None, shop: Shop) -> Line:
    """A line with what its variant is cut from, and the price of that."""
    if solid is None:
        return line
    found = bought(content, solid, shop)
    return msgspec.structs.replace(line, stock=found.stock, price=found.each)


def what_failed(content: Content, reports: Iterable[StepReport]) -> str:
    """The words of the step that could not be built; empty when all were."""
    trouble = next((r for r in reports if r.state == "failed"), None)
    if trouble is None:
        return ""
    step = content.step(trouble.id)
    return f"step “{called(step)}”: {trouble.message}"


def judged(name: str, key: str, proof: Proof | None, failed: str, style: Style) -> Line:
    """What is said of a variant that was built; ``failed`` are the words of a step that was not."""
    if proof is None or failed:
        return Line(name, "failed", key, words=failed or "There is no solid.")
    marks = [line.mark for line in proof.lines]
    worst = next((m for m in ("out", "open") if m in marks), "in")
    first = next((_told(line, style) for line in proof.lines if line.mark == worst), "")
    return Line(
        name,
        "out" if worst == "out" else "open" if worst == "open" else "proved",
        key,
        proof.mass.volume,
        proof.grams,
        marks.count("in"),
        marks.count("near"),
        marks.count("out"),
        marks.count("open"),
        "" if worst == "in" else first,
        marks=_marks(proof),
    )


def _told(line: ProofLine, style: Style) -> str:
    """What is wrong with a line: its figure and its limits, and what the proof remarks."""
    row = row_of(line, in_style(style))
    figures = f"{row.what} {row.measured}, limits {row.limits or row.nominal}. " if row.measured else ""
    return f"#{row.number} {row.note}: {figures}{row.remark}".strip()


def _marks(proof: Proof) -> dict[int, tuple[Mark, str]]:
    found: dict[int, tuple[Mark, str]] = {}
    for line in proof.lines:
        old = found.get(line.number)
        if old is None or _WORST.index(line.mark) < _WORST.index(old[0]):
            found[line.number] = (line.mark, line.message)
    return found


COLUMNS = ("name", "state", "volume mm3", "mass g", "in", "near", "out", "open", "stock", "price each", "remark", "key")


def to_csv(lines: tuple[Line, ...]) -> str:
    """One row a variant, in the order of the table."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for e in lines:
        figures = ["" if v is None else f"{v:.6f}" for v in (e.volume, e.grams)]
        marks, price = (e.proved, e.near, e.out, e.open), "" if e.price is None else f"{e.price:.4f}"
        writer.writerow([plain(e.name), e.state, *figures, *marks, plain(e.stock), price, plain(e.words), e.key])
    return out.getvalue()


def from_csv(text: str) -> dict[str, Line]:
    """What came of variants before, by their keys; a row that cannot be read is as good as none."""
    found = {}
    for row in csv.DictReader(io.StringIO(text)):
        try:
            state = msgspec.convert(row["state"], type=State)
            figures = (row["volume mm3"], row["mass g"])
            volume, grams = (float(v) if v else None for v in figures)
            proved, near, out, open_ = (int(row[mark]) for mark in ("in", "near", "out", "open"))
            words = meant(row["remark"])
            stock, price = meant(row["stock"]), float(row["price each"]) if row["price each"] else None
            marks = (proved, near, out, open_)
            line = Line(meant(row["name"]), state, row["key"], volume, grams, *marks, words, stock, price)
        except (KeyError, TypeError, ValueError, msgspec.ValidationError):
            continue
        found[line.key] = line
    return found
