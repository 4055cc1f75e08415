"""Drawing offices made up for trials: sheets of several sizes, title blocks and habits, all from one number."""

from __future__ import annotations

import math
import random
from typing import NamedTuple

from .drawn import Drawn, Manner, Note, Point, faces


class Habit(NamedTuple):
    """How an office draws: unit, decimal comma, scale of its sheets, room between a number and its line."""

    unit: str
    comma: bool
    scale: float
    gap: float
    titles: str
    chance: random.Random


class Made(NamedTuple):
    """A sheet and its truth: notes, outline lines and circles (mm of paper from the top left)."""

    pdf: bytes
    size: Point
    unit: str
    scale: float
    face: str
    notes: tuple[Note, ...]
    lines: tuple[tuple[float, float, float, float], ...]
    circles: tuple[tuple[float, float, float], ...]


def made(seed: int, by_hand: bool = False) -> Made:
    """The sheet of a number; the same number gives the same sheet where the same lettering is installed."""
    chance = random.Random(seed * 7919 + 17)
    names = sorted(faces())
    habit = Habit(
        unit="in" if seed % 5 == 4 else "mm",
        comma=seed % 7 == 3,
        scale=chance.choice([1.0, 1.0, 1.0, 2.0, 0.5]),
        gap=chance.choice([0.7, 0.9, 1.2]),
        titles=chance.choice(["corner", "strip", "column", "small"]),
        chance=chance,
    )
    size = chance.choice([(420.0, 297.0), (420.0, 297.0), (297.0, 210.0), (431.8, 279.4)])
    sheet = Drawn(
        size,
        names[seed % len(names)],
        chance.choice([2.5, 2.5, 3.0, 3.5, 3.5]),
        random.Random(seed) if by_hand else None,
        _manner(seed),
    )
    _frame(sheet, habit)
    large = size[0] > 350
    kinds = chance.sample([_shaft, _plate, _flange], 2 if large else 1)
    for n, kind in enumerate(kinds):
        left = 18.0 + n * 190.0
        kind(sheet, habit, (left, 20.0, left + (185.0 if large else 255.0), size[1] - 62.0))
    _scraps(sheet, habit)
    return Made(
        sheet.pdf(), size, habit.unit, habit.scale, sheet.face, tuple(sheet.notes), tuple(sheet.lines),
        tuple(sheet.circles),
    )  # fmt: skip


def _manner(seed: int) -> Manner:
    """Sheets from 500 on are dimensioned in other ways too."""
    if seed < 500:
        return Manner()
    chance = random.Random(seed * 31 + 5)
    return Manner(chance.choice(["shoulder", "none", "under"]), chance.random() < 0.4)


# --- numbers and notes
def _figure(mm: float, habit: Habit) -> str:
    """A drawn length (mm of paper) as the office writes it."""
    value = mm * habit.scale
    if habit.unit == "in":
        text = f"{value / 25.4:.3f}"
        return text.lstrip("0") if habit.chance.random() < 0.8 else text
    text = f"{value:.2f}" if habit.chance.random() < 0.15 else f"{value:.1f}"
    if habit.chance.random() < 0.8:
        text = text.rstrip("0").rstrip(".")
    return text.replace(".", ",") if habit.comma else text


def _limits(habit: Habit, is_diameter: bool) -> str:
    chance = habit.chance
    if habit.unit == "in":
        return chance.choice(["", "", "", " ±.005", " ±.002", " ±.001", " +.002/-.001", " REF"])
    if is_diameter and chance.random() < 0.4:
        return " " + chance.choice(
            ["h6", "H7", "g6", "k6", "js6", "f7", "h9", "H8", "n6", "p6", "m6", "h11", "F8", "r6"]
        )
    plain = ["", "", "", " ±0.1", " ±0.05", " ±0.02", " ±0.2", " +0.2/-0.1", " 0/-0.1", " +0.05/0", " +0.3/0", " ±0.3"]
    text = chance.choice(plain)
    return text.replace(".", ",") if habit.comma else text


