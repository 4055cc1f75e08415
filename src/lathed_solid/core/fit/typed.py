"""A relation written as a sentence: ``seated 0.3 SKP-01 Z 92 with SKP-02, 1 Z 0``. Faces are said as they are on the
part's own drawing: by a diameter, a thread, a side, or where a flat lies along one of the part's axes. A number such
as ``10 to 20`` leaves it free between the two.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from ..kernel.ground.figures import Surface
from ..quantity.expression import Plain, evaluate
from ..refusal import Refusal
from ..units import INCH
from . import edits
from .kinds import KINDS
from .model import Assembly, End, PartShot, RelationKind
from .values import figure_of

_BETWEEN = re.compile(r"\s+(?:with|–)\s+")
_ROUND = re.compile(r"(s?)[øØ⌀]\s*(.+?)\s*(hole|bore|shaft|pin)?\s*(?:,\s*(\d+))?$", re.IGNORECASE)
_FLAT = re.compile(r"([+-]?)([xyz])\s+(\S.*)$", re.IGNORECASE)
#: Sides of a part, seen as its drawing has them: the axis and the way along it.
_SIDES = {"left": (0, -1), "right": (0, 1), "front": (1, -1), "back": (1, 1), "bottom": (2, -1), "top": (2, 1)}
#: Directions and places count as the same up to so much (the cosine; mm).
_ALIKE = 1e-6
HOW = "Say a face as Ø20, Ø5.5 hole, M10, Z 92, top, cone or ball."


class TypedRelation(NamedTuple):
    """``value`` as written, or the ``low`` and ``high`` it is free between; the faces it ties."""

    kind: RelationKind
    value: str
    a: End
    b: End
    low: str = ""
    high: str = ""

    @property
    def words(self) -> str:
        """What it says of its faces."""
        return f"{self.kind} {self.value or ' to '.join(filter(None, (self.low, self.high)))}".strip()


def tied_as(assembly: Assembly, typed: TypedRelation) -> tuple[Assembly, str]:
    """With the relation that a sentence says, and its id. Raises Refusal."""
    made, name = edits.relate(assembly, typed.kind, typed.a, typed.b, typed.value or typed.low or typed.high)
    if typed.low or typed.high:
        made = edits.change_relation(made, name, value="", low=typed.low, high=typed.high)
    return made, name


def kind_said(text: str) -> RelationKind | None:
    """The relation that a text begins with; None for a text that is none."""
    words = " ".join(text.split()).lower()
    return next((k for k in KINDS if words == k or words.startswith(f"{k} ")), None)


def read_relation(text: str, assembly: Assembly, picks: Sequence[End] = ()) -> TypedRelation:
    """A sentence read. One that names no parts is about the two ``picks``. Raises Refusal in words."""
    kind = kind_said(text)
    if kind is None:
        raise Refusal(f"A relation begins with what it is: {', '.join(KINDS)}.")
    rest = " ".join(text.split())[len(kind) :].strip()
    first, *other = _BETWEEN.split(rest, 1)
    named = _part_in(first, assembly)
    if named is None and not other:
        if len(picks) != 2:
            raise Refusal(f"Name two faces, as in “{kind} {_example(assembly)}”, or pick them.")
        return _numbered(kind, rest, *picks)
    if named is None:
        raise Refusal(f"“{first}” names no part that is here. There are: {_names(assembly)}.")
    if not other:
        raise Refusal("Say with what: “… with part and face”.")
    (start, instance, words) = named
    second = _part_in(other[0], assembly)
    if second is None or second[0]:
        raise Refusal(f"“{other[0]}” begins with no part that is here. There are: {_names(assembly)}.")
    return _numbered(kind, first[:start].strip(), _end(assembly, instance, words), _end(assembly, second[1], second[2]))


def _numbered(kind: RelationKind, number: str, a: End, b: End) -> TypedRelation:
    low, to, high = number.partition(" to ")
    if to:
        return TypedRelation(kind, "", a, b, low.strip(), high.strip())
    return TypedRelation(kind, number or KINDS[kind].default, a, b)


def _example(assembly: Assembly) -> str:
    names = [assembly.called(i.id) for i in assembly.instances][:2]
    one, two = names if len(names) == 2 else ("one part", "another")
    return f"{one} Ø20 with {two} Ø20 hole"


def _names(assembly: Assembly) -> str:
    names = [assembly.called(i.id) for i in assembly.instances]
    return ", ".join(names[:6]) + (" …" if len(names) > 6 else "")


def _part_in(text: str, assembly: Assembly) -> tuple[int, str, str] | None:
    """Where in a text a part is named, its instance, and the words behind it. Raises Refusal when it may be several."""
    low, found = text.lower(), list[tuple[int, int, str]]()
    for instance in assembly.instances:
        part = assembly.part(instance.part)
        for name in {assembly.called(instance.id), part.called, part.title}:
            at = low.find(name.lower()) if name else -1
            ends = at + len(name)
            if at >= 0 and (at == 0 or text[at - 1] == " ") and (ends == len(text) or text[ends] in " ,"):
                found.append((at, ends, instance.id))
    if not found:
        return None
    start = min(at for at, *_ in found)
    ends = max(e for at, e, _ in found if at == start)
    meant = {i for at, e, i in found if (at, e) == (start, ends)}
    if len(meant) > 1:
        names = " or ".join(f"“{assembly.called(i.id)}”" for i in assembly.instances if i.id in meant)
        raise Refusal(f"There are {len(meant)} of “{text[start:ends]}”: say {names}.")
    return start, meant.pop(), text[ends:].strip(" ,")


def _end(assembly: Assembly, instance: str, words: str) -> End:
    part = assembly.part_of(instance)
    if not words:
        raise Refusal(f"Say which face of {assembly.called(instance)}. {HOW}")
    face = _face(part, words, assembly.unit)
    if face is None:
        raise Refusal(f"{assembly.called(instance)} has no face “{words}”. {HOW}")
    return End(instance, face)


def _face(part: PartShot, words: str, unit: str) -> str | None:
    low = words.lower()
    if (thread := next((t for t in part.threads if t.thread.designation.lower().startswith(low)), None)) is not None:
        return thread.face
    if low in _SIDES:
        return _outermost(part, *_SIDES[low])
    if low in ("cone", "ball"):
        kind = "cone" if low == "cone" else "sphere"
        return _one(part, lambda s: s.kind == kind, words)
    if (flat := _FLAT.match(words)) is not None:
        sign, axis, figure = flat.groups()
        return _flat_at(part, "xyz".index(axis.lower()), sign, *_figure(figure, unit), words)
    if (round_ := _ROUND.match(words)) is not None:
        ball, figure, side, which = round_.groups()
        return _round(part, bool(ball), *_figure(figure, unit), side or "", int(which or 0), words)
    return None


def _figure(text: str, unit: str) -> tuple[float, float]:
    """A figure in mm, and how far off a face may be to be meant: half of the last decimal written, or of those that
    drawings have.
    """
    value = evaluate(text, Plain(unit), "length")
    decimals = max(len(text.partition(".")[2]), 3 if unit == "in" else 2)
    return value, 0.5 * 10.0**-decimals * (INCH if unit == "in" else 1.0) + _ALIKE


def _flat_at(part: PartShot, axis: int, sign: str, value: float, off: float, words: str) -> str | None:
    def there(s: Surface) -> bool:
        way = s.axis[axis]
        looks = not sign or (way > 0) == (sign == "+")
        return s.kind == "plane" and abs(way) > 1 - _ALIKE and looks and abs(s.origin[axis] - value) <= off

    return _one(part, there, words)


def _outermost(part: PartShot, axis: int, way: int) -> str | None:
    flats = [(way * s.origin[axis], s.area, n) for n, s in _named(part) if s.kind == "plane"
             and way * s.axis[axis] > 1 - _ALIKE]  # fmt: skip
    return max(flats)[2] if flats else None


def _round(part: PartShot, ball: bool, value: float, off: float, side: str, which: int, words: str) -> str | None:
    kind, hollow = "sphere" if ball else "cylinder", side.lower() in ("hole", "bore")
    noted = {n for n, diameter in _noted(part) if abs(diameter - value) <= off}
    called = {s.index for n, s in _named(part) if n in noted}

    def there(s: Surface) -> bool:
        is_so = abs(2 * s.radius - value) <= off or s.index in called
        return s.kind == kind and is_so and (not side or s.hollow == hollow)

    if which:
        found = [n for n, s in _named(part) if there(s)]
        if which > len(found):
            raise Refusal(f"{part.called} has {len(found)} faces “{words.rpartition(',')[0].strip()}”.")
        return found[which - 1]
    return _one(part, there, words)


def _noted(part: PartShot) -> Iterator[tuple[str, float]]:
    """Round faces with the diameter (mm) that their callout says: one with a fit is made within its limits."""
    for sized in part.sized:
        figure = figure_of(part, sized.number, sized.key) if sized.number and not sized.other else None
        if figure is not None and figure.kind == "diameter":
            yield sized.face, figure.value


def _named(part: PartShot) -> list[tuple[str, Surface]]:
    return list(zip(part.references, part.surfaces, strict=True))


def _one(part: PartShot, meant: Callable[[Surface], bool], words: str) -> str | None:
    """The face that is meant: of several that look the same way the largest, or the first. Raises Refusal when they do
    not look the same way.
    """
    found = sorted(((n, s) for n, s in _named(part) if meant(s)), key=lambda f: -f[1].area)
    if len({(s.hollow, _way(s)) for _, s in found}) > 1:
        more = "+ or - before the axis" if found[0][1].kind == "plane" else "“hole” or “shaft” behind it"
        raise Refusal(f"“{words}” may be one or another face of {part.called}: say {more}.")
    return found[0][0] if found else None


def _way(s: Surface) -> bool:
    """Whether a flat looks the positive way along the axis it is square to."""
    return s.kind == "plane" and max(s.axis, key=abs) > 0
