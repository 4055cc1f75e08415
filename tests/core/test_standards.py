"""Figures against published values."""

import pytest

from lathed_solid.core.standards import fits, general, threads
from lathed_solid.core.standards.materials import all_materials, material

#: ISO 286-2 limit deviations as printed in any fits chart, micrometres.
FITS = [
    (20, "H7", 0, 21), (12, "h6", -11, 0), (10, "g6", -14, -5), (25, "p6", 22, 35), (50, "f7", -50, -25),
    (40, "k6", 2, 18), (30, "js6", -6.5, 6.5), (100, "H8", 0, 54), (18, "H11", 0, 110), (80, "e8", -106, -60),
    (6, "m6", 4, 12), (3, "h9", -25, 0), (200, "d9", -285, -170), (500, "H7", 0, 63), (65, "n6", 20, 39),
    (8, "F8", 13, 35),
]  # fmt: skip


@pytest.mark.parametrize(("size", "fit", "lower", "upper"), FITS)
def test_fits(size, fit, lower, upper):
    assert fits.deviations(size, fit) == pytest.approx((lower / 1000, upper / 1000), abs=1e-9)


@pytest.mark.parametrize(("size", "fit"), [(20, "H99"), (20, "Q7"), (600, "H7"), (0, "h6"), (20, "h")])
def test_fits_outside_the_tables_are_refused(size, fit):
    with pytest.raises(LookupError):
        fits.deviations(size, fit)


#: ISO 2768-1 table 1: size, class, plus-minus mm.
@pytest.mark.parametrize(
    ("size", "grade", "spread"),
    [(3, "m", 0.1), (6, "f", 0.05), (22, "m", 0.2), (92, "m", 0.3), (140, "c", 1.2), (400, "v", 2.5), (1500, "m", 1.2)],
)
def test_general_tolerances(size, grade, spread):
    assert general.linear(size, grade) == spread


def test_a_range_without_a_figure_is_refused():
    with pytest.raises(LookupError, match="states no tolerance"):
        general.linear(2, "v")


#: ISO 724 minor diameters; ISO 965-1 upper limits of the 6H minor diameter.
@pytest.mark.parametrize(
    ("text", "minor", "largest"),
    [("M3", 2.459, 2.599), ("M4", 3.242, 3.422), ("M5", 4.134, 4.334), ("M6", 4.917, 5.153), ("M8", 6.647, 6.912),
     ("M10", 8.376, 8.676), ("M12", 10.106, 10.441), ("M16", 13.835, 14.210), ("M8x1", 6.917, 7.153),
     ("M20", 17.294, 17.744), ("M2", 1.567, 1.679), ("M2.5", 2.013, 2.138)],
)  # fmt: skip
def test_thread_minor_diameters(text, minor, largest):
    low, high = threads.parse_designation(text).minor_limits()
    assert low == pytest.approx(minor, abs=6e-4)
    assert high == pytest.approx(largest, abs=1.1e-3)


def test_designations():
    thread = threads.parse_designation("M10x1.5 - 6g")
    assert (thread.diameter, thread.pitch, thread.tolerance_class) == (10, 1.5, "6g")
    assert threads.parse_designation("M8").pitch == 1.25
    assert threads.parse_designation("M6").tap_drill == 5.0
    assert threads.parse_designation("M12x1 - LH").left_hand
    for wrong in ("M11", "6x1", "M6x9", "UNC", ""):
        with pytest.raises(LookupError):
            threads.parse_designation(wrong)


def test_materials_have_a_density_and_its_source():
    table = all_materials()
    assert len(table) >= 15
    assert len({m.name for m in table}) == len(table)
    assert all(0.8 < m.density < 20 and m.source for m in table)
    assert material("Aluminium").grams(1000) == pytest.approx(2.7)
