"""What is turned: the faces about the spindle's axis, which end each is reached from, and the cuts they ask for."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence

from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import dot
from ..spindle import NEAR, Lying, Spindle, is_groove, spindle_of
from ..tooling import REAMED, Tool, grooving
from .approach import reaches
from .work import Built, Kind, Operation

#: A cone no longer than this along the axis (mm), or than a fifth of its radius, is a chamfer; a longer one is a taper.
_CHAMFER = 3.0


# --- the cuts
def turning(built: Built, drilled: Iterable[int]) -> list[Operation]:
    """What is turned and bored; faces that are ``drilled`` by steps of their own are left to those."""
    spindle = spindle_of(built.surfaces)
    if spindle is None:
        return []
    aside = set(drilled)
    mine = [f for f in spindle.faces if f.face.index not in aside and _is_turned(built, f)]
    found: list[Operation] = []
    for right in (True, False):
        here = [f for f in mine if _is_right(f, spindle) is right]
        found += _outside(built, spindle, here, right)
    found += _inside(built, spindle, [f for f in mine if f.face.kind != "plane" and spindle.is_bore(f)])
    if built.parted:
        found.append(_parted(spindle))
    return found


def _is_turned(built: Built, f: Lying) -> bool:
    """Steps that only break edges, knurl or thread bring operations of their own."""
    maker = built.makers[f.face.index - 1]
    kind = next((m.kind for m in built.steps if m.id == maker), "")
    return kind not in ("Knurl", "Engrave")


def _is_right(f: Lying, spindle: Spindle) -> bool:
    """Whether an outside face is reached with the right end out: what lies beyond the largest diameter, and that."""
    low, high = spindle.largest
    if f.face.kind == "plane":
        looks = dot(f.face.axis, spindle.way) > 0
        if f.low > low - NEAR and f.low < high + NEAR:
            return looks
        return f.low > low
    return (f.low + f.high) / 2 > low - NEAR


def _outside(built: Built, spindle: Spindle, faces: Sequence[Lying], right: bool) -> Iterator[Operation]:
    end, side = spindle.end(right), "right" if right else "left"
    flat = [f for f in faces if f.face.kind == "plane" and not _in_bore(f, spindle)]
    outer = [f for f in faces if f.face.kind != "plane" and not spindle.is_bore(f)]
    grooves = [f for f in outer if is_groove(f, spindle)]
    walls = [f for f in flat if any(abs(f.low - z) < NEAR for g in grooves for z in (g.low, g.high))]
    outermost = max((dot(f.face.origin, end) for f in flat), default=None)
    ends = [f for f in flat if outermost is not None and dot(f.face.origin, end) > outermost - NEAR]
    if ends and _is_end(ends[0], spindle, right):
        yield _faced(built, ends, end, side)
    rest = [f for f in flat if f not in ends and f not in walls]
    kinds: dict[Kind, list[Lying]] = {"groove": [*grooves, *walls]} if grooves else {}
    for f in outer:
        if f not in grooves:
            kinds.setdefault(_cut_of(f), []).append(f)
    if rest or "turn" in kinds:
        kinds["turn"] = [*kinds.get("turn", []), *rest]
    for kind, cut in kinds.items():
        yield _cut(built, kind, cut, end, side)
    yield from _threaded(built, spindle, outer, end, side)


def _in_bore(f: Lying, spindle: Spindle) -> bool:
    """A flat face whose outer rim is a bore's."""
    rims = [g for g in spindle.faces if g.face.kind != "plane" and spindle.is_bore(g)]
    return any(min(abs(g.low - f.low), abs(g.high - f.low)) < NEAR and abs(g.least - f.most) < NEAR for g in rims)


def _is_end(f: Lying, spindle: Spindle, right: bool) -> bool:
    outside = spindle.outside or spindle.faces
    return abs(f.low - (max(g.high for g in outside) if right else min(g.low for g in outside))) < NEAR


def _cut_of(f: Lying) -> Kind:
    if f.face.kind == "torus":
        return "round"
    if f.face.kind == "cone":
        return "chamfer" if f.length <= max(_CHAMFER, f.most / 5) and f.face.half_angle > 0.2 else "taper"
    return "turn"


