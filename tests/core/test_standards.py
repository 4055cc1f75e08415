"""Figures against published values."""

import itertools
import math

import pytest

from lathed_solid.core.standards import drills, fits, general, screws, stock, thread_limits, threads
from lathed_solid.core.standards.materials import all_materials, material
from lathed_solid.core.standards.tables import NotTabled, table

#: ISO 286-2 limit deviations as printed in any fits chart, micrometres.
FITS = [
    (20, "H7", 0, 21), (12, "h6", -11, 0), (10, "g6", -14, -5), (25, "p6", 22, 35), (50, "f7", -50, -25),
    (40, "k6", 2, 18), (30, "js6", -6.5, 6.5), (100, "H8", 0, 54), (18, "H11", 0, 110), (80, "e8", -106, -60),
    (6, "m6", 4, 12), (3, "h9", -25, 0), (200, "d9", -285, -170), (500, "H7", 0, 63), (65, "n6", 20, 39),
    (8, "F8", 13, 35), (20, "K7", -15, 6), (40, "K6", -13, 3), (20, "N7", -28, -7), (20, "P7", -35, -14),
    (20, "M7", -21, 0), (300, "M6", -41, -9), (20, "N9", -52, 0), (35, "r6", 34, 50), (70, "s6", 59, 78),
    (110, "c11", -400, -180), (50, "C11", 130, 290), (30, "B12", 160, 370), (10, "a11", -370, -280),
    (60, "r6", 41, 60), (25, "K8", -23, 10), (2, "N7", -14, -4), (400, "P7", -98, -41), (5, "M8", -16, 2),
]  # fmt: skip


@pytest.mark.parametrize(("size", "fit", "lower", "upper"), FITS)
def test_fits(size, fit, lower, upper):
    assert fits.deviations(size, fit) == pytest.approx((lower / 1000, upper / 1000), abs=1e-9)


@pytest.mark.parametrize(("size", "fit"), [(20, "H99"), (20, "Q7"), (600, "H7"), (0, "h6"), (20, "h")])
def test_fits_outside_the_tables_are_refused(size, fit):
    with pytest.raises(NotTabled):
        fits.deviations(size, fit)


#: ISO 2768-1 table 1: size, class, plus-minus mm.
@pytest.mark.parametrize(
    ("size", "grade", "spread"),
    [(3, "m", 0.1), (6, "f", 0.05), (22, "m", 0.2), (92, "m", 0.3), (140, "c", 1.2), (400, "v", 2.5), (1500, "m", 1.2)],
)
def test_general_tolerances(size, grade, spread):
    assert general.linear(size, grade) == spread


def test_a_range_without_a_figure_is_refused():
    with pytest.raises(NotTabled, match="states no tolerance"):
        general.linear(2, "v")


#: ISO 724 minor diameters; ISO 965-1 upper limits of the 6H minor diameter.
@pytest.mark.parametrize(
    ("text", "minor", "largest"),
    [("M3", 2.459, 2.599), ("M4", 3.242, 3.422), ("M5", 4.134, 4.334), ("M6", 4.917, 5.153), ("M8", 6.647, 6.912),
     ("M10", 8.376, 8.676), ("M12", 10.106, 10.441), ("M16", 13.835, 14.210), ("M8x1", 6.917, 7.153),
     ("M20", 17.294, 17.744), ("M2", 1.567, 1.679), ("M2.5", 2.013, 2.138)],
)  # fmt: skip
def test_thread_minor_diameters(text, minor, largest):
    low, high = thread_limits.minor_limits(threads.parse_designation(text))
    assert low == pytest.approx(minor, abs=6e-4)
    assert high == pytest.approx(largest, abs=1.1e-3)


def test_designations():
    thread = threads.parse_designation("M10x1.5 - 6g")
    assert (thread.diameter, thread.pitch, thread.tolerance_class) == (10, 1.5, "6g")
    assert threads.parse_designation("M8").pitch == 1.25
    assert drills.tap_drill(threads.parse_designation("M6")).diameter == 5.0
    assert threads.parse_designation("M12x1 - LH").left_hand
    for wrong in ("M11", "6x1", "M6x9", "UNC", ""):
        with pytest.raises(NotTabled):
            threads.parse_designation(wrong)


def by_formula(letter, low, high):
    """Fundamental deviation in micrometres by the formulas of ISO 286-1 annex (geometric mean of the range)."""
    d = math.sqrt(low * high)
    return {
        "a": 265 + 1.3 * d if high <= 120 else 3.5 * d, "b": 140 + 0.85 * d if high <= 160 else 1.8 * d,
        "d": 16 * d**0.44, "e": 11 * d**0.41, "f": 5.5 * d**0.41,
        "g": 2.5 * d**0.34,
    }[letter]  # fmt: skip