def _hole(habit: Habit) -> str:
    chance = habit.chance
    if habit.unit == "in":
        return chance.choice([
            "Ø.281 THRU", "4x Ø.281 THRU\n⌴ Ø.469 ↧ .28", "5/16-18 UNC-2B THRU", "8-32 UNC-2B .38 DEEP", "Ø.250 ↧ .75",
            "6x Ø.177 THRU csk .332 x 82°", ".375 DIA 1.00 DEEP", "1/2-13 UNC-2B 1.00 DEEP", "2x Ø.1875 THRU",
            "8x Ø.206 THRU EQ SP ON 3.250 B.C.", "Ø.500 +.001/-.000 THRU", "Ø31/64 THRU", "3/8-24 UNF-2B THRU",
            "10-32 UNF-2B THRU", "3x Ø.136 ↧ .50",
        ])  # fmt: skip
    d = chance.choice([3.3, 4.2, 4.5, 5, 5.5, 6.4, 6.6, 6.8, 7, 8.5, 9, 10.2, 11, 12, 13.5, 14, 17.5])
    n, deep = chance.choice([2, 3, 4, 5, 6, 8, 12]), chance.randrange(6, 48)
    times, seat = chance.choice(["x", "x", "×", "X"]), round(d * 1.8 + 0.6, 1)
    thread = chance.choice(
        ["M3", "M4", "M5", "M6", "M8", "M10", "M12", "M16", "M12x1.5", "M8x1", "M10x1", "M16x1.5", "M20x1.5"]
    )
    ring = chance.randrange(36, 180)
    text = chance.choice([
        f"{n}{times} Ø{d} THRU", f"Ø{d} ↧ {deep}", f"{n}{times} Ø{d} ↧ {deep}", f"Ø{d} THRU",
        f"{n}{times} Ø{d} THRU\n⌴ Ø{seat} ↧ {chance.choice([3, 4.4, 4.6, 5.4, 5.7, 6.5, 6.8, 8.6, 9])}",
        f"{n}{times} Ø{d} THRU\n⌵ Ø{seat} x 90°", f"{thread} - 6H THRU", f"{thread} - 6H {deep} deep",
        f"{n}x {thread} ↧ {deep}", f"{n} HOLES Ø{d} THRU EQ SP ON Ø{ring}", f"Ø{round(d)} H7 THRU",
        f"{n}x Ø{d} THRU ON {ring} PCD", f"{thread} - 6g", f"{n}x Ø{d} {deep} DEEP", f"{thread} x {deep} deep",
        f"G1/2 {deep} DEEP", f"Ø{d} THRU cbore Ø{seat} x {chance.choice([4.6, 5.4, 6.5])} deep", f"{thread} ↧ {deep}",
    ])  # fmt: skip
    return text.replace(".", ",") if habit.comma and "DEEP" not in text else text


def _small(habit: Habit) -> str:
    chance = habit.chance
    if habit.unit == "in":
        return chance.choice([
            "R.09", "R.125", "4x R.19", ".03 x 45°", "45°", "60° ±0.5°", "(3.25)", "CHAM .05 x .10", "R1/4", "30°",
            "BREAK EDGES .015 MAX", "2x R.062", ".06 x 30°", "R.500",
        ])  # fmt: skip
    return chance.choice([
        "R2", "R0.5 MAX", "R3.5", "4x R8", "R16", "1 x 45°", "0.5 x 45°", "4x 2 x 45°", "C2", "C1.5", "35°", "60°",
        "120°", "12° ±0.5°", "22°30'", "(96)", "(Ø34)", "SR16", "SØ20", "□17", "19 A/F", "R1.2", "75°", "R22", "6 wide",
        "Ø12 js9", "15.00/14.98", "R65", "2 x 30°", "3 x 45°", "2x R4", "R125", "(41.5)", "8 N9", "14 A/F", "R10",
        "1.5 x 45°", "150°", "Ra 0.8", "Ra 3.2",
    ])  # fmt: skip


# --- the sheet itself
_PEOPLE = ("K. Lund", "P. Hale", "M. Ruiz", "A. Berg", "T. Okoro")
_TITLES = ("BEARING CAP", "LAYSHAFT", "VALVE BODY", "CLAMP RING", "GUIDE PLATE", "PIVOT ARM", "FAN HUB")
_STUFF = ("EN AW-7075 T6", "1.4305", "C45E", "CuZn39Pb3", "AISI 4140", "S235JR", "POM-C", "EN-GJL-250")


