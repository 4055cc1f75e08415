"""Bought parts from their tables: their solids against closed form, each size, threads modelled."""

from __future__ import annotations

import math

import pytest

from lathed_solid.core.job.bought.made import bought
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.standards.fasteners import CATALOGUE, figures, sizes


def proved(kind, size, length=0.0, modelled=False):
    shown = build_and_prove(bought(kind, size, length, modelled))
    assert shown.proof is not None and not shown.proof.any_out
    return shown


def segment(r, h):
    """The area of a circle's segment, h high."""
    turn = 2 * math.acos((r - h) / r)
    return r * r / 2 * (turn - math.sin(turn))


#: By the tables' figures; the gap of a circlip is 0.15 of its bore wide, its sides run straight across the ring.
@pytest.mark.parametrize(
    ("kind", "size", "volume", "within"),
    [
        ("woodruff_key", "5x6.5", segment(8, 6.5) * 5, 1e-9),
        ("roller", "6x10", math.pi * (9 * 9.4 + 2 * 0.3 / 3 * (9 + 2.7**2 + 3 * 2.7)), 1e-9),
        ("ball", "10", math.pi / 6 * 1000, 1e-9),
        ("circlip_shaft", "20", (math.pi / 4 * (24.2**2 - 19**2) - 2.85 * 2.6) * 1.2, 2e-4),
        ("circlip_bore", "40", (math.pi / 4 * (42.5**2 - 34.7**2) - 5.2 * 3.9) * 1.75, 1e-3),
    ],
)
def test_the_solids_are_those_of_the_tables(kind, size, volume, within):
    assert proved(kind, size).proof.mass.volume == pytest.approx(volume, rel=within)


def test_every_size_of_the_small_parts_can_be_made():
    for kind in ("woodruff_key", "circlip_shaft", "circlip_bore", "roller", "ball"):
        for size in sizes(kind):
            assert len(figures(kind, size)) == (1 if kind == "ball" else 3)
            assert build_and_prove(bought(kind, size)).result.body is not None, (kind, size)
    for size in sizes("woodruff_key"):
        wide, high, disc = figures("woodruff_key", size)
        assert high < disc / 2 and wide < high
    assert all(c.source for c in CATALOGUE.values())


@pytest.mark.parametrize(("kind", "size", "length"), [("stud", "M8", 16.0), ("hexagon_nut", "M8", 0.0)])
def test_threads_are_modelled_when_they_are_wished(kind, size, length):
    plain, cut = proved(kind, size, length), proved(kind, size, length, True)
    (mark,) = cut.result.marks
    assert mark.modelled and mark.thread.designation.startswith("M8x1.25")
    # The groove takes, per mm, about the section between the flanks: more than a tenth, less than a quarter of Ø8.
    less = (plain.proof.mass.volume - cut.proof.mass.volume) / (length or 6.8)
    assert 0.06 * math.pi * 16 < less < 0.25 * math.pi * 16
    assert bought(kind, size, length, True).header.number.endswith("modelled")