@pytest.mark.parametrize("letter", "abdefg")
def test_the_table_of_deviations_follows_the_formulas(letter):
    steps = table("iso286")["steps" if letter in "ab" else "up_to"]
    for low, high in itertools.pairwise(steps):
        wanted, found = by_formula(letter, low, high), -fits.deviations(high, f"{letter}7")[1] * 1000
        assert found == pytest.approx(wanted, rel=0.05, abs=1.2), (letter, high)


#: External 6g: major largest and smallest, pitch diameter largest and smallest; internal 6H: pitch diameter largest.
METRIC_LIMITS = [
    ("M3", 2.980, 2.874, 2.655, 2.580, 2.775), ("M4", 3.978, 3.838, 3.523, 3.433, 3.663),
    ("M5", 4.976, 4.826, 4.456, 4.361, 4.605), ("M6", 5.974, 5.794, 5.324, 5.212, 5.500),
    ("M8", 7.972, 7.760, 7.160, 7.042, 7.348), ("M10", 9.968, 9.732, 8.994, 8.862, 9.206),
    ("M12", 11.966, 11.701, 10.829, 10.679, 11.063), ("M16", 15.962, 15.682, 14.663, 14.503, 14.913),
    ("M20", 19.958, 19.623, 18.334, 18.164, 18.600), ("M24", 23.952, 23.577, 22.003, 21.803, 22.316),
    ("M8x1", 7.974, 7.794, 7.324, 7.212, 7.500), ("M12x1.25", 11.972, 11.760, 11.160, 11.028, 11.368),
]  # fmt: skip


@pytest.mark.parametrize(("text", "d_max", "d_min", "d2_max", "d2_min", "D2_max"), METRIC_LIMITS)
def test_metric_thread_limits(text, d_max, d_min, d2_max, d2_min, D2_max):
    """ISO 965-2 limits of size."""
    thread = threads.parse_designation(text)
    outside, inside = thread_limits.limits(thread, internal=False), thread_limits.limits(thread, internal=True)
    assert outside.major == pytest.approx((d_min, d_max), abs=1.1e-3)
    assert outside.pitch == pytest.approx((d2_min, d2_max), abs=1.1e-3)
    assert inside.pitch[1] == pytest.approx(D2_max, abs=6.1e-3)


#: 2A major largest, pitch diameter largest and smallest; 2B minor smallest and largest, inch (ASME B1.1 table 2).
UNIFIED_LIMITS = [
    ("4-40 UNC", 0.1112, 0.0950, 0.0925, 0.085, 0.094), ("6-32 UNC", 0.1372, 0.1169, 0.1141, 0.104, 0.114),
    ("8-32 UNC", 0.1631, 0.1428, 0.1399, 0.130, 0.139), ("10-24 UNC", 0.1890, 0.1619, 0.1586, 0.145, 0.156),
    ("10-32 UNF", 0.1891, 0.1688, 0.1658, 0.156, 0.164), ("1/4-20 UNC", 0.2489, 0.2164, 0.2127, 0.196, 0.207),
    ("1/4-28 UNF", 0.2490, 0.2258, 0.2225, 0.211, 0.220), ("5/16-18 UNC", 0.3113, 0.2752, 0.2712, 0.252, 0.265),
    ("3/8-16 UNC", 0.3737, 0.3331, 0.3287, 0.307, 0.321), ("1/2-13 UNC", 0.4985, 0.4485, 0.4435, 0.417, 0.434),
    ("5/8-11 UNC", 0.6234, 0.5644, 0.5589, 0.527, 0.546), ("3/4-10 UNC", 0.7482, 0.6832, 0.6773, 0.642, 0.663),
    ("1-8 UNC", 0.9980, 0.9168, 0.9100, 0.865, 0.890),
]  # fmt: skip


@pytest.mark.parametrize(("text", "d_max", "d2_max", "d2_min", "D1_min", "D1_max"), UNIFIED_LIMITS)
def test_unified_thread_limits(text, d_max, d2_max, d2_min, D1_min, D1_max):
    thread = threads.parse_designation(text)
    outside, inside = thread_limits.limits(thread, internal=False), thread_limits.limits(thread, internal=True)
    inch = [v / 25.4 for v in (outside.major[1], *outside.pitch, *inside.minor)]
    assert inch == pytest.approx([d_max, d2_min, d2_max, D1_min, D1_max], abs=6e-4)
    assert inch[:3] == pytest.approx([d_max, d2_min, d2_max], abs=1.6e-4)