def _frame(sheet: Drawn, habit: Habit) -> None:
    wide, high = sheet.size
    sheet.box(10, 10, wide - 10, high - 10, 0.7)
    if habit.titles != "small":
        _zones(sheet)
    chance = habit.chance
    date = f"2025-{chance.randrange(1, 13):02d}-{chance.randrange(1, 29):02d}"
    number = f"{chance.choice('ABKT')}{chance.randrange(100, 999)}-{chance.randrange(10, 99)}"
    scale = {1.0: "1:1", 2.0: "1:2", 0.5: "2:1"}[habit.scale]
    words = [
        ("DRAWN", chance.choice(_PEOPLE)), ("DATE", date), ("MATERIAL", chance.choice(_STUFF)), ("SCALE", scale),
        ("TITLE", chance.choice(_TITLES)), ("DRG NO", number), ("SHEET", "1/1"), ("REV", chance.choice("ABC2")),
        ("MASS", f"{chance.uniform(0.1, 9):.2f} kg"),
    ]  # fmt: skip
    rows, columns, cell, left, top = {
        "corner": (5, 2, (62.0, 9.0), wide - 134.0, high - 55.0),
        "strip": (2, 5, (50.0, 10.0), wide - 260.0, high - 30.0),
        "column": (9, 1, (60.0, 8.0), wide - 70.0, high - 82.0),
        "small": (3, 3, (40.0, 8.0), wide - 130.0, high - 34.0),
    }[habit.titles]
    for n, (name, value) in enumerate(words[: rows * columns]):
        x, y = left + n % columns * cell[0], top + n // columns * cell[1]
        sheet.box(x, y, x + cell[0], y + cell[1], 0.35)
        sheet.write((x + 1.2, y + 2.8), name, height=1.7, note=False)
        sheet.write((x + 1.5, y + cell[1] - 1.4), value, height=2.5, note=False)
    sheet.taken.append((left - 2, top - 2, wide - 10, high - 10))
    general = (
        "UNLESS OTHERWISE STATED:",
        f"TOLERANCES ISO 2768-{habit.chance.choice(['mK', 'fH', 'm'])}",
        "DEBURR ALL EDGES",
    )
    for n, words_ in enumerate(general):
        sheet.write((14, high - 26 + 5 * n), words_, height=2.5, note=False)


def _zones(sheet: Drawn) -> None:
    wide, high = sheet.size
    for i in range(8):
        x = 10 + (wide - 20) * (i + 0.5) / 8
        sheet.write((x, 7.5), str(i + 1), height=2.8, amid=True, note=False)
        sheet.write((x, high - 3.5), str(i + 1), height=2.8, amid=True, note=False)
    for i in range(6):
        sheet.write((4, 10 + (high - 20) * (i + 0.5) / 6), "ABCDEF"[i], height=2.8, note=False)


def _scraps(sheet: Drawn, habit: Habit) -> None:
    """What stands on sheets and is no size: views' names, balloons, section letters."""
    chance = habit.chance
    for text in chance.sample(["SECTION B-B", "DETAIL C  2:1", "VIEW D", "ISOMETRIC", "NOT TO SCALE"], 2):
        for _ in range(12):
            at = chance.uniform(20, sheet.size[0] - 120), chance.uniform(25, sheet.size[1] - 90)
            if all(sheet.is_free(b, 4) for b in sheet.boxes(at, text, False, 5, False)) and not _on_lines(sheet, at):
                sheet.write(at, text, height=5, note=False)
                break
    for n in range(chance.randrange(0, 4)):
        at = chance.uniform(20, sheet.size[0] - 60), chance.uniform(20, 40)
        if sheet.is_free((at[0] - 5, at[1] - 5, at[0] + 5, at[1] + 5)) and not _on_lines(sheet, at):
            sheet.circle(at, 4.5, 0.35)
            sheet.write((at[0], at[1] + 1.6), str(n + 1), height=3.2, amid=True, note=False)


def _on_lines(sheet: Drawn, at: Point) -> bool:
    return any(
        min(x0, x1) - 8 < at[0] + 20 and max(x0, x1) + 8 > at[0] - 20 and min(y0, y1) - 8 < at[1] < max(y0, y1) + 8
        for x0, y0, x1, y1 in sheet.lines[4:]
    )


Area = tuple[float, float, float, float]


def _around(sheet: Drawn, habit: Habit, area: Area, at: list[tuple[Point, str]]) -> None:
    """Notes at leaders, each where there is room near its place."""
    chance = habit.chance
    for to, text in at:
        for _ in range(80):
            turn, far = chance.uniform(0, 2 * math.pi), chance.uniform(14, 46)
            spot = to[0] + far * math.cos(turn), to[1] + far * math.sin(turn)
            if not _on_outline(sheet, spot, text) and sheet.leader(spot, to, text):
                break


