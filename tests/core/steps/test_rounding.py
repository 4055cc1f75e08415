"""Fillets that the kernel's rolling ball gives up on: whole faces used up, edges that run out tangent."""

import math

import pytest

from ..strangers.bench import Bench


def block(radius, *edges, notes=()):
    b = Bench("40", "20", "10", f"R{radius}", *notes)
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.fillet("#4", *((f"{s1}/{x}", f"{s1}/{y}") for x, y in edges))
    return b.proved()


def marks(shown):
    return {(line.number, line.key): line.mark for line in shown.proof.lines}


@pytest.mark.parametrize(
    ("radius", "edges", "gone"),
    [
        (10, [("end", "l1/side")], (100 - 25 * math.pi) * 40),
        (20, [("l1/side", "l2/side")], (400 - 100 * math.pi) * 10),
        (10, [("l1/side", "l2/side"), ("l2/side", "l3/side")], 2 * (100 - 25 * math.pi) * 10),
    ],
    ids=["as thick as the plate", "as wide as the plate", "a full round end"],
)
def test_a_radius_that_uses_up_a_face(radius, edges, gone):
    shown = block(radius, *edges)
    assert [r.message for r in shown.result.reports if r.state != "done"] == []
    assert 8000 - shown.proof.mass.volume == pytest.approx(gone, rel=1e-9)
    # What the round has used up is still where the round touches it.
    assert "out" not in marks(shown).values()
    assert marks(shown)[1, ""] == marks(shown)[4, ""] == "in"


def test_a_radius_too_large_names_the_largest_exactly():
    shown = block(11, ("l1/side", "l2/side"), ("l2/side", "l3/side"))
    (failed,) = [r for r in shown.result.reports if r.state == "failed"]
    assert "largest that works is about 10." in failed.message


def test_a_rib_that_ends_tangent_to_its_hub():
    """The blend runs out where the rib's side touches the hub: the ring about the hub, cut off by the side."""
    b = Bench("Ø40", "20", "R2", "10", "60")
    hub = b.block("circle Ø#1 at 0,0", depth="#2")
    rib = b.extrude(b.sketch("line 0,20 #5,20 #5,-20 0,-20 close"), "#4")
    before = b.proved().proof.mass.volume
    b.fillet("#3", (f"{hub}/c1/side", f"{rib}/end"))
    shown = b.proved()
    assert marks(shown)[3, ""] == "in"
    # Independent: the section between wall, floor and arc at each angle, cut off at y = 20, integrated by hand.
    assert shown.proof.mass.volume - before == pytest.approx(_sickle(20, 2), rel=2e-4)


def _sickle(hub, r):
    """Of the fillet ring R``r`` about a hub of radius ``hub``, what lies over the half plane x > 0, |y| < ``hub``."""
    n, total = 4000, 0.0
    for k in range(n):
        a = (k + 0.5) / n * math.pi / 2
        far = min(hub + r, hub / math.sin(a))
        m = 200
        for j in range(m):
            rho = hub + (j + 0.5) / m * (far - hub)
            height = r - math.sqrt(max(0.0, r * r - (hub + r - rho) ** 2))
            total += height * rho * (far - hub) / m * (math.pi / 2 / n)
    return 2 * total


def test_all_edges_parallel_to_one():
    b = Bench("40", "20", "10", "4x R3")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.fillet("#4")
    from lathed_solid.core.job import edits
    from lathed_solid.core.route.model import EdgeRef

    edge = EdgeRef(f"{s1}/l1/side", f"{s1}/l2/side", "", "parallel")
    b.content = edits.change_step(b.content, "s2", edges=(edge,))
    shown = b.proved()
    assert 8000 - shown.proof.mass.volume == pytest.approx(4 * (9 - 9 * math.pi / 4) * 10)
    assert set(marks(shown).values()) == {"in"}


def test_copies_without_their_edges_say_so():
    from lathed_solid.core.route.steps.row import Row

    b = Bench("80", "20", "10", "R2")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    rounded = b.fillet("#4", (f"{s1}/l1/side", f"{s1}/l2/side"))
    b.step(Row, of=(rounded,), count="2", pitch="10")
    (failed,) = [r for r in b.proved().result.reports if r.state == "failed"]
    assert "there are no such edges" in failed.message