def _faced(built: Built, ends: Sequence[Lying], end: Vector, side: str) -> Operation:
    faces = tuple(f.face.index for f in ends)
    across = max(2 * max(f.most for f in ends), built.bar)
    tool = Tool("turn", "turning tool", across, 0.0, (), "")
    return Operation(
        f"face:{side}", "face", "lathe", f"face the {side} end", faces, (end,), tool,
        callouts=built.callouts_on(faces), length=across / 2, across=across / 2, burr="its rim",
    )  # fmt: skip


_WORDS: dict[Kind, str] = {
    "turn": "turn {}", "taper": "turn the taper {}", "groove": "groove {}", "round": "form {}", "chamfer": "chamfer {}",
}  # fmt: skip


def _cut(built: Built, kind: Kind, cut: Sequence[Lying], end: Vector, side: str) -> Operation:
    round_ = [f for f in cut if f.face.kind != "plane"]
    faces = tuple(f.face.index for f in cut)
    across = 2 * max((f.most for f in round_ or cut), default=0.0)
    words = _WORDS[kind].format(", ".join(dict.fromkeys(_size(f, built) for f in round_)) or "the shoulders")
    length = sum(_passes(f, built.bar) * f.length for f in round_) if kind in ("turn", "taper") else 0.0
    if kind == "groove":
        length = sum(max(0.0, _wall(f, cut) - f.least) for f in round_)
    tool = Tool("turn", _tool(kind, round_, built), across, 0.0, (), "")
    burr = "its edges" if kind in ("turn", "groove") else ""
    return Operation(
        f"{kind}:{side}", kind, "lathe", words, faces, (end,), tool, len(round_), built.callouts_on(faces),
        length, across, burr=burr,
    )  # fmt: skip


def _size(f: Lying, built: Built) -> str:
    style = built.style
    if f.face.kind == "torus":
        return f"R{style.length(f.face.radius)}"
    if f.face.kind == "sphere":
        return f"ball Ø{style.length(2 * f.face.radius)}"
    if f.face.kind == "cone":
        angle = math.degrees(f.face.half_angle)
        if _cut_of(f) == "chamfer":
            return f"{style.length(f.length)} x {angle:.4g}°"
        return f"Ø{style.length(2 * f.most)} to Ø{style.length(2 * f.least)}, {angle:.4g}° each side"
    return f"Ø{style.length(2 * f.most)}"


def _tool(kind: Kind, round_: Sequence[Lying], built: Built) -> str:
    if kind == "groove":
        return grooving(min(f.length for f in round_), built.style)
    if kind == "round" and round_:
        return f"form tool or nose radius up to R{built.style.length(min(f.face.radius for f in round_))}"
    return "turning tool"


def _passes(f: Lying, bar: float) -> int:
    """Cuts of a millimetre from the bar down, and one to finish."""
    return 1 + max(0, math.ceil(bar / 2 - f.least - 0.25)) if bar else 2


def _wall(groove: Lying, cut: Sequence[Lying]) -> float:
    return max((f.most for f in cut if f.face.kind == "plane"), default=groove.most + 1.0)


def _threaded(built: Built, spindle: Spindle, outer: Sequence[Lying], end: Vector, side: str) -> Iterator[Operation]:
    mine = {f.face.index for f in outer}
    for on in built.threads:
        if on.internal or on.face not in mine:
            continue
        pitch = built.style.length(on.thread.pitch)
        name = f"threading tool, pitch {pitch}"
        tool = Tool("turn", name, on.thread.diameter, 0.0, (), "")
        numbers = {s.number for s in built.sized if s.kind == "thread" and on.face in s.faces}
        skin = tuple(s.index for s in built.made_by(on.skin)) if on.skin else ()
        yield Operation(
            f"thread:{side}:{on.thread.designation}", "thread", "lathe",
            f"thread {on.thread.designation}, {built.style.length(on.length)} long", (on.face, *skin), (end,), tool,
            callouts=tuple(sorted(numbers)), length=_thread_passes(on.thread.pitch) * on.length,
            across=on.thread.diameter, burr="its first turn", pitch=on.thread.pitch,
        )  # fmt: skip


def _thread_passes(pitch: float) -> int:
    """Cuts for a thread, as is usual: 6 for a pitch of 1 mm, 11 for 2 mm."""
    return max(4, math.ceil(1 + 5 * pitch))


