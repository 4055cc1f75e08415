"""Tools that change or copy what is drawn."""

from __future__ import annotations

import math

from ..curves import nearest
from ..edit import copying, corner, offset, repeating, trim
from ..make.draw import Spot
from ..model import ACROSS, ALONG, ORIGIN, Arc, Circle, Ellipse, Line, Sketch, ends_of
from ..refusal import SketchError
from .tool import Field, Given, Tool, Typed, Values


def _value(g: Given, key: str, otherwise: Typed) -> Typed:
    return g.typed.get(key, otherwise)


def _under(g: Given, sketch: Sketch, what: str) -> str:
    """The curve that was clicked."""
    spot = g.spots[-1]
    if spot.curve:
        return spot.curve
    points = sketch.points()
    best = min(((nearest(c, points, *spot.xy)[0], c.id) for c in sketch.curves()), default=(math.inf, ""))
    if best[1] and best[0] < 1e-6:
        return best[1]
    raise SketchError(f"Click {what}.")


def fillet(sketch: Sketch, g: Given) -> Sketch:
    size = _value(g, "radius", Typed("1", 1.0))
    if size.value <= 0:
        raise SketchError("A radius must be above zero.")
    return corner.round_corner(sketch, _corner(g), size.text, size.value)[0]


def chamfer(sketch: Sketch, g: Given) -> Sketch:
    leg, slope = _value(g, "leg", Typed("1", 1.0)), _value(g, "slope", Typed("45°", math.pi / 4))
    return corner.break_corner(sketch, _corner(g), leg.text, leg.value, slope.text, slope.value)[0]


def _corner(g: Given) -> tuple[str, ...]:
    spot = g.spots[0]
    if spot.point and spot.point != ORIGIN:
        return (spot.point,)
    raise SketchError("Click a corner where two lines or arcs meet.")


def trim_(sketch: Sketch, g: Given) -> Sketch:
    if len(g.spots) > 1:
        return trim.trim_across(sketch, [s.xy for s in g.spots])
    return trim.trim(sketch, _under(g, sketch, "the piece to take away"), g.spots[0].xy)


def extend(sketch: Sketch, g: Given) -> Sketch:
    if len(g.spots) > 1:
        return trim.extend_across(sketch, [s.xy for s in g.spots])
    return trim.extend(sketch, _under(g, sketch, "a line or arc near the end that is to grow"), g.spots[0].xy)


def split(sketch: Sketch, g: Given) -> Sketch:
    return trim.split(sketch, _under(g, sketch, "the line or arc to split"), g.spots[0].xy)


def offset_(sketch: Sketch, g: Given) -> Sketch:
    """Typed distances go to the side of the cursor; a sign typed with them turns that round."""
    ids = tuple(i for i in g.chosen if any(c.id == i for c in sketch.curves()))
    if not ids:
        raise SketchError("Choose the lines and arcs to offset first.")
    there = offset_distance(sketch, ids, g.spots[0].xy)
    size = _value(g, "distance", Typed(f"{abs(there):.3f}", abs(there)))
    return offset.offset(sketch, ids, size.text, math.copysign(1.0, there) * size.value)[0]


def offset_distance(sketch: Sketch, ids: tuple[str, ...], at: tuple[float, float]) -> float:
    """Signed distance of a place from what is to be offset: outwards or to the left positive, mm."""
    from ..region import inside

    points = sketch.points()
    gap, curve = min(((nearest(c, points, *at)[0], c) for c in sketch.curves() if c.id in ids), key=lambda x: x[0])
    if isinstance(curve, Circle):
        c = points[curve.center]
        return math.hypot(at[0] - c.x, at[1] - c.y) - curve.radius
    chain, closed = offset.chained(sketch, tuple(i for i in ids if ends_of(sketch.get(i))))
    if closed:
        import numpy as np

        from ..curves import polyline

        pieces = [polyline(k.curve, points)[:: -1 if k.backwards else 1][:-1] for k in chain]
        return -gap if inside(np.concatenate(pieces), *at) else gap
    link = next(k for k in chain if k.curve.id == curve.id)
    (px, py), turn = nearest(curve, points, *at)[1], 0.0
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        turn = math.atan2(b.y - a.y, b.x - a.x)
    else:
        c = points[curve.center]  # type: ignore[union-attr]
        turn = math.atan2(py - c.y, px - c.x) + math.pi / 2
    left = math.cos(turn) * (at[1] - py) - math.sin(turn) * (at[0] - px) > 0
    return gap if left != link.backwards else -gap


