"""The drawing sheet of an assembly: cut open and seen whole, an item number at every part, and the list of parts."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import msgspec

from ...drafting.looking import eye_of
from ...drafting.sheet.blocks import Box
from ...drafting.sheet.compose import Composed, compose
from ...drafting.sheet.model import Cut, Label, Sheet, SheetView
from ...drafting.sheet.paper import INCH_SCALES, SCALES
from ...drafting.sheet.scene import Mark, Path, Words
from ...drafting.sheet.seen import Area, Hold, Seen, SeenView
from ...drafting.sheet.title import Facts, title_box
from ...drafting.sheet.words import drawable, width
from ...fit.mass import Line, bill
from ...fit.model import Assembly, Instance
from ...fit.poses import rotation
from ...job.assembling.judging import body_of
from ...job.attachments import Store
from ...job.files import CannotWrite
from ...kernel.draw.cutting import Cutting, laid_open, opened
from ...kernel.draw.doubles import singled
from ...kernel.draw.hidden import hidden_lines_of
from ...kernel.draw.shadows import shadow, uncovered
from ...kernel.draw.strokes import projected
from ...kernel.ground.geometry import Frame
from ...kernel.ground.named import NamedBody
from ...kernel.ground.placing import moved, rigid
from ...kernel.ground.topology import Shape
from ...quantity.style import mass as mass_text
from .propose import laid_out_at

#: Rows of the list of parts and its columns' shares: item, number, name, material, how many, mass of one.
_ROW, _TEXT = 5.0, 2.0
_SHARES = (
    ("Item", 0.07), ("Number", 0.18), ("Name", 0.33), ("Material", 0.22), ("How many", 0.09), ("Mass each", 0.11),
)  # fmt: skip


class _Stood(NamedTuple):
    instance: Instance
    number: int
    shape: Shape
    whole: bool


def assembly_sheet(
    assembly: Assembly, store: Store, size: str = "", going: Callable[[], object] = lambda: None
) -> Composed:
    """The sheet of an assembly as it stands. Raises CannotWrite, or Refusal for a part that is not at hand."""
    stood = list(_standing(assembly, store))
    if not stood:
        raise CannotWrite("There is nothing in this assembly to draw. Put parts in first.")
    sheet = Sheet(id="a", size=size or ("ANSI C" if assembly.unit == "in" else "A2"), views=(
        SheetView(id="v1", way="front", cut=Cut(), hidden=False),
        SheetView(id="v2", way="right", hidden=False),
        SheetView(id="v3", way="three faces", hidden=False, centres=False, tangent=True),
    ))  # fmt: skip
    views = {}
    for view, key in zip(sheet.views, "FRI", strict=True):
        going()
        views[view.id] = _view(stood, eye_of(key, "z"), view.cut is not None)
    seen = Seen(views, _holds(assembly, stood))
    shown = {f for s in views["v1"].strokes if s.visible for f in s.faces}
    labels = tuple(Label(number=h.number, view="v1" if shown & set(h.faces) else "v2") for h in seen.holds)
    sheet = msgspec.structs.replace(sheet, labels=labels, balloons=True)
    facts, lines = _facts(assembly), bill(assembly)
    scales = INCH_SCALES if assembly.unit == "in" else SCALES
    laid = laid_out_at(sheet, seen, facts, scales, True, [parts_box(sheet.size, len(lines))])
    made = compose(laid, seen, facts)
    listed = tuple(_parts_list(lines, laid.size))
    return made._replace(scene=msgspec.structs.replace(made.scene, marks=(*made.scene.marks, *listed)))


def _standing(assembly: Assembly, store: Store) -> Iterator[_Stood]:
    """Every instance that is shown, where it stands, with the number of its part."""
    solid, numbers = body_of(store), {p.id: n for n, p in enumerate(assembly.parts)}
    for instance in assembly.instances:
        if not instance.hidden:
            part = assembly.part(instance.part)
            shape = moved(solid(part).shape, rigid(rotation(instance.pose).tolist(), instance.pose.place))
            yield _Stood(instance, numbers[instance.part], shape, part.is_fastener)


def _view(stood: Sequence[_Stood], eye: Frame, cut: bool) -> SeenView:
    """Lines by the instance they belong to (counted from 1); bought parts are not cut (ISO 128-3 clause 6.5)."""
    shapes, areas, how = list[Shape](), list[Area](), Cutting(((0.0, 0.0),))
    for one in stood:
        body = NamedBody(one.shape, [])
        if cut and not one.whole:
            made = opened(body, eye, how)
            if made is None:
                shapes.append(one.shape.__class__())
                continue
            body = made
            found, _, _ = laid_open(body, eye, how)
            areas += [Area(a.loops, one.number) for a in found]
        shapes.append(body.shape)
    if cut:
        covers = [c for one in stood if one.whole for c in shadow(one.shape, eye)]
        areas = [Area(left, a.solid) for a in areas for left in uncovered(a.loops, covers)]
    strokes = tuple(singled(projected(hidden_lines_of(shapes, eye), eye)))
    return SeenView(eye, strokes, tuple(areas))


def _holds(assembly: Assembly, stood: Sequence[_Stood]) -> tuple[Hold, ...]:
    """One a line of the bill: its item number, and the instances of that part."""
    found = []
    for line in bill(assembly):
        own = tuple(n for n, s in enumerate(stood, 1) if s.instance.part == line.part.id)
        if own:
            found.append(Hold(line.item, "", own))
    return tuple(found)


def _shows(hold: Hold, views: dict[str, SeenView]) -> str:
    """The first view in which a part is seen."""
    own = set(hold.faces)
    return next((i for i, v in views.items() if any(s.visible and own & set(s.faces) for s in v.strokes)), "v1")


def _facts(assembly: Assembly) -> Facts:
    lines = bill(assembly)
    known = all(line.grams is not None for line in lines)
    grams = sum((line.grams or 0.0) * line.many for line in lines)
    mass = mass_text(grams) if known else f"over {mass_text(grams)}"
    return Facts(
        assembly.title or "Assembly", assembly.number, assembly.revision, "as listed", mass, assembly.unit,
        "as the parts say", "each part by itself, in its own job", True,
    )  # fmt: skip


# --- the list of parts
def parts_box(size: str, rows: int) -> Box:
    """Where the list stands: upwards from the title block."""
    left, _, right, top = title_box(size)
    return left, top, right, top + (rows + 1) * _ROW


def _parts_list(lines: Sequence[Line], size: str) -> Iterator[Mark]:
    left, bottom, right, _ = parts_box(size, len(lines))
    wide = right - left
    rows = [tuple(name for name, _ in _SHARES)]
    for line in lines:
        one = mass_text(line.grams) if line.grams is not None else "unknown"
        title = f"{line.part.title}, other hand" if line.part.other_hand else line.part.title
        rows.append((str(line.item), line.part.number, title, line.part.material, str(line.many), one))
    for n, row in enumerate(rows):
        y, x = bottom + n * _ROW, left
        yield Path("table", ((left, y + _ROW), (right, y + _ROW)))
        for (_, share), text in zip(_SHARES, row, strict=True):
            yield Words(_short(drawable(text), share * wide - 2.0), (x + 1.0, y + 1.5), _TEXT if n else 1.5)
            x += share * wide
    x = left
    for _, share in _SHARES:
        yield Path("table", ((x, bottom), (x, bottom + len(rows) * _ROW)))
        x += share * wide


def _short(text: str, room: float) -> str:
    while len(text) > 1 and width(text, _TEXT) > room:
        text = text[:-2].rstrip() + "…"
    return text
