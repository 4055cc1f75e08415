"""Volumes of bodies with free walls against integrals of the drawn outline that know nothing of the kernel."""

import itertools
import math

import numpy as np
import pytest

from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.sketch.curves import spline_form

from .steps.parts import built, route, sketch

GAUSS, WEIGHTS = np.polynomial.legendre.leggauss(12)


def wobbly(seed, x=0.0, y=0.0, base="end"):
    """A closed free outline about a place."""
    rng = np.random.default_rng(seed)
    count = int(rng.integers(5, 16))
    turns = np.arange(count) * 2 * math.pi / count
    radii = 12 * (1 + 0.3 * (2 * rng.random(count) - 1))
    scale = 2 if base == "turning" else 1  # typed as diameters
    places = " ".join(
        f"{x + r * math.cos(t):.6f},{scale * (y + r * math.sin(t)):.6f}" for r, t in zip(radii, turns, strict=True)
    )
    return sketch("k1", f"spline {places} close", base=base)


def outline_integrals(drawn):
    """Area of the outline and its first moments about both axes, span by span along the spline."""
    (curve,) = drawn.curves()
    form = spline_form(curve, drawn.points())
    knots = np.unique(form.knots)
    area = about_x = about_y = 0.0
    for a, b in itertools.pairwise(knots):
        t, w = (a + b) / 2 + (b - a) / 2 * GAUSS, (b - a) / 2 * WEIGHTS
        (x, y), (dx, dy) = form.at(t).T, form.at(t, 1).T
        area += float(w @ (x * dy))
        about_y += float(w @ (x * x * dy)) / 2
        about_x -= float(w @ (y * y * dx)) / 2
    return (area, about_x, about_y) if area > 0 else (-area, -about_x, -about_y)


def checked(content, volume):
    """The report, the proof's figure and the integral are one."""
    from lathed_solid.core.job.proving import weighed

    result = built(content)
    mass = weighed(content, result).figures
    assert result.reports[-1].volume == pytest.approx(mass.volume, rel=1e-13)
    assert abs(mass.volume - volume) <= max(1e-9 * volume, mass.off)
    return mass


@pytest.mark.parametrize("seed", range(20))
def test_extruded(seed):
    drawn = wobbly(seed)
    area, _, about_y = outline_integrals(drawn)
    step = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="25", direction="forward")
    mass = checked(route(step, sketches=(drawn,)), area * 25)
    assert mass.center == pytest.approx((about_y / area, mass.center[1], 12.5), abs=1e-5)


@pytest.mark.parametrize("seed", range(20))
def test_turned_by_pappus(seed):
    drawn = wobbly(seed, x=5.0, y=30.0, base="turning")
    _, about_x, _ = outline_integrals(drawn)
    checked(route(Revolve(id="s1", sketch="k1"), sketches=(drawn,)), 2 * math.pi * about_x)


@pytest.mark.parametrize("seed", range(4))
def test_drilled_along(seed):
    drawn = wobbly(seed)
    area, _, _ = outline_integrals(drawn)
    step = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="25", direction="forward")
    hole = Hole(id="s2", face=FaceRef("s1/end"), placement="point", x="1", y="2", diameter="6")
    checked(route(step, hole, sketches=(drawn,)), (area - 9 * math.pi) * 25)