def mirror(sketch: Sketch, g: Given) -> Sketch:
    return copying.mirror(sketch, g.chosen, _axis(sketch, g), True)[0]


def mirror_copy(sketch: Sketch, g: Given) -> Sketch:
    return copying.mirror(sketch, g.chosen, _axis(sketch, g), False)[0]


def _axis(sketch: Sketch, g: Given) -> str:
    spot = g.spots[0]
    if spot.curve in (ALONG, ACROSS):
        return spot.curve
    found = _under(g, sketch, "the line to mirror about")
    if not isinstance(sketch.get(found), Line):
        raise SketchError("Click a straight line to mirror about.")
    return found


def _shift(g: Given) -> copying.Placing:
    a, b = g.spots
    return copying.shift(b.x - a.x, b.y - a.y)


def move(sketch: Sketch, g: Given) -> Sketch:
    return copying.moved(sketch, g.chosen, _shift(g))


def copy(sketch: Sketch, g: Given) -> Sketch:
    return copying.copied(sketch, g.chosen, _shift(g), False)[0]


def _turn(g: Given) -> float:
    if "angle" in g.typed:
        return g.typed["angle"].value
    c, a, b = g.spots
    return math.atan2(b.y - c.y, b.x - c.x) - math.atan2(a.y - c.y, a.x - c.x)


def turn(sketch: Sketch, g: Given) -> Sketch:
    return copying.moved(sketch, g.chosen, copying.turned(g.spots[0].xy, _turn(g)))


def scale(sketch: Sketch, g: Given) -> Sketch:
    factor = g.typed["factor"].value if "factor" in g.typed else 1.0
    return copying.moved(sketch, g.chosen, copying.scaled(g.spots[0].xy, factor))


def row(sketch: Sketch, g: Given) -> Sketch:
    count, pitch = _count(g, "count"), _value(g, "pitch", Typed("10", 10.0))
    along = (g.spots[0].curve,) if g.spots[0].curve else (ALONG,)
    return repeating.add_repeat(sketch, "row", g.chosen, (count,), ((pitch.text, pitch.value),), along)[0]


def grid(sketch: Sketch, g: Given) -> Sketch:
    counts = (_count(g, "count"), _count(g, "count2"))
    steps = tuple((t.text, t.value) for t in (_value(g, k, Typed("10", 10.0)) for k in ("pitch", "pitch2")))
    return repeating.add_repeat(sketch, "grid", g.chosen, counts, steps)[0]


def ring(sketch: Sketch, g: Given) -> Sketch:
    count = _count(g, "count")
    turns = ((g.typed["angle"].text, g.typed["angle"].value),) if "angle" in g.typed else ()
    spot = g.spots[0]
    curve = sketch.get(spot.curve) if spot.curve and not spot.point else None
    center = spot.point or (curve.center if isinstance(curve, Circle | Arc | Ellipse) else "")
    if not center:
        raise SketchError("Click the centre of the ring: a point, a circle, or the origin.")
    return repeating.add_repeat(sketch, "ring", g.chosen, (count,), turns, (center,))[0]


def _count(g: Given, key: str) -> tuple[str, int]:
    typed = _value(g, key, Typed("3", 3.0))
    if typed.value < 1 or abs(typed.value - round(typed.value)) > 1e-9:
        raise SketchError("A count is a whole number above zero.")
    return typed.text, round(typed.value)


def space(sketch: Sketch, g: Given) -> Sketch:
    return repeating.add_spaced_points(sketch, _under(g, sketch, "the line"), _count(g, "count")[1])[0]


