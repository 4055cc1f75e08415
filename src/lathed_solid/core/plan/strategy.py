"""Which way to begin, before any shaping and sharper after: advice as a sentence, its rule, and the faces meant."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

from ..callout import Ledger
from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import cross, dot, norm
from ..quantity import Style
from ..route.planes import MAIN_NORMALS, Base
from ..tolerance import LEVEL
from .advice import Advice, Alike, Start, ring_or_grid
from .coordinates import Place
from .finished import Finished
from .prismatic import Prism
from .symmetry import Symmetry, main_axis
from .turned import profile_of
from .zero import Standing

#: Shares of the surface from which a part is called turned, or flat.
TURNED, PARTLY, FLAT = 0.6, 0.15, 0.95
#: So many symmetries that are broken are told, the least broken ones.
_BROKEN = 2
#: So many lengths make a face the datum.
_HANG = 4
_AXES: tuple[tuple[str, Vector], ...] = (("X", (1.0, 0.0, 0.0)), ("Y", (0.0, 1.0, 0.0)), ("Z", (0.0, 0.0, 1.0)))


class Datum(NamedTuple):
    """A face that sizes hang on: in words, the callouts, its index."""

    words: str
    numbers: tuple[int, ...]
    face: int


class Seen(NamedTuple):
    """What is known of a built part: its faces, what is alike on it, its places in machine axes."""

    surfaces: Sequence[Surface]
    symmetries: Sequence[Symmetry]
    places: Sequence[Place]
    machine: Standing
    volume: float
    prism: Prism | None = None
    datums: Sequence[Datum] = ()


def from_solid(seen: Seen, style: Style) -> tuple[Advice, ...]:
    """The advice of a solid, in the order in which a practitioner asks."""
    turned = tuple(_turned(seen))
    flat = () if any(a.start == "revolve" for a in turned) else (*_flat(seen, style), *_as_drawn_flat(seen))
    crossed = () if turned or flat else tuple(_crossed(seen))
    alike = (*_alike(seen, style), *_quarter(seen, style))
    return (*_view(seen), *turned, *flat, *crossed, *_hangs(seen), *alike, *_repeats(seen, style))


def from_callouts(ledger: Ledger, part: Finished | None) -> tuple[Advice, ...]:
    """What the numbers alone tell, before there is a solid."""
    return (*_by_diameters(ledger, part), *_by_counts(ledger))


def _many(faces: int) -> str:
    return f"{faces} faces are" if faces != 1 else "1 face is"


# --- callouts
def _by_diameters(ledger: Ledger, part: Finished | None) -> Iterator[Advice]:
    shapes = [ledger.reading(n).shape for n in ledger.callouts if ledger.error(n) is None]
    outer = [n for n in ledger.callouts if ledger.error(n) is None and _is_outer(ledger, n)]
    if part is not None and part.turned:
        yield Advice(
            f"{len(outer)} of {len(shapes)} callouts are outer diameters: a turned part.",
            "What is round is drawn once, as half its section, and turned: begin with a turned profile.",
            "revolve",
        )
    elif part is not None:
        yield Advice(
            f"A part with three sides stated ({part.words}): milled.",
            "Draw the view that carries the shape as an outline, and give it the thickness.",
            "extrude",
        )


def _is_outer(ledger: Ledger, number: int) -> bool:
    reading = ledger.reading(number)
    return reading.shape == "diameter" and not reading.thru


def _by_counts(ledger: Ledger) -> Iterator[Advice]:
    for number in ledger.callouts:
        if ledger.error(number) is not None:
            continue
        reading = ledger.reading(number)
        count = reading.count
        if count < 2:
            continue
        on_circle = reading.known("circle") is not None
        how = "in a ring" if on_circle else "in a row or grid"
        yield Advice(
            f"Callout {number} is there {count:g} times.",
            f"What repeats is made once and repeated {how}: its number then changes everywhere.",
            "ring" if on_circle else "row",
        )


# --- the solid
def _share(seen: Seen, faces: Sequence[Surface]) -> float:
    whole = sum(s.area for s in seen.surfaces)
    return sum(s.area for s in faces) / whole if whole else 0.0


def _view(seen: Seen) -> Iterator[Advice]:
    """The way most faces are seen edge-on: that view carries the shape."""
    by = {name: [s for s in seen.surfaces if _edge_on(s, seen.machine.part_way(way))] for name, way in _AXES}
    best = max(by, key=lambda name: len(by[name]))
    many, whole = len(by[best]), len(seen.surfaces)
    if many >= 3 and many > 0.5 * whole:
        yield Advice(
            f"Seen along {best}, {many} of {whole} faces stand edge-on: that view carries the shape.",
            "Draw the view in which most of the part is lines; the others then only give depths.",
            faces=tuple(s.index for s in by[best]),
        )


def _edge_on(s: Surface, way: Vector) -> bool:
    if s.kind == "plane":
        return abs(dot(s.axis, way)) < LEVEL
    return s.kind == "cylinder" and abs(dot(s.axis, way)) > 1 - LEVEL


def _turned(seen: Seen) -> Iterator[Advice]:
    axis = main_axis(seen.surfaces)
    if axis is None:
        return
    about = [s for s in seen.surfaces if _lies_about(s, *axis)]
    share, faces = _share(seen, about), tuple(s.index for s in about)
    rest = len(seen.surfaces) - len(about)
    if share >= TURNED:
        left = f"; {_many(rest)} milled or drilled after" if rest else ""
        yield Advice(
            f"{share:.0%} of the surface lies about one axis: turned{left}.",
            "One turned profile gives all of it, and a change of one diameter moves its neighbours along.",
            "revolve",
            faces,
        )
        yield from _recognised(seen, axis)
    elif share >= PARTLY:
        yield Advice(
            f"{share:.0%} of the surface lies about one axis, the rest does not: a milled part with turned details.",
            "The larger share is made first, the details added or cut.",
            faces=faces,
        )


def _recognised(seen: Seen, axis: tuple[Vector, Vector]) -> Iterator[Advice]:
    """A profile that closes and holds all of the part."""
    profile = profile_of(seen.surfaces, *axis)
    if profile is None or profile.volume < seen.volume * (1 - 1e-6):
        return
    rest = f"; {_many(len(profile.aside))} no part of it" if profile.aside else ", and nothing else"
    yield Advice(
        f"Its turned profile is recognised: {len(profile.pieces)} pieces{rest}.",
        "It can be drafted as a route of its own beside the present one, every size written down.",
        "turned",
        tuple(p.face for p in profile.pieces),
    )


def _lies_about(s: Surface, foot: Vector, axis: Vector) -> bool:
    if s.kind == "plane":
        middle = s.center
        off = norm(cross((middle[0] - foot[0], middle[1] - foot[1], middle[2] - foot[2]), axis))
        return abs(dot(s.axis, axis)) > 1 - LEVEL and off < 1e-3 * math.sqrt(s.area)
    if s.kind == "other":
        return False
    gap = (s.origin[0] - foot[0], s.origin[1] - foot[1], s.origin[2] - foot[2])
    along_it = s.kind == "sphere" or abs(dot(s.axis, axis)) > 1 - LEVEL
    return along_it and norm(cross(gap, axis)) < 1e-3


def _flat(seen: Seen, style: Style) -> Iterator[Advice]:
    """A part between two flat sides, its walls square to them."""
    for name, machine_way in _AXES:
        way = seen.machine.part_way(machine_way)
        levels = [s for s in seen.surfaces if s.kind == "plane" and abs(dot(s.axis, way)) > 1 - LEVEL]
        walls = [s for s in seen.surfaces if _edge_on(s, way)]
        if not walls or _share(seen, [*levels, *walls]) < FLAT:
            continue
        heights = sorted({round(dot(s.origin, way), 5) for s in levels})
        if len(heights) < 2:
            continue
        thick = style.length(heights[-1] - heights[0])
        steps = "" if len(heights) == 2 else f", with {len(heights) - 2} further level{'s' * (len(heights) > 3)}"
        ends = tuple(s.index for s in levels if round(dot(s.origin, way), 5) in (heights[0], heights[-1]))
        yield Advice(
            f"Flat along {name}: {thick} thick{steps}, its walls square to that.",
            "An outline and a thickness give it; pockets and steps are cut from the same sketch.",
            "extrude",
            ends,
        )


def _crossed(seen: Seen) -> Iterator[Advice]:
    """Two views that give the part between them, neither of them alone."""
    own = {name: [s for s in seen.surfaces if _of_view(s, seen.machine.part_way(way))] for name, way in _AXES}
    best = max(itertools.combinations(own, 2), key=lambda pair: _share(seen, _either(own, pair)))
    first, second = sorted(best, key=lambda name: -len(own[name]))
    only = [s for s in own[second] if s not in own[first]]
    if _share(seen, _either(own, best)) < FLAT or _share(seen, own[first]) >= FLAT or not only:
        return
    faces = f"{len(only)} faces" if len(only) > 1 else "face"
    yield Advice(
        f"Two views carry it between them: along {first} most of it, along {second} the other {faces}.",
        "Draw the outline and make it thick enough; then draw the side profile and keep only what is inside it.",
        "extrude",
        tuple(s.index for s in only),
    )


def _of_view(s: Surface, way: Vector) -> bool:
    """A wall along a way, or a level across it."""
    return _edge_on(s, way) or (s.kind == "plane" and abs(dot(s.axis, way)) > 1 - LEVEL)


def _either(own: dict[str, list[Surface]], pair: tuple[str, str]) -> list[Surface]:
    return [*own[pair[0]], *(s for s in own[pair[1]] if s not in own[pair[0]])]


def _as_drawn_flat(seen: Seen) -> Iterator[Advice]:
    """An outline and holes that account for most of the part's faces."""
    if seen.prism is None or 2 * len(seen.prism.aside) > len(seen.surfaces):
        return
    many = sum(len(h.places) for h in seen.prism.holes)
    holes = f" and {many} hole{'s' * (many != 1)}" if many else ""
    aside = len(seen.prism.aside)
    rest = f"; {_many(aside)} no part of it" if aside else ", and nothing else"
    mine = set(seen.prism.aside)
    yield Advice(
        f"Its outline ({len(seen.prism.outline.pieces)} pieces), thickness{holes} are recognised{rest}.",
        "They can be drafted as a route of its own, holes by the callouts that state them, every size written down.",
        "flat",
        tuple(s.index for s in seen.surfaces if s.index not in mine),
    )


