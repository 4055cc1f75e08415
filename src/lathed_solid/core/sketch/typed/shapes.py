"""Typed commands that draw: lines, rectangles, round things, free edges and letters."""

from __future__ import annotations

import math
import re

from ..make import draw, freehand, rounds, shapes, touching
from ..make.draw import Spot
from ..model import Line, Sketch
from ..refusal import SketchError
from .reader import Command, Place, Reader, spoken
from .stated import with_places


def _touched(r: Reader, start: int) -> tuple[str, int, tuple[str, ...], Place] | None:
    """``R60 between c1 c2 near 45,20``: what stands before, the two curves, and the place; None when not so told."""
    parts = r.parted(start, "between", "near")
    if "between" not in parts:
        return None
    names = r.names(*parts["between"])
    if len(names) != 2 or "near" not in parts:
        raise r.error("Say between which two, and near which place: between c1 c2 near 45,20.")
    text, begun = parts["near"]
    return *parts[""], names, r.place(text.strip(), begun + len(text) - len(text.lstrip()), (0.0, 0.0))


def line(r: Reader, start: int, construction: bool = False) -> Command:
    if (told := _touched(r, start)) is not None:
        (a, b), near = told[2], told[3]
        return Command(
            f"the line that touches {a} and {b}", lambda s, _: touching.add_touching_line(s, a, b, near.at)[0]
        )
    body = r.text[start:].rstrip()
    closed = body.lower().endswith("close")
    places = r.places(start, end=start + len(body) - len("close") if closed else None)
    if len(places) < 2 + closed:
        raise r.error(f"A {'closed line' if closed else 'line'} needs {2 + closed} places, as in line 0,0 40,0.")
    many = len(places) - 1 + closed
    kind = "centre line" if construction else "line"
    words = f"{many} {kind}{'s' * (many > 1)}" + (", closed" if closed else "")

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, lines = shapes.add_polyline(sketch, [p.spot for p in places], closed)
        sketch = with_places(sketch, zip(_corners(sketch, lines), places, strict=False), r.scope)
        return draw.toggle_construction(sketch, lines) if construction else sketch

    return Command(words, made)


def _corners(sketch: Sketch, lines: list[str]) -> list[str]:
    """The ends of a run of lines in the order they were placed."""
    found = [sketch.get(i) for i in lines]
    runs = [line for line in found if isinstance(line, Line)]
    return [*(line.a for line in runs), runs[-1].b]


def center_line(r: Reader, start: int) -> Command:
    return line(r, start, construction=True)


def point(r: Reader, start: int) -> Command:
    places = r.places(start)
    if not places:
        raise r.error("A point needs its place, as in point 12,8.")

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        for place in places:
            sketch, id_ = shapes.place_point(sketch, place.at, place.texts)
            if place.point and place.point in sketch.points() and id_ != place.point:
                sketch = shapes.related(sketch, "coincident", id_, place.point, assumed=True)
        return sketch

    return Command(f"{len(places)} point{'s' * (len(places) > 1)}", made)


def _middle(sketch: Sketch, place: Place) -> tuple[Sketch, str]:
    """The point a shape is drawn about: the one named, or a new one with its coordinates as sizes."""
    if place.point and place.point in sketch.points():
        return sketch, place.point
    return shapes.place_point(sketch, place.at, place.texts)


