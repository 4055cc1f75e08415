"""Small parts to work on, and what a route makes of them."""

import math

import pytest

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.typed.commands import read_command

LEDGER = Ledger([])
#: A plate 80 x 50 x 12, top at zero, its front left corner at zero: s1/end is the top, s1/start the bottom, s1/l1 front.
PLATE = 80 * 50 * 12
TOP, BOTTOM = FaceRef("s1/end"), FaceRef("s1/start")
#: A bar Ø40 x 60 about Z: s1/l3 is the round face, s1/l4 the left end, s1/l2 the right end.
BAR = math.pi * 20**2 * 60
ROUND, LEFT, RIGHT = FaceRef("s1/l3/side"), FaceRef("s1/l4/side"), FaceRef("s1/l2/side")


def sketch(id_, *texts, base="end", offset="0", on="", angle="0"):
    made = Sketch(id=id_, name=id_, plane=Plane(base, offset, angle, on=on))
    for text in texts:
        made = read_command(text, LEDGER, made.turned, made).draw(made)
    return settle_sketch(made, LEDGER)


def route(*steps, sketches=()):
    content = Content(sketches=tuple(sketches))
    for step in steps:
        content = edits.add_step(content, step)
    return content


def plate(*steps, sketches=()):
    first = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="12", direction="backward")
    return route(first, *steps, sketches=(sketch("k1", "rect 80 x 50 at 40,25"), *sketches))


def bar(*steps, sketches=()):
    outline = sketch("k1", "rect 0,0 60,40", base="turning")
    return route(Revolve(id="s1", sketch="k1"), *steps, sketches=(outline, *sketches))


def result(content):
    return rebuild(content.plan())


def built(content):
    """The finished route; every step done, every face named."""
    found = result(content)
    assert [r.message for r in found.reports if r.state == "failed"] == []
    assert not found.body.unnamed()
    return found


def volume(content):
    return sum(b.volume for b in built(content).bodies.values())


def failure(content):
    return next(r.message for r in result(content).reports if r.state == "failed")


def bore(d, depth):
    return math.pi * d * d / 4 * depth


def cone(d1, d2, height):
    return math.pi * height / 12 * (d1 * d1 + d1 * d2 + d2 * d2)


def edge(a, b, **how):
    return EdgeRef(a, b, **how)


def checked(cases):
    """Cases with a known volume, as parameters of a test."""
    return [
        pytest.param(content, expected, id=name) for name, (content, expected) in cases.items() if expected is not None
    ]


#: A pad's outline on the plate, a lean of 5°, and where a hole is drilled when it does not matter.
PAD = sketch("k2", "rect 20 x 10 at 20,25")
DRAFT = math.tan(math.radians(5))
H = {"id": "s2", "face": TOP, "placement": "point", "x": "20", "y": "20"}
