"""What is done with real solids: assemblies put into others, the other hand, cut faces, contact, parts shown moving."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace

from lathed_solid.core.fit import edits, repeats
from lathed_solid.core.fit.clearance import clearances
from lathed_solid.core.fit.mass import weigh
from lathed_solid.core.fit.model import Assembly, Drive, End, Pose, Repeat
from lathed_solid.core.fit.poses import placed
from lathed_solid.core.fit.reading import between
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.fit.swing import swing
from lathed_solid.core.job.assembling.files import load_assembly, packed, save_assembly, unpacked
from lathed_solid.core.job.assembling.judging import body_of, cut_open
from lathed_solid.core.job.assembling.shots import other_hand, shot_of_content, shots_of
from lathed_solid.core.job.assembling.sub import inner_of, taken_apart
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.bought.made import bought
from lathed_solid.core.kernel.ground.picture import from_bytes
from lathed_solid.core.kernel.ground.topology import EDGE, subshapes

from .shop import bar, block, put, tie

EXAMPLES = Path(__file__).parents[3] / "examples"


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """A store, and a pin of Ø10 x 20 and a washer for it, looked at once."""
    store = Store(tmp_path_factory.mktemp("store"))
    made = []
    for kind, size, length in (("parallel_pin", "10", 20.0), ("washer", "M10", 0.0)):
        shot = shot_of_content(bought(kind, size, length), f"bought: {kind}", "")
        store.put(shot.solid)
        made.append(shot.part)
    return store, *made


def test_an_assembly_put_into_another_weighs_and_stands_as_its_parts_do(tmp_path, shop):
    store, pin, washer = shop
    inner, (first,) = edits.insert(Assembly(number="IN-1"), pin)
    inner, (second,) = edits.insert(inner, washer, [Pose((0.0, 0.0, 5.0))])
    inner, _ = edits.relate(inner, "in line", End(first, pin.references[0]), End(second, _bore(washer)))
    inner = solved(inner).assembly
    save_assembly(inner, tmp_path / "in.lathed", store)
    (shot,) = shots_of(tmp_path / "in.lathed", tmp_path, store)
    store.put(shot.solid)
    outer, (piece,) = edits.insert(Assembly(), shot.part, [Pose((7.0, 8.0, 9.0), (0.5, 0.5, 0.5, 0.5))])
    assert [(m.many, m.number) for m in shot.part.members] == [(1, "ISO 2338 10x20"), (1, "ISO 7089 M10")]
    assert len(shot.part.references) == len(pin.references) + len(washer.references)
    whole, alone = weigh(outer), weigh(inner)
    assert whole.grams == pytest.approx(alone.grams) and sum(whole.inertia[:3]) == pytest.approx(sum(alone.inertia[:3]))
    assert whole.center == pytest.approx(placed(outer.instances[0].pose, np.array(alone.center)))
    # Another pin run through it overlaps the pin inside, not the washer about it.
    outer, (other,) = edits.insert(outer, pin, [outer.instances[0].pose])
    (pair,) = clearances(outer, body_of(store)).pairs
    assert pair.state == "overlapping" and pair.volume == pytest.approx(pin.volume, rel=1e-3)
    # Tied by a face of a part in it, and taken apart: the part itself is tied now, where it stood.
    ends = End(piece, f"{second}/{_bore(washer)}"), End(other, pin.references[0])
    outer, _ = edits.relate(outer, "in line", *ends)
    found, paths = inner_of(outer, piece, tmp_path, store)
    apart = taken_apart(outer, piece, found, paths)
    assert weigh(apart).grams == pytest.approx(weigh(outer).grams)
    assert weigh(apart).center == pytest.approx(weigh(outer).center)
    assert len(apart.relations) == 2 and piece not in {i.id for i in apart.instances}
    tied = apart.relations[0].a
    assert apart.part_of(tied.instance).called == "ISO 7089 M10" and tied.face == _bore(washer)
    (tmp_path / "in.lathed").write_bytes(b"other")
    with pytest.raises(Exception, match="has changed"):
        inner_of(outer, piece, tmp_path, store)


def _bore(part):
    return next(n for n, s in zip(part.references, part.surfaces, strict=True) if s.kind == "cylinder" and s.hollow)


def test_the_other_hand_is_the_part_seen_in_a_mirror(tmp_path):
    store = Store(tmp_path / "store")
    (shot,) = shots_of(EXAMPLES / "skp-03.lathed", EXAMPLES, store)
    store.put(shot.solid)
    other = other_hand(shot.part, store)
    assert other.part.volume == shot.part.volume and other.part.references == shot.part.references
    for one, two in zip(shot.part.surfaces, other.part.surfaces, strict=True):
        assert one.kind == two.kind and one.hollow == two.hollow and one.area == pytest.approx(two.area, rel=1e-6)
        assert two.center == pytest.approx(np.multiply(one.center, (-1, 1, 1)), abs=1e-5)
    # A tapped hole is tapped by the same tap.
    assert [t.thread for t in other.part.threads] == [t.thread for t in shot.part.threads]
    store.put(other.solid)
    assert other_hand(other.part, store).part.center == pytest.approx(shot.part.center, abs=1e-6)


def test_cut_faces_are_hatched_inside_and_nowhere_else(shop):
    store, pin, washer = shop
    made, _ = edits.insert(Assembly(), pin)
    made, (second,) = edits.insert(made, washer, [Pose((0.0, 0.0, 5.0))])
    for whole, parts in (((), (pin, washer)), ((second,), (pin,))):
        lines = from_bytes(cut_open(made, (0.0, 0.0, 0.0), (0.0, -1.0, 0.0), whole, store))
        edges = subshapes(lines, EDGE)
        assert len(edges) > 20
        ends = np.array([e for edge in edges for e in _ends(edge)])
        # All in the plane, a hair before it, and no farther out than the parts that are cut.
        assert np.ptp(ends[:, 1]) < 1e-9 and -0.1 < ends[0, 1] < 0
        assert np.abs(ends[:, 0]).max() == pytest.approx(max(p.box[1][0] for p in parts), abs=0.02)
    assert not subshapes(from_bytes(cut_open(made, (0.0, 500.0, 0.0), (0.0, -1.0, 0.0), (), store)), EDGE)


def _ends(edge):
    from OCP.BRep import BRep_Tool
    from OCP.TopExp import TopExp
    from OCP.TopoDS import TopoDS

    own = TopoDS.Edge(edge)
    for vertex in (TopExp.FirstVertex_s(own), TopExp.LastVertex_s(own)):
        p = BRep_Tool.Pnt_s(vertex)
        yield p.X(), p.Y(), p.Z()


@pytest.mark.parametrize(
    ("shift", "state"),
    [
        ((0.0, 0.0, 20.0), "touching"), ((5.0, 0.0, 20.0), "touching"), ((0.0, 0.0, 20.004), "apart"),
        ((0.0, 0.0, 19.996), "overlapping"), ((6.5, 0.0, 20.0), "apart"), ((10.0, 0.0, 3.0), "touching"),
    ],
)  # fmt: skip
def test_contact_is_read_off_faces_and_only_where_there_is_some(shop, shift, state):
    """Two pins end on end, beside each other, a hair apart and a hair into each other."""
    store, pin, _ = shop
    made, _ = edits.insert(Assembly(), pin)
    made, _ = edits.insert(made, pin, [Pose(shift)])
    (pair,) = clearances(made, body_of(store)).pairs
    assert pair.state == state and pair.exact
    if state == "apart":
        # The end of Ø6 is nearest to the other's chamfer of 45°, which begins half a millimetre beside it.
        assert pair.gap == pytest.approx(0.004 if shift[2] == 20.004 else 0.5 / math.sqrt(2), abs=1e-6)


def test_a_part_is_shown_along_what_is_free_and_comes_back():
    assembly, one = put(Assembly(), bar("one", 40.0))
    assembly, two = put(assembly, bar("two", 30.0), (0, 0, 4))
    assembly, _ = tie(assembly, "in line", f"{one}.a", f"{two}.a")
    free, seated = assembly, tie(assembly, "seated", f"{one}.top", f"{two}.bottom")[0]
    film = swing(seated, two, 0)
    assert len(film) == 36 and len({m.instance(two).pose for m in film}) == 36
    for moment in film:
        assert between(moment, End(one, "a"), End(two, "a")) == pytest.approx((0.0, 0.0), abs=1e-7)
        assert moment.instance(two).pose.place[2] == pytest.approx(4.0, abs=1e-9)
    assert film[-1].instance(two).pose.place == pytest.approx(seated.instance(two).pose.place, abs=1e-6)
    # Only in line it turns and slides; a way it has not is none, and what is held has none.
    slid = [max(m.instance(two).pose.place[2] for m in swing(free, two, way)) for way in (0, 1)]
    assert sorted(v > 4.5 for v in slid) == [False, True] and swing(free, two, 2) == ()
    assert swing(seated, one, 0) == ()
    # A stop ends it: back and forth as far as it goes.
    made, stop = edits.relate(seated, "angle", End(one, "side"), End(two, "side"), "0")
    film = swing(edits.change_relation(made, stop, value="", low="-90", high="45"), two, 0)
    turned = [2 * math.degrees(math.atan2(m.instance(two).pose.turn[3], m.instance(two).pose.turn[0])) for m in film]
    assert max(turned) == pytest.approx(40.0, abs=10.0) and turned[-1] == pytest.approx(0.0, abs=1e-6)


def test_what_refers_to_nothing_is_left_out_when_a_file_is_opened(tmp_path):
    store = Store(tmp_path / "store")
    assembly, hub = put(Assembly(), bar("hub", 40.0))
    assembly, one = put(assembly, block("block", 4, 6, 8), (30, 4, 7))
    assembly, name = repeats.repeated(assembly, "ring", one, End(hub, "a"), "4")
    gone = Repeat(id="k77", kind="row", leader="i99", about=End(hub, "a"), spread="5")
    ring = repeats.repeat_of(assembly, name)
    broken = replace(
        assembly, repeats=(replace(ring, made=(*ring.made[:2], "i98")), gone), drive=Drive("r55", "0", "1")
    )
    parts = tuple(replace(p, shape="") for p in broken.parts)
    opened = unpacked(packed(replace(broken, parts=parts), "a.lathed", store), "a.lathed", store)
    assert any("rings or rows" in words for words in opened.lost) and opened.assembly.drive is None
    (kept,) = opened.assembly.repeats
    assert kept.made == (*ring.made[:2], "") and opened.assembly.next_id >= assembly.next_id
    assert solved(opened.assembly).assembly.instances
    assert load_assembly(EXAMPLES / "skp-00.lathed", store).lost == ()
