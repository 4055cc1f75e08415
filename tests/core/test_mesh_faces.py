"""True faces found again in the triangles of a mesh."""

import math
import random
import struct

import pytest

from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.files.writing import write_stl
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.kernel.measure.surfaces import measure_faces

from .strangers.bench import Bench
from .strangers.test_strangers import PARTS

#: Parts whose faces meet at edges in every way: crossing bores, cones, a ball, slots, fillets, a ring of holes.
MESHED = (
    "inch_clamp_bar", "taper_pin", "pulley", "oiled_cone", "ball", "crossed_blind_hole", "rounded_plate",
    "chamfered_holes_in_a_ring", "ring_of_slots", "hexagon_stud", "fitted_spindle",
)  # fmt: skip


def solid(name):
    return PARTS[name]()[0].proved().result.body


def round_sizes(body):
    return {
        (s.kind, round(s.radius if s.kind != "cone" else math.degrees(s.half_angle), 3), s.hollow)
        for s in measure_faces(body)
        if s.kind in ("cylinder", "sphere", "cone")
    }


@pytest.mark.parametrize("fine", [0.02, 0.2])
@pytest.mark.parametrize("name", MESHED)
def test_a_part_comes_back_from_its_mesh(name, fine, tmp_path):
    body, path = solid(name), tmp_path / "part.stl"
    write_stl(body, path, fine)
    (found,) = read_solids(path.read_bytes(), path.name, "s1")
    assert found.body.volume == pytest.approx(body.volume, rel=5e-6)
    assert round_sizes(found.body) == round_sizes(body)
    assert " cylinder" in found.found or " cone" in found.found


def box(low, high):
    """The twelve triangles of a box, looking outwards."""
    (x, y, z), (u, v, w) = low, high
    p = [(x, y, z), (u, y, z), (u, v, z), (x, v, z), (x, y, w), (u, y, w), (u, v, w), (x, v, w)]
    sides = ((0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7))
    return [(p[a], p[b], p[c]) for s in sides for a, b, c in ((s[0], s[1], s[2]), (s[0], s[2], s[3]))]


def stl(triangles):
    records = b"".join(struct.pack("<12fH", 0, 0, 0, *(v for p in t for v in p), 0) for t in triangles)
    return b" " * 80 + struct.pack("<I", len(triangles)) + records


def test_each_closed_piece_is_a_solid_in_the_scale_asked_for():
    two = read_solids(stl([*box((0, 0, 0), (2, 1, 1)), *box((5, 0, 0), (6, 1, 0.5))]), "two.stl", "s1", scale=25.4)
    assert sorted(b.body.volume for b in two) == pytest.approx([0.5 * 25.4**3, 2 * 25.4**3])
    assert two[0].found == "6 flat faces"
    names = {n for found in two for own in found.body.names.values() for n in own}
    assert len(names) == 12 and all(n.startswith(("s1/1/", "s1/2/")) for n in names)


@pytest.mark.parametrize(
    ("triangles", "words"),
    [
        (box((0, 0, 0), (2, 1, 1))[:-1], "do not close round a solid"),
        ([t[::-1] for t in box((0, 0, 0), (2, 1, 1))], "look inwards"),
        ([*box((0, 0, 0), (9, 9, 9)), *(t[::-1] for t in box((1, 1, 1), (2, 2, 2)))], "hollow inside"),
    ],
)
def test_what_is_no_solid_is_refused_in_words(triangles, words):
    with pytest.raises(KernelFailure, match=words):
        read_solids(stl(triangles), "bad.stl", "s1")


def test_a_free_face_is_not_taken_for_anything(tmp_path):
    path = tmp_path / "free.stl"
    write_stl(solid("saddle_boss"), path, 0.02)
    with pytest.raises(KernelFailure, match=r"free faces, or is too coarse\. Have it written as STEP"):
        read_solids(path.read_bytes(), path.name, "s1")


@pytest.mark.parametrize(("deep", "fine"), [(0.3, 0.01), (1.0, 0.01), (0.6, 0.1), (1.2, 0.2)])
def test_a_flat_milled_on_a_round_bar_stays_a_flat(deep, fine, tmp_path):
    """Its corners lie on the round as well: taken for a part of it, the bar would be proved fuller than it is."""
    bench = Bench("Ø20", "30")
    bench.block("circle Ø#1 at 0,0", depth="#2")
    flat = bench.sketch(f"rect 10 x 40 at {15 - deep},0", base="face", on="s1/end")
    bench.extrude(flat, "30", mode="cut", direction="backward")
    body, path = bench.proved().result.body, tmp_path / "flat.stl"
    write_stl(body, path, fine)
    (found,) = read_solids(path.read_bytes(), path.name, "s1")
    assert found.body.volume == pytest.approx(body.volume, rel=1e-6)
    assert found.found == "3 flat faces, 1 cylinder"


@pytest.mark.parametrize("seed", range(24))
def test_a_damaged_mesh_is_refused_in_words_or_read_as_it_closes(seed):
    """Corners moved, triangles lost, doubled, turned over or shrunk to nothing: never an error of ours."""
    chance = random.Random(seed)
    triangles = [list(t) for t in box((0, 0, 0), (4, 3, 2))]
    for _ in range(1 + seed % 4):
        at = chance.randrange(len(triangles))
        match chance.randrange(5):
            case 0:
                triangles[at] = [tuple(v + chance.uniform(-1, 1) for v in p) for p in triangles[at]]
            case 1:
                del triangles[at]
            case 2:
                triangles.append(triangles[at])
            case 3:
                triangles[at] = triangles[at][::-1]
            case 4:
                triangles[at] = [triangles[at][0]] * 3
    try:
        found = read_solids(stl(triangles), "damaged.stl", "s1")
    except KernelFailure as error:
        assert error.message.startswith("damaged.stl")
    else:
        assert found and all(b.body.volume > 0 for b in found)
