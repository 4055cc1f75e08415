"""In which view a callout is written: where what it takes hold of is seen best."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ...kernel.ground.geometry import dot, minus
from .model import Sheet, SheetView
from .seen import Hold, Run, Seen, SeenView, places_at_level

#: Round things are sized where they are seen as circles, a turned diameter from the side; by so much rather.
_END_ON, _FROM_SIDE = 3.0, 2.0
#: What a view is worth in which the flat face that a tolerance stands on is no line.
_FACED = 1e-3
#: What a view is worth from which no line of a length can be led out.
_UNTOLD = 1e-2
#: Lines as long as this, times the part, are seen well enough.
_PLAIN = 0.05
#: A view that shows so much of what the best one shows will do.
_WELL = 0.2
#: A length whose both ends are seen.
_BOTH = 1e4
#: More of a face than this is no mere hidden line of it (mm).
_SEEN = 0.5


def homes(holds: Sequence[Hold], sheet: Sheet, seen: Seen) -> Mapping[int, str]:
    """Views by callout number, of those that some view shows: as few views as will do. The view that shows most (of
    a turned part the first one) has all that it shows well, then comes the one that shows most of the rest.
    """
    size = max(b - a for a, b in zip(seen.low, seen.high, strict=True)) or 1.0
    scores = {
        h.number: {v.id: score(h, seen.views[v.id], v, size, seen.turned) for v in sheet.views if v.id in seen.views}
        for h in holds
    }
    best = {n: max(own.values(), default=0.0) for n, own in scores.items()}
    left = {n for n in scores if best[n] > 0}
    order, found = [v.id for v in sheet.views if v.id in seen.views], dict[int, str]()
    while left and order:
        shown = {v: [n for n in left if scores[n][v] >= _WELL * best[n]] for v in order}
        first = seen.turned and not found and bool(shown[order[0]])
        view = order[0] if first else max(order, key=lambda v: len(shown[v]))
        order.remove(view)
        found |= dict.fromkeys(shown[view], view)
        left -= set(shown[view])
    return found


def score(hold: Hold, view: SeenView, kept: SheetView, size: float, turned: bool) -> float:
    """How well a view shows what a callout takes hold of, on a part of that ``size`` (mm); 0 for not at all."""
    if kept.way == "three faces":  # nothing is seen in its true size there
        return 0.0
    lengths = _lengths(view, kept.hidden)
    if hold.run is not None:
        return _of_run(hold.run, view, lengths, kept.hidden)
    shown = sum(lengths.get(f, 0.0) for f in hold.faces[1:]) * 0.3 + sum(lengths.get(f, 0.0) for f in hold.faces[:1])
    told = shown / (shown + _PLAIN * size)
    if hold.normal is not None and abs(dot(hold.normal, view.eye.normal)) > 1e-6:
        return told * _FACED  # its outline would tell of the faces beside it
    if hold.axis is not None:
        facing = abs(dot(hold.axis, view.eye.normal))
        if turned and not hold.hole and abs(hold.axis[2]) > 1 - 1e-6:
            told *= _FROM_SIDE if facing < 1e-6 else 1.0
        elif facing > 1 - 1e-6:
            told *= _END_ON
    return told


def _is_told(run: Run, view: SeenView, hidden: bool) -> bool:
    """Whether a line can be led out from one of its ends: the axis of a hole seen from the side has none."""
    k = 0 if abs(dot(run.way, view.eye.x)) > 0.5 else 1
    for face, place in zip(run.faces, (run.a, run.b), strict=True):
        away = minus(place, view.eye.origin)
        flat = dot(away, view.eye.x), dot(away, view.eye.y)
        if face and any(places_at_level(view, face, flat, k, v) for v in ((True, False) if hidden else (True,))):
            return True
    return False


def _of_run(run: Run, view: SeenView, lengths: Mapping[int, float], hidden: bool) -> float:
    if abs(dot(run.way, view.eye.normal)) > 1e-6 or not view.is_true(run.way):
        return 0.0
    level = max(abs(dot(run.way, view.eye.x)), abs(dot(run.way, view.eye.y))) > 1 - 1e-6
    slanted = 1.0 if level else 0.5  # a length is rather written where it lies level or upright
    if level and not _is_told(run, view, hidden):
        slanted *= _UNTOLD
    shown = [lengths.get(f, 0.0) for f in run.faces if f]
    if not shown or not any(shown):
        return 0.0
    return slanted * ((1.0 if all(s > _SEEN for s in shown) else 0.1) * _BOTH + sum(shown))


def _lengths(view: SeenView, hidden: bool) -> Mapping[int, float]:
    """How much of each face is seen, mm; hidden lines count little."""
    found: dict[int, float] = {}
    for stroke in view.strokes:
        if stroke.kind == "tangent" or (not stroke.visible and not hidden):
            continue
        for face in stroke.faces:
            found[face] = found.get(face, 0.0) + stroke.length * (1.0 if stroke.visible else 0.02)
    return found