def rectangle(r: Reader, start: int) -> Command:
    if not re.search(r"\s[xX×]\s*", r.text[start:]):
        places = r.places(start)
        if len(places) == 3:
            a, b, c = (p.spot for p in places)
            words = "a rectangle on the line of its first two places"
            return Command(words, lambda s, _: shapes.add_slanted_rectangle(s, a, b, c))
        if len(places) != 2:
            raise r.error("A rectangle needs two corners, three places, or its sizes, as in rect 40 x 20 at 0,0.")
        a, b = (p.spot for p in places)
        corners = [a, Spot(b.x, a.y), b, Spot(a.x, b.y)]

        def boxed(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
            sketch, lines = shapes.add_polyline(sketch, corners, True)
            ends = _corners(sketch, lines)
            return with_places(sketch, ((ends[0], places[0]), (ends[2], places[1])), r.scope)

        return Command("a rectangle from corner to corner", boxed)
    text, at, place = r.at(start)
    wide, high = r.two(text, at)
    width, height = r.value(wide, r.text.index(wide, at)), r.value(high, r.text.index(high, at))

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, middle = _middle(sketch, place)
        sketch, (low, right, top, left) = shapes.add_centred_rectangle(sketch, middle, width, height)
        sketch = shapes.sized(sketch, "distance", (left, right), wide)
        return shapes.sized(sketch, "distance", (low, top), high)

    return Command(f"a rectangle {wide} x {high} about {spoken(place)}", made)


def circle(r: Reader, start: int) -> Command:
    text, at, place = r.at(start)
    match = re.fullmatch(r"\s*(Ø|ø|dia\s|R)\s*(.+)", text, re.IGNORECASE)
    if match is None:
        raise r.error("A circle needs its size, as in circle Ø20 at 12,8 or circle R10.", at + 1)
    is_radius = match[1].upper() == "R"
    size = r.value(match[2], at + match.start(2))
    radius = size if is_radius else size / 2
    if radius <= 0:
        raise r.error("A circle needs a size above zero.", at + match.start(2))

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, middle = _middle(sketch, place)
        sketch, circle = draw.add_circle(sketch, Spot(*place.at, middle), radius)
        return shapes.sized(sketch, "radius" if is_radius else "diameter", (circle,), match[2])

    return Command(f"a circle {'R' if is_radius else 'Ø'}{match[2].strip()} about {spoken(place)}", made)


def arc(r: Reader, start: int) -> Command:
    """``arc a b over``; ``arc about c a b``; ``arc on p4 b`` goes on smoothly from the end p4; ``arc R60 between c1 c2
    near 45,20`` touches both.
    """
    if (told := _touched(r, start)) is not None:
        text, at, (first, second), near = told
        size = text.strip().lstrip("Rr").strip()
        radius = r.value(size, at + text.index(size) if size else at)
        if radius <= 0:
            raise r.error("A radius must be above zero.", at)
        return Command(
            f"an arc R{size} that touches {first} and {second}",
            lambda s, _: touching.add_touching_arc(s, first, second, size, radius, near.at)[0],
        )
    head = r.text[start:].strip().partition(" ")[0].lower()
    if head in ("about", "on"):
        begun = r.text.lower().index(head, start) + len(head)
        places = r.places(begun, 3 if head == "about" else 2)
        spots = [p.spot for p in places]
        if head == "about":
            words = f"an arc about {spoken(places[0])}"
            return Command(words, lambda s, _: rounds.add_center_arc(s, *spots)[0])
        words = f"an arc on from {spoken(places[0])}"
        return Command(words, lambda s, _: rounds.add_tangent_arc(s, *spots)[0])
    a, b, over = (p.spot for p in r.places(start, 3))
    return Command("an arc between two places over a third", lambda s, _: draw.add_arc(s, a, b, over)[0])


def polygon(r: Reader, start: int) -> Command:
    text, at, place = r.at(start)
    match = re.fullmatch(r"\s*(\d+)\s+(A/F|AF|A/C|AC)\s+(.+)", text, re.IGNORECASE)
    if match is None:
        raise r.error("A polygon needs its sides and size, as in polygon 6 A/F 13 at 0,0 (A/C: corners).", at + 1)
    sides, flats = int(match[1]), match[2].upper() in ("A/F", "AF")
    size = r.value(match[3], at + match.start(3))
    if flats and sides % 2:
        raise r.error("Only polygons of an even number of sides have flats across. Use A/C.", at + match.start(2))
    corners = size / math.cos(math.pi / sides) if flats else size

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, middle = _middle(sketch, place)
        sketch, circle, lines = shapes.add_polygon(sketch, middle, sides, corners)
        if flats:
            return shapes.sized(sketch, "distance", (lines[0], lines[sides // 2]), match[3])
        return shapes.sized(sketch, "diameter", (circle,), match[3])

    across = "flats" if flats else "corners"
    return Command(f"{sides} sides, {match[3].strip()} across {across}, about {spoken(place)}", made)


def slot(r: Reader, start: int) -> Command:
    """``slot 8 x 32 at 0,0`` level; ``slot 8 from 0,0 30,20`` any way; ``slot 8 about 0,0 20,0 0,20`` along an arc."""
    parts = r.parted(start, "about", "from")
    if "from" in parts:
        wide, begun = parts[""]
        width, ends = r.value(wide, begun), r.places(parts["from"][1], 2)

        def slanted(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
            sketch, first = _middle(sketch, ends[0])
            sketch, last = _middle(sketch, ends[1])
            sketch, _spine, (low, high) = shapes.add_slot_between(sketch, first, last, width)
            return shapes.sized(sketch, "distance", (low, high), wide)

        return Command(f"a slot {wide.strip()} wide from {spoken(ends[0])} to {spoken(ends[1])}", slanted)
    if "about" in parts:
        wide, begun = parts[""]
        width = r.value(wide, begun)
        places = r.places(parts["about"][1], 3)

        center, first, last = (p.spot for p in places)

        def bent(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
            sketch, _spine, cap = rounds.add_arc_slot(sketch, center, first, last, width)
            return shapes.sized(sketch, "diameter", (cap,), wide)

        return Command(f"a slot {wide.strip()} wide along an arc about {spoken(places[0])}", bent)
    text, at, place = r.at(start)
    wide, long = r.two(text, at)
    width, length = r.value(wide, r.text.index(wide, at)), r.value(long, r.text.index(long, at))

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, middle = _middle(sketch, place)
        sketch, spine, (low, high) = shapes.add_slot(sketch, middle, length, width)
        entity = sketch.get(spine)
        assert isinstance(entity, Line)
        sketch = shapes.sized(sketch, "distance", (entity.a, entity.b), long)
        return shapes.sized(sketch, "distance", (low, high), wide)

    return Command(f"a slot {wide} wide, {long} between centres, about {spoken(place)}", made)


def ellipse(r: Reader, start: int) -> Command:
    text, at, place = r.at(start)
    wide, high = r.two(text, at)
    width, height = r.value(wide, r.text.index(wide, at)), r.value(high, r.text.index(high, at))

    def made(sketch: Sketch, _: tuple[str, ...]) -> Sketch:
        sketch, middle = _middle(sketch, place)
        end = Spot(place.at[0] + width / 2, place.at[1])
        sketch, e = freehand.add_ellipse(sketch, Spot(*place.at, middle), end, height / 2)
        sketch = shapes.related(sketch, "horizontal", middle, getattr(sketch.get(e), "a"))  # noqa: B009
        sketch = shapes.sized(sketch, "long_axis", (e,), wide)
        return shapes.sized(sketch, "short_axis", (e,), high)

    return Command(f"an ellipse {wide} x {high} about {spoken(place)}", made)


def spline(r: Reader, start: int) -> Command:
    body = r.text[start:].rstrip()
    closed = body.lower().endswith("close")
    places = r.places(start, end=start + len(body) - len("close") if closed else None)
    if len(places) < 2 + closed:
        raise r.error("A free edge needs two places at least, as in spline 0,0 10,4 20,0.")
    spots = [p.spot for p in places]
    if closed:
        spots.append(spots[0])
    words = f"a free edge through {len(places)} places" + (", closed" if closed else "")
    return Command(words, lambda s, _: freehand.add_spline(s, spots)[0])


def text(r: Reader, start: int) -> Command:
    """``text "SKP-08" 5 on l3 middle bold``"""
    match = re.match(r"\s*[\"“](.*?)[\"”]\s*(.*)", r.text[start:])
    if match is None:
        raise r.error('A text stands between quotes, as in text "SKP-08" 5 on l3.', start + 1)
    begun = start + match.start(2)
    parts = r.parted(begun, "on", "start", "middle", "end", "bold", "figures", "spacing")
    high, at = parts[""]
    height = r.value(high, at)
    style: dict[str, object] = {}
    style["align"] = next((w for w in ("middle", "end") if w in parts), "start")
    style["font"] = next((w for w in ("bold", "figures") if w in parts), "plain")
    if "spacing" in parts:
        style["spacing"] = r.value(*parts["spacing"], "number")
    on = r.names(*parts["on"]) if "on" in parts else ()

    def made(sketch: Sketch, chosen: tuple[str, ...]) -> Sketch:
        under = on or chosen
        if len(under) != 1:
            raise SketchError("Choose the line or arc that the text stands on, or name it: on l3.")
        sketch, id_ = freehand.add_text(sketch, under[0], match[1], height, **style)
        return shapes.sized(sketch, "height", (id_,), high)

    return Command(f"“{match[1]}” {high.strip()} high", made)


SHAPES = {
    "line": line, "cl": center_line, "point": point, "rect": rectangle, "circle": circle, "arc": arc,
    "polygon": polygon, "slot": slot, "ellipse": ellipse, "spline": spline, "text": text,
}  # fmt: skip