def _on_outline(sheet: Drawn, at: Point, text: str) -> bool:
    """Whether a note would stand on lines of the part."""
    for x0, y0, x1, y1 in sheet.boxes(at, text, False, sheet.height, False):
        x0 -= 5
        for a, b, c, d in sheet.lines:
            if min(a, c) < x1 + 1 and max(a, c) > x0 - 1 and min(b, d) < y1 + 1 and max(b, d) > y0 - 1:
                return True
        for a, b, r in sheet.circles:
            if a - r < x1 + 1 and a + r > x0 - 1 and b - r < y1 + 1 and b + r > y0 - 1:
                return True
    return False


def _shaft(sheet: Drawn, habit: Habit, area: Area) -> None:
    """A stepped shaft with its lengths below and its diameters inside and at the ends."""
    chance = habit.chance
    left, axis = area[0] + 26, area[1] + 0.42 * (area[3] - area[1])
    most = min(70.0, 0.5 * (area[3] - area[1]))
    count = chance.randrange(3, 6)
    lengths = [round(chance.uniform(18, (area[2] - left - 22) / count), chance.choice([0, 1])) for _ in range(count)]
    sizes = [round(chance.uniform(18, most), chance.choice([0, 0, 1])) for _ in range(count)]
    ends = [left]
    for length in lengths:
        ends.append(ends[-1] + length)
    sheet.line((left - 6, axis), (ends[-1] + 6, axis), 0.25, (8, 1.5, 1, 1.5))
    for i, d in enumerate(sizes):
        sheet.box(ends[i], axis - d / 2, ends[i + 1], axis + d / 2)
        sheet.taken.append((ends[i], axis - d / 2, ends[i + 1], axis + d / 2))
    if chance.random() < 0.4:
        _hatched(sheet, (ends[0], axis, ends[1], axis + sizes[0] / 2))
    low = axis + max(sizes) / 2
    for i in range(count):
        text = _figure(lengths[i], habit) + chance.choice(["", "", _limits(habit, False)])
        sheet.level(
            (ends[i], axis + sizes[i] / 2), (ends[i + 1], axis + sizes[i] / 2), low + 10 + 8 * (i % 2), text, habit.gap
        )
    whole = _figure(ends[-1] - ends[0], habit)
    sheet.level((ends[0], axis + sizes[0] / 2), (ends[-1], axis + sizes[-1] / 2), low + 27, whole, habit.gap)
    for i, at in ((0, ends[0] - 12), (count - 1, ends[-1] + 11)):
        x, d = (ends[0], sizes[0]) if i == 0 else (ends[-1], sizes[-1])
        text = "Ø" + _figure(d, habit) + _limits(habit, True)
        sheet.upright((x, axis - d / 2), (x, axis + d / 2), at, text, habit.gap)
    for i in range(1, count - 1):
        x, d = (ends[i] + ends[i + 1]) / 2 + 2, sizes[i]
        text = "Ø" + _figure(d, habit) + _limits(habit, True)
        if sheet.width(text, sheet.height) < d / 2 - 3:
            sheet.line((x, axis - d / 2), (x, axis + d / 2), 0.25)
            sheet.arrow((x, axis - d / 2), (0, -1))
            sheet.arrow((x, axis + d / 2), (0, 1))
            sheet.write((x - habit.gap, axis - d / 4), text, turned=True, amid=True)
    top = [((ends[i], axis - sizes[i] / 2), _small(habit)) for i in range(count)]
    _around(sheet, habit, area, [*top, ((ends[1] - 4, axis - sizes[0] / 2), _hole(habit))])


def _hatched(sheet: Drawn, box: Area) -> None:
    x0, y0, x1, y1 = box
    k = x0 - (y1 - y0)
    while k < x1:
        a, b = max(x0, k), min(x1, k + (y1 - y0))
        if b > a:
            sheet.line((a, y1 - (a - k)), (b, y1 - (b - k)), 0.25)
        k += 3


