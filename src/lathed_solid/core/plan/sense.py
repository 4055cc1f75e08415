"""Shop sense: what a drawing may state and a solid show, and a shop would not make so. Each rule with its source."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import dot, minus, norm
from ..standards.tables import NotTabled
from ..standards.thread_limits import minor_limits
from ..tolerance import LEVEL
from .sheet.work import Built, ThreadOn

#: A twist drill goes so many diameters deep; a thread carries over so many; a chamfer at its mouth takes so many turns.
DRILLED, ENGAGED, EATEN = 10.0, 2.5, 2.0
#: Round faces whose axes and radii differ by less than this are one bore (mm).
_ONE = 1e-6
_WHOLE = 2 * math.pi - 1e-6
_PLAIN = ("plane", "cylinder", "cone")


class Around(NamedTuple):
    """What only the solid itself tells: sharp corners inside (a place and the faces that meet there), faces that
    nothing reaches in a straight line, and the wall beside each threaded bore (mm, by its face).
    """

    corners: Sequence[tuple[Vector, tuple[int, ...]]] = ()
    unreached: Sequence[int] = ()
    beside: dict[int, float] = {}


class Finding(NamedTuple):
    """Against which rule (its id), in words, and on which faces."""

    rule: str
    words: str
    faces: tuple[int, ...]


class Rule(NamedTuple):
    """``says`` is the rule in a sentence, ``source`` where it comes from."""

    id: str
    title: str
    says: str
    source: str
    look: Callable[[Built, Around], Iterable[Finding]]


def findings(built: Built, around: Around, off: Iterable[str] = ()) -> tuple[Finding, ...]:
    """All that the rules have against a part, but for those switched off."""
    return tuple(f for rule in RULES if rule.id not in off for f in rule.look(built, around))


# --- drills
def _bores(built: Built) -> list[tuple[Surface, float, tuple[int, ...]]]:
    """Whole bores: pieces of one axis and radius together, how far they go, and their faces."""
    left, found = [s for s in built.surfaces if s.kind == "cylinder" and s.hollow and s.turn > _WHOLE], []
    while left:
        first = left.pop(0)
        alike = [s for s in left if _same_bore(first, s)]
        left = [s for s in left if s not in alike]
        ends = [dot(minus(_at(s, v), first.origin), first.axis) for s in (first, *alike) for v in s.span]
        found.append((first, max(ends) - min(ends), tuple(s.index for s in (first, *alike))))
    return found


def _at(s: Surface, along: float) -> Vector:
    o, a = s.origin, s.axis
    return o[0] + along * a[0], o[1] + along * a[1], o[2] + along * a[2]


def _same_bore(a: Surface, b: Surface) -> bool:
    gap = minus(b.origin, a.origin)
    lift = dot(gap, a.axis)
    aside = norm((gap[0] - lift * a.axis[0], gap[1] - lift * a.axis[1], gap[2] - lift * a.axis[2]))
    return abs(a.radius - b.radius) < _ONE and abs(dot(a.axis, b.axis)) > 1 - LEVEL and aside < _ONE


def _deep(built: Built, around: Around) -> Iterator[Finding]:
    for bore, depth, faces in _bores(built):
        if built.turned and norm((bore.origin[0], bore.origin[1], 0.0)) < _ONE and abs(bore.axis[2]) > 1 - LEVEL:
            continue  # on the turning axis it is bored, not only drilled
        ratio = depth / (2 * bore.radius)
        if ratio > DRILLED:
            size = f"Ø{built.style.length(2 * bore.radius)}"
            yield Finding("deep", f"{size} goes {built.style.length(depth)} deep: {ratio:.1f} diameters.", faces)


# --- threads
def _long(built: Built, around: Around) -> Iterator[Finding]:
    for t in built.threads:
        ratio = t.length / t.thread.diameter
        if t.internal and ratio > ENGAGED:
            words = f"{t.thread.designation} is {built.style.length(t.length)} long: {ratio:.1f} diameters."
            yield Finding("engaged", words, (t.face,))


def _tap_drill(built: Built, around: Around) -> Iterator[Finding]:
    for t in built.threads:
        bore = built.surfaces[t.face - 1]
        if not t.internal or t.skin or bore.kind != "cylinder":
            continue
        try:
            low, high = minor_limits(t.thread)
        except NotTabled:
            continue
        across = 2 * bore.radius
        if low - 1e-6 <= across <= high + 1e-6:
            continue
        how = "breaks the tap" if across < low else "leaves too little flank"
        style = built.style
        words = (
            f"{t.thread.designation} in a hole of Ø{style.length(across)}: {how}; "
            f"{style.length(low)} to {style.length(high)} is right."
        )
        yield Finding("tap drill", words, (t.face,))


def _breaks_out(built: Built, around: Around) -> Iterator[Finding]:
    for t in built.threads:
        bore = built.surfaces[t.face - 1]
        if not t.internal or bore.kind != "cylinder":
            continue
        deep = t.thread.diameter / 2 - bore.radius
        if bore.turn < _WHOLE:
            yield Finding("breaks out", f"{t.thread.designation} is cut open along its side.", (t.face,))
        elif deep > 0 and around.beside.get(t.face, math.inf) <= deep + 1e-6:
            wall = built.style.length(around.beside[t.face])
            needs = built.style.length(deep)
            words = f"{t.thread.designation} breaks out: {wall} beside the hole, and the thread needs {needs}."
            yield Finding("breaks out", words, (t.face,))


def _eaten(built: Built, around: Around) -> Iterator[Finding]:
    for t in built.threads:
        on = built.surfaces[t.face - 1]
        for cone in built.surfaces:
            if cone.kind == "cone" and (long := _beside(on, cone, t)) > EATEN * t.thread.pitch:
                words = f"The chamfer takes {built.style.length(long)} of {t.thread.designation}: "
                yield Finding("eaten", f"{words}{long / t.thread.pitch:.1f} turns.", (cone.index, on.index))


def _beside(on: Surface, cone: Surface, t: ThreadOn) -> float:
    """How long a chamfer at the mouth of a thread is along it, mm; 0 for a cone elsewhere, as the tip of a drill."""
    if on.kind != "cylinder" or abs(dot(on.axis, cone.axis)) < 1 - LEVEL:
        return 0.0
    ends = [c for c in cone.circles if abs(c.radius - on.radius) < _ONE]
    if not any(math.dist(a.center, b.center) < _ONE for a in ends for b in on.circles):
        return 0.0
    widest = max((c.radius for c in cone.circles), default=0.0)
    mouth = widest > on.radius + _ONE if t.internal else widest < on.radius + _ONE and len(cone.circles) > 1
    return cone.span[1] - cone.span[0] if mouth else 0.0


# --- corners and reach
def _sharp(built: Built, around: Around) -> Iterator[Finding]:
    """Those of one step together; letters are cut by a point, and flanks of a thread by a tool of their form."""
    engraved = {s.id for s in built.steps if s.kind == "Engrave"}
    by_step: dict[str, list[tuple[Vector, tuple[int, ...]]]] = {}
    for place, faces in around.corners:
        maker = next((built.makers[f - 1] for f in reversed(faces)), "")
        if maker not in engraved and all(built.surfaces[f - 1].kind in _PLAIN for f in faces):
            by_step.setdefault(maker, []).append((place, faces))
    for group in by_step.values():
        at = ", ".join(built.style.length(v) for v in group[0][0])
        many = f"{len(group)} sharp corners inside, the first" if len(group) > 1 else "A sharp corner inside,"
        touched = tuple(sorted({f for _, faces in group for f in faces}))
        yield Finding("corner", f"{many} at {at}: a turning cutter leaves its radius there.", touched)


def _unreached(built: Built, around: Around) -> Iterator[Finding]:
    for index in around.unreached:
        words = built.surfaces[index - 1].describe(built.style, built.turned)
        yield Finding("reach", f"Nothing reaches the {words} in a straight line.", (index,))


_PRACTICE = "usual workshop practice; no standard states it"
RULES = (
    Rule("deep", "Drill depth over diameter", f"A twist drill goes about {DRILLED:g} diameters deep; deeper is for a "
         "gun drill, or from both ends.", _PRACTICE, _deep),
    Rule("engaged", "Useful engagement", f"The first turns carry the load: beyond {ENGAGED:g} diameters more thread "
         "adds only work and broken taps.", _PRACTICE, _long),
    Rule("tap drill", "Tap drill", "The hole comes out inside the limits of the internal thread's minor diameter.",
         "ISO 965-1 table 3, ASME B1.1 section 8.3; other threads by a share of their pitch", _tap_drill),
    Rule("corner", "Sharp corners inside", "A cutter that turns leaves its radius in a corner of three walls; sharp it "
         "is only eroded or broached.", _PRACTICE, _sharp),
    Rule("reach", "Reach", "Every face is seen in a straight line from one side at least, or no tool gets there.",
         _PRACTICE, _unreached),
    Rule("breaks out", "Tapped hole breaks out", "The flanks need material round the whole hole, half the difference "
         "of the thread's and the hole's diameter.", "the thread's own diameters", _breaks_out),
    Rule("eaten", "Chamfer eats a thread", f"A chamfer at the mouth of a thread is to take {EATEN:g} turns at most.",
         _PRACTICE, _eaten),
)  # fmt: skip