#: Tapping drills as printed in shop charts: metric in mm, inch by name.
@pytest.mark.parametrize(
    ("text", "name"),
    [("M3", "2.5 mm"), ("M4", "3.3 mm"), ("M5", "4.2 mm"), ("M8", "6.75 mm"), ("M10", "8.5 mm"), ("M12", "10.25 mm"),
     ("4-40 UNC", "#43"), ("6-32 UNC", "#36"), ("8-32 UNC", "#29"), ("10-24 UNC", "#25"), ("10-32 UNF", "#21"),
     ("1/4-20 UNC", "#7"), ("5/16-18 UNC", "F"), ("3/8-16 UNC", "5/16"), ("7/16-14 UNC", "U"), ("1/2-13 UNC", "27/64"),
     ("1/4-28 UNF", "#3"), ("3/8-24 UNF", "Q"), ("1/2-20 UNF", "29/64"),
     # beyond the tables of drills
     ("1 1/4-7 UNC", "1 7/64"), ("1 1/2-6 UNC", "1 11/32"), ("2-4.5 UNC", "1 25/32"), ("M64", "58 mm"),
     ("G4", "110.1 mm")],
)  # fmt: skip
def test_tapping_drills(text, name):
    assert drills.tap_drill(threads.parse_designation(text)).name == name


@pytest.mark.parametrize(
    ("name", "inch"),
    [("#1", 0.228), ("#7", 0.201), ("#21", 0.159), ("#25", 0.1495), ("#29", 0.136), ("NO. 36", 0.1065), ("#43", 0.089),
     ("#60", 0.04), ("#80", 0.0135), ("A", 0.234), ("LETTER F", 0.257), ("letter q", 0.332), ("Z", 0.413)],
)  # fmt: skip
def test_named_drills(name, inch):
    assert drills.named(name).diameter == pytest.approx(inch * 25.4)


def test_drills_descend_and_have_families():
    by_size = [d.diameter for d in drills.drills(("number",))]
    assert by_size == sorted(by_size) and len(by_size) == 80
    assert drills.nearest(5.0, ("metric",)).diameter == 5.0
    with pytest.raises(NotTabled, match="no drill"):
        drills.named("#81")


@pytest.mark.parametrize(
    ("size", "series", "mm"),
    [("M3", "medium", 3.4), ("M4", "fine", 4.3), ("M5", "medium", 5.5), ("M6", "coarse", 7), ("M8", "medium", 9),
     ("M10", "medium", 11), ("M12", "fine", 13), ("M16", "medium", 17.5), ("M20", "medium", 22), ("M24", "coarse", 28),
     ("1/4", "fine", 0.266 * 25.4), ("10", "medium", 0.221 * 25.4), ("1/2", "coarse", 0.609 * 25.4)],
)  # fmt: skip
def test_clearance_holes(size, series, mm):
    assert screws.clearance(size, series).diameter == pytest.approx(mm)


def test_seats_for_screws():
    assert screws.socket_head("M6")[:2] == (11, 6.4)
    assert screws.socket_head("1/4")[:2] == pytest.approx((0.438 * 25.4, 6.35))
    assert screws.flat_head("M8").diameter == 17.3
    assert math.degrees(screws.flat_head("10").angle) == pytest.approx(82)
    with pytest.raises(NotTabled, match="Known: M3"):
        screws.socket_head("M7")


#: Major, minor diameter (mm) and pitch: ISO 228-1 and ISO 2904 basic profiles; ASME B1.1 in inch by conversion.
@pytest.mark.parametrize(
    ("text", "major", "minor"),
    [("G1/8", 9.728, 8.566), ("G1/4", 13.157, 11.445), ("G3/8", 16.662, 14.950), ("G1/2", 20.955, 18.631),
     ("G3/4", 26.441, 24.117), ("G1", 33.249, 30.291), ("Rc 1/2", 20.955, 18.631), ("G2", 59.614, 56.656),
     ("Tr20x4", 20, 16), ("Tr40x7", 40, 33), ("M6", 6, 4.917), ("1/4-20 UNC", 6.35, 4.976)],
)  # fmt: skip
def test_basic_diameters(text, major, minor):
    thread = threads.parse_designation(text)
    assert (thread.diameter, thread.minor_diameter) == pytest.approx((major, minor), abs=1e-3)


def test_stock_sizes():
    assert ("12 mm", 12.0) in stock.bars("round", "mm")
    assert ("1/2 in", 12.7) in stock.bars("hexagon", "in")
    with pytest.raises(NotTabled):
        stock.bars("ring", "in")


def test_materials_have_a_density_and_its_source():
    table = all_materials()
    assert len(table) >= 15
    assert len({m.name for m in table}) == len(table)
    assert all(0.8 < m.density < 20 and m.source for m in table)
    assert material("Aluminium").grams(1000) == pytest.approx(2.7)