def _plate(sheet: Drawn, habit: Habit, area: Area) -> None:
    """A plate with holes in its corners and one amid."""
    chance = habit.chance
    wide, high = chance.randrange(60, 96), chance.randrange(48, 78)
    left, top = area[0] + 44, area[1] + 40
    sheet.box(left, top, left + wide, top + high)
    sheet.taken.append((left, top, left + wide, top + high))
    holes = [(left + wide / 2, top + high / 2, chance.choice([8.0, 10.0, 13.0]))]
    holes += [
        (left + u * wide, top + v * high, chance.choice([2.5, 3.3, 4.0])) for u in (0.15, 0.85) for v in (0.2, 0.8)
    ]
    for x, y, r in holes:
        sheet.circle((x, y), r)
        for dx, dy in ((r + 2.5, 0), (0, r + 2.5)):
            sheet.line((x - dx, y - dy), (x + dx, y + dy), 0.25, (4, 1, 0.8, 1))
    low = top + high
    sheet.level(
        (holes[1][0], holes[2][1]),
        (holes[3][0], holes[2][1]),
        low + 12,
        _figure(holes[3][0] - holes[1][0], habit),
        habit.gap,
    )
    sheet.level((left, low), (left + wide, low), low + 22, _figure(wide, habit) + _limits(habit, False), habit.gap)
    sheet.upright(
        (holes[1][0], holes[1][1]),
        (holes[1][0], holes[2][1]),
        left - 10,
        _figure(holes[2][1] - holes[1][1], habit),
        habit.gap,
    )
    sheet.upright((left, top), (left, low), left - 20, _figure(high, habit) + _limits(habit, False), habit.gap)
    marks: list[tuple[Point, str]] = [((x + 0.7 * r, y - 0.7 * r), _hole(habit)) for x, y, r in holes[:4]]
    marks += [((left + wide, top + high * k), _small(habit)) for k in (0.1, 0.5, 0.9)]
    _around(sheet, habit, area, marks)


def _flange(sheet: Drawn, habit: Habit, area: Area) -> None:
    """A flange seen from its face, with its bolt circle, beside its section."""
    chance = habit.chance
    outer, bore = float(chance.randrange(56, 84)), float(chance.randrange(16, 30))
    x, y = area[0] + 48 + outer / 2, area[1] + 34 + outer / 2
    ring, count, r = (outer + bore) / 2, chance.choice([4, 6, 8]), chance.choice([2.5, 3.3, 3.5])
    for radius in (outer / 2, bore / 2):
        sheet.circle((x, y), radius)
    sheet.circle((x, y), ring / 2, 0.25)
    bolts = [
        (x + ring / 2 * math.cos(2 * math.pi * k / count), y + ring / 2 * math.sin(2 * math.pi * k / count))
        for k in range(count)
    ]
    for bolt in bolts:
        sheet.circle(bolt, r)
    for dx, dy in ((outer / 2 + 4, 0), (0, outer / 2 + 4)):
        sheet.line((x - dx, y - dy), (x + dx, y + dy), 0.25, (8, 1.5, 1, 1.5))
    sheet.taken.append((x - outer / 2, y - outer / 2, x + outer / 2, y + outer / 2))
    deep = float(chance.randrange(14, 26))
    if x + outer / 2 + 24 + deep < area[2] - 14:
        a = x + outer / 2 + 26
        sheet.box(a, y - outer / 2, a + deep, y + outer / 2)
        _hatched(sheet, (a, y - outer / 2, a + deep, y - bore / 2))
        sheet.taken.append((a, y - outer / 2, a + deep, y + outer / 2))
        sheet.level((a, y + outer / 2), (a + deep, y + outer / 2), y + outer / 2 + 11, _figure(deep, habit), habit.gap)
        sheet.upright(
            (a, y - outer / 2), (a, y + outer / 2), a - 9, "Ø" + _figure(outer, habit) + _limits(habit, True), habit.gap
        )
    sheet.upright(
        (x - outer / 2, y - outer / 2),
        (x - outer / 2, y + outer / 2),
        x - outer / 2 - 14,
        "Ø" + _figure(outer, habit),
        habit.gap,
    )
    marks: list[tuple[Point, str]] = [(bolts[0], _hole(habit)), (bolts[1], _hole(habit))]
    marks += [((x + 0.7 * bore / 2, y + 0.7 * bore / 2), "Ø" + _figure(bore, habit) + _limits(habit, True))]
    marks += [((x + outer / 2 * math.cos(t), y + outer / 2 * math.sin(t)), _small(habit)) for t in (0.6, 2.2, 4.0, 5.4)]
    _around(sheet, habit, area, marks)