def _hangs(seen: Seen) -> Iterator[Advice]:
    """The flat face that most lengths are counted from."""
    by_index = {s.index: s for s in seen.surfaces}
    flat = [d for d in seen.datums if d.face in by_index and by_index[d.face].kind == "plane"]
    if flat and len(flat[0].numbers) >= _HANG:
        first = flat[0]
        numbers = ", ".join(map(str, first.numbers))
        yield Advice(
            f"{len(first.numbers)} sizes hang on one face: {first.words} (callouts {numbers}).",
            "What most sizes are counted from is the datum: machine it first, hold on to it, and put zero there.",
            faces=(first.face,),
        )


def _alike(seen: Seen, style: Style) -> Iterator[Advice]:
    broken = 0
    for s in seen.symmetries:
        if s.state == "broken":
            broken += 1
            if broken > _BROKEN:
                continue
        where = _where(s, seen.machine, style)
        what = f"alike on both sides of {where}" if s.order == 1 else f"alike {s.order} times about {where}"
        start: Start = "ring" if s.order > 1 else "half" if _base(s) else "mirror"
        how = "Half of it is drawn and mirrored" if s.order == 1 else f"One of {s.order} is made and repeated in a ring"
        if s.state == "exact":
            yield Advice(f"It is {what}.", f"{how}: half the numbers, and it stays alike.", start, (), _base(s))
        elif s.state == "near":
            off = style.length(s.gap, unit=True)
            yield Advice(
                f"It is nearly {what}: {_many(len(s.faces))} off by up to {off}.",
                "So small a difference is meant seldom: look at the faces lit before you draw half of it.",
                faces=s.faces,
            )
        else:
            yield Advice(
                f"But for {len(s.faces)} face{'s' * (len(s.faces) != 1)} it is {what}.",
                f"{how}; what breaks it (lit) is added after.",
                start,
                s.faces,
                _base(s),
            )


