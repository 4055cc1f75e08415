"""Triangles and bytes: what travels from the kernel process to the window."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest
from OCP.BRep import BRep_Tool
from OCP.TopLoc import TopLoc_Location

from lathed_solid.core.job import edits
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.kernel.ground.picture import _is_meshed, mesh, to_bytes
from lathed_solid.core.route.rebuild import Cache, rebuild

from ..conftest import EXAMPLES


def _gaps(body: NamedBody) -> int:
    """Sides of triangles that no other triangle meets; at a cone's tip a side may be there four times."""
    seen: Counter[frozenset[tuple[float, ...]]] = Counter()
    for index in range(1, body.face_count + 1):
        place = TopLoc_Location()
        mesh_ = BRep_Tool.Triangulation_s(body.face(index), place)
        at = [mesh_.Node(k).Transformed(place.Transformation()) for k in range(1, mesh_.NbNodes() + 1)]
        nodes = np.round([(p.X(), p.Y(), p.Z()) for p in at], 4) + 0.0
        for k in range(1, mesh_.NbTriangles() + 1):
            a, b, c = (tuple(nodes[mesh_.Triangle(k).Value(j) - 1]) for j in (1, 2, 3))
            seen.update(side for side in map(frozenset, ((a, b), (b, c), (c, a))) if len(side) == 2)
    return sum(n % 2 for n in seen.values())


@pytest.mark.parametrize("name", ["skp-01", "skp-03", "skp-04"])
def test_triangles_of_a_part_close(name):
    body = rebuild(load(EXAMPLES / f"{name}.lathed").job.content.plan()).body
    mesh(body.shape)
    assert _gaps(body) == 0


def test_triangles_of_a_changed_part_meet_and_no_edit_makes_the_next_heavier():
    content = load(EXAMPLES / "skp-02.lathed").job.content
    cache, sizes, first = Cache(), [], None
    for k in range(20):
        plan = settle(edits.edit_callout(content, 14, f"{5 + 0.01 * k:.4f}")).content.plan()
        body = rebuild(plan, cache).body
        first = first or body
        mesh(body.shape)
        sizes.append(len(to_bytes(body.shape)))
    assert max(sizes) < 1.02 * sizes[0]
    assert _gaps(body) == 0
    mesh(first.shape)  # undone: its faces are whole again, though their edges have forgotten them
    assert _gaps(first) == 0
    assert all(_is_meshed(first.face(i)) for i in range(1, first.face_count + 1))
    assert len(to_bytes(first.shape)) == pytest.approx(sizes[0], rel=0.03)