# --- inside
def _inside(built: Built, spindle: Spindle, bores: Sequence[Lying]) -> Iterator[Operation]:
    """Bores that are part of a turned profile, each set from the end it is reached from."""
    flat = [f for f in spindle.faces if f.face.kind == "plane"]
    floors = [f for f in flat if _in_bore(f, spindle)]
    by: dict[tuple[bool, bool], list[Lying]] = {}
    for f in [*bores, *floors]:
        by.setdefault((_is_open(f, spindle, True), _is_open(f, spindle, False)), []).append(f)
    for (right, left), cut in by.items():
        round_ = [f for f in cut if f.face.kind != "plane"]
        ways = tuple(spindle.end(r) for r, is_so in ((True, right), (False, left)) if is_so)
        if round_:
            yield from _bored(built, cut, round_, ways, "through" if right and left else "right" if right else "left")


def _is_open(f: Lying, spindle: Spindle, right: bool) -> bool:
    """Whether nothing that is narrower lies on the way in from an end."""
    if f.face.kind in ("plane", "cone") and not reaches(f.face, spindle.end(right)):
        return False
    beyond = [g for g in spindle.faces if g is not f and (g.low > f.high - NEAR if right else g.high < f.low + NEAR)]
    return all(g.least > f.least - NEAR for g in beyond if g.face.hollow or g.face.kind == "plane")


def _bored(
    built: Built, cut: Sequence[Lying], round_: Sequence[Lying], ways: tuple[Vector, ...], side: str
) -> Iterator[Operation]:
    broken = [f for f in round_ if _cut_of(f) == "chamfer"]
    bores = [f for f in cut if f not in broken]
    if any(f in bores for f in round_):
        yield from _opened(built, [f for f in round_ if f in bores], bores, ways, side)
    if broken:
        faces = tuple(f.face.index for f in broken)
        words = "chamfer the bore, " + ", ".join(dict.fromkeys(_size(f, built) for f in broken))
        across = 2 * max(f.most for f in broken)
        tool = Tool("turn", "boring bar", across, 0.0, (), "")
        yield Operation(
            f"chamfer bore:{side}", "chamfer", "lathe", words, faces, ways, tool, len(broken), built.callouts_on(faces),
            sum(f.length for f in broken), across,
        )  # fmt: skip


def _opened(
    built: Built, round_: Sequence[Lying], cut: Sequence[Lying], ways: tuple[Vector, ...], side: str
) -> Iterator[Operation]:
    faces = tuple(f.face.index for f in cut)
    bores = [f for f in round_ if f.face.kind == "cylinder"] or list(round_)
    least, deep = 2 * min(f.least for f in bores), max(f.high for f in round_) - min(f.low for f in round_)
    style = built.style
    if least <= REAMED:
        start = max(0.5 * least, math.floor(2 * (least - 0.5)) / 2)
        tool = Tool("drill", f"drill Ø{style.length(start)}", start, deep, (), "opens the bore")
        yield Operation(
            f"drill:{side}", "drill", "lathe", f"drill {style.length(start)} for the bore", (), ways, tool,
            length=deep + 0.3 * start, across=start,
        )  # fmt: skip
    sizes = ", ".join(dict.fromkeys(_size(f, built) for f in round_))
    tool = Tool("turn", f"boring bar under Ø{style.length(least)}", least, deep, (), "")
    yield Operation(
        f"bore:{side}", "bore", "lathe", f"bore {sizes}", faces, ways, tool, len(bores), built.callouts_on(faces),
        sum(2 * f.length for f in round_), 2 * max(f.most for f in round_),
        burr="both mouths" if side == "through" else "its mouth",
    )  # fmt: skip


def _parted(spindle: Spindle) -> Operation:
    outside = spindle.outside
    left = min((f.low for f in outside), default=0.0)
    across = 2 * max((f.most for f in outside if f.low < left + NEAR), default=0.0)
    tool = Tool("turn", "parting tool", across, 0.0, (), "")
    return Operation(
        "part_off", "part_off", "lathe", f"part off, Ø{across:.4g}", (), (spindle.way,), tool, length=across / 2,
        across=across, burr="the pip",
    )  # fmt: skip