def _aim_shift(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    if not spots:
        return here
    a = spots[0]
    x = a.x + typed["along"].value if "along" in typed else here.x
    y = a.y + typed["across"].value if "across" in typed else here.y
    return Spot(x, y, here.point if (x, y) == here.xy else "")


def _live_shift(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    return {"along": here.x - spots[0].x, "across": here.y - spots[0].y} if spots else {}


def _live_turn(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if len(spots) < 2:
        return {}
    c, a = spots
    angle = math.atan2(here.y - c.y, here.x - c.x) - math.atan2(a.y - c.y, a.x - c.x)
    return {"angle": math.remainder(angle, 2 * math.pi)}


def _offset_live(sketch: Sketch, g: Given) -> dict[str, float]:
    ids = tuple(i for i in g.chosen if any(c.id == i for c in sketch.curves()))
    return {"distance": abs(offset_distance(sketch, ids, g.spots[-1].xy))} if ids else {}


SHIFT = (Field("along", "along"), Field("across", "across"))
COUNT = Field("count", "count", "number", "3")
CHANGING = (
    Tool("fillet", "Corner radius", "fillet", ("Type the radius and click a corner",), fillet, 1,
         ((Field("radius", "R", "length", "1"),),)),
    Tool("chamfer", "Corner chamfer", "chamfer", ("Type the chamfer and click a corner",), chamfer, 1,
         ((Field("leg", "leg", "length", "1"), Field("slope", "angle", "angle", "45°")),)),
    Tool("trim", "Trim", "trim", ("Click a piece to take it away, or draw a stroke across several",), trim_, 1,
         stroke=True),
    Tool("extend", "Extend", "extend",
         ("Click a line or arc near the end that is to grow, or draw a stroke across several",), extend, 1,
         stroke=True),
    Tool("split", "Split", "split", ("Click where a line or arc is to be split",), split, 1),
    Tool("offset", "Offset", "offset", ("Click the side, or type the distance",), offset_, 1,
         ((Field("distance", "distance"),),),
         chosen="lines and arcs to offset", measure=_offset_live),
    Tool("mirror", "Mirror, linked", "mirror", ("Click the line to mirror about",), mirror, 1, chosen="what to mirror"),
    Tool("mirror_copy", "Mirror a copy", "mirror", ("Click the line to mirror about",), mirror_copy, 1,
         chosen="what to mirror"),
    Tool("move", "Move", "move", ("From here", "To here"), move, 2, ((), SHIFT), _aim_shift, _live_shift,
         chosen="what to move"),
    Tool("copy", "Copy", "copy", ("From here", "To here"), copy, 2, ((), SHIFT), _aim_shift, _live_shift,
         chosen="what to copy"),
    Tool("turn", "Turn", "turn_about", ("Click the centre to turn about", "From this direction",
         "To that direction"), turn, 3,
         ((), (), (Field("angle", "angle", "angle"),)), live=_live_turn, chosen="what to turn"),
    Tool("scale", "Scale", "scale", ("Type the factor and click the place that stays",), scale, 1,
         ((Field("factor", "factor", "number", "2"),),), chosen="what to scale"),
    Tool("row", "Row", "row", ("Type count and pitch; click a line for the direction, or the axis",), row, 1,
         ((COUNT, Field("pitch", "pitch", "length", "10")),), chosen="what to repeat"),
    Tool("grid", "Grid", "grid", ("Type counts and pitches, then click",), grid, 1,
         ((COUNT, Field("pitch", "pitch", "length", "10"), Field("count2", "count across", "number", "2"),
           Field("pitch2", "pitch across", "length", "10")),), chosen="what to repeat"),
    Tool("ring", "Ring", "ring_of",
         ("Type the count and click the centre; an angle between them if not the whole turn",), ring, 1,
         ((COUNT, Field("angle", "angle between", "angle")),), chosen="what to repeat"),
    Tool("space", "Points spaced along a line", "space", ("Type how many and click the line",), space, 1, ((COUNT,),)),
)  # fmt: skip