def _quarter(seen: Seen, style: Style) -> Iterator[Advice]:
    """Two exact mirror planes square to each other."""
    planes = [s for s in seen.symmetries if s.order == 1 and s.state == "exact"]
    pair = next(((a, b) for a, b in itertools.combinations(planes, 2) if abs(dot(a.way, b.way)) < LEVEL), None)
    if pair is not None:
        one, other = (_where(s, seen.machine, style) for s in pair)
        yield Advice(
            f"A quarter tells all of it: {one} and {other} both mirror it.",
            "A quarter is drawn and mirrored twice: a quarter of the numbers, and it stays alike.",
            "quarter" if all(map(_base, pair)) else "mirror",
            about=_base(pair[0]),
        )


def _base(s: Symmetry) -> Base | Literal[""]:
    """The main plane that a mirror plane lies along, for a route is rewritten about those; empty for another."""
    along = (base for base, normal in MAIN_NORMALS.items() if abs(dot(s.way, normal)) > 1 - LEVEL)
    return next(along, "") if s.order == 1 else ""


def _where(s: Symmetry, machine: Standing, style: Style) -> str:
    way, place = machine.way(s.way), machine.machine(s.place)
    k = max(range(3), key=lambda i: abs(way[i]))
    if s.order > 1:
        return f"an axis along {'XYZ'[k]}" if abs(way[k]) > 1 - LEVEL else "a leaning axis"
    if abs(way[k]) > 1 - LEVEL:
        return f"the plane across {'XYZ'[k]} at {style.length(place[k])}"
    turn = math.degrees(math.atan2(way[1], way[0])) % 180
    return f"an upright plane, its normal at {turn:.4g}° to X" if abs(way[2]) < LEVEL else "a leaning plane"


def _repeats(seen: Seen, style: Style) -> Iterator[Advice]:
    groups: dict[str, list[Place]] = {}
    for place in seen.places:
        if place.kind in ("hole", "boss"):
            groups.setdefault(place.words, []).append(place)
    for words, same in groups.items():
        if len(same) < 2:
            continue
        kind = same[0].kind
        many = f"{len(same)} {kind}s {words.removeprefix(kind).strip()}"
        places = tuple((p.at[0], p.at[1]) for p in same)
        yield from ring_or_grid(Alike(many, places, tuple(i for p in same for i in p.faces)), style.length)
