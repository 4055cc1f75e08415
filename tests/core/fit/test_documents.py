"""Assemblies of the example jobs: parts taken, saved, opened without their files, judged, written as STEP and read back."""

from __future__ import annotations

import shutil
from pathlib import Path

import msgspec
import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.clearance import clearances
from lathed_solid.core.fit.mass import weigh
from lathed_solid.core.fit.model import Assembly, End
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.job.assembling.files import is_assembly, load_assembly, save_assembly
from lathed_solid.core.job.assembling.judging import body_of, judged, write_assembly
from lathed_solid.core.job.assembling.shots import shots_of
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.damaged import CannotOpen
from lathed_solid.core.job.files import CannotWrite

EXAMPLES = Path(__file__).parents[3] / "examples"


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """Arbor and flange taken from copies of their jobs: (folder, store, assembly, arbor, flange)."""
    folder = tmp_path_factory.mktemp("shop")
    store = Store(folder / "store")
    assembly, names = Assembly(number="SKP-T"), []
    for number in ("01", "02"):
        path = Path(shutil.copy(EXAMPLES / f"skp-{number}.lathed", folder))
        (shot,) = shots_of(path, folder, store)
        store.put(shot.solid)
        assembly, (name,) = edits.insert(assembly, shot.part, shot.poses)
        names.append(name)
    return folder, store, assembly, *names


def face(assembly, instance, kind, **wanted):
    """A face of an instance: of its kind, with figures as wanted."""
    part = assembly.part_of(instance)
    return End(
        instance,
        next(
            r
            for r, s in zip(part.references, part.surfaces, strict=True)
            if s.kind == kind and all(getattr(s, k) == pytest.approx(v, abs=1e-6) for k, v in wanted.items())
        ),
    )


def test_a_part_is_taken_as_its_job_has_it(shop):
    _folder, _store, assembly, arbor, flange = shop
    one, two = assembly.part_of(arbor), assembly.part_of(flange)
    assert (one.path, one.number) == ("skp-01.lathed", "SKP-01")
    assert one.volume == pytest.approx(39_774.28, rel=1e-4) and two.volume == pytest.approx(123_163.11, rel=1e-4)
    weight = weigh(assembly, {arbor})
    assert weight.grams == pytest.approx(312.23, abs=0.05)
    assert weight.center[2] == pytest.approx(77.385, abs=0.01)
    assert {t.thread.designation for t in one.threads} == {"M10x1.5 - 6g", "M6x1 - 6H"}
    assert {(s.lower, s.upper) for s in one.sized if s.note.startswith("Ø12")} == {(11.989, 12.0)}
    assert len(one.references) == len(set(one.references)) == len(one.surfaces)


def put_together(assembly, arbor, flange, gap="0.3"):
    """The flange's bore on the arbor's Ø20, its hub off the collar by a gap."""
    shaft = face(assembly, arbor, "cylinder", radius=10.0, hollow=False)
    bore = face(assembly, flange, "cylinder", radius=10.0, hollow=True)
    assembly, first = edits.relate(assembly, "in line", shaft, bore, opposed=True)
    assembly = solved(assembly, first).assembly
    collar = face(assembly, arbor, "plane", axis=(0, 0, -1), origin=(0, 0, 92))
    hub = face(assembly, flange, "plane", axis=(0, 0, 1), origin=(0, 0, 28))
    assembly, second = edits.relate(assembly, "seated", collar, hub, gap)
    return solved(assembly, second).assembly


def test_it_is_saved_opened_without_its_parts_and_stays_the_same(shop, tmp_path):
    _folder, store, assembly, arbor, flange = shop
    together = put_together(assembly, arbor, flange)
    path = tmp_path / "skp-t.lathed"
    save_assembly(together, path, store)
    assert is_assembly(path) and not is_assembly(EXAMPLES / "skp-01.lathed") and not is_assembly(tmp_path / "none")
    other = Store(tmp_path / "elsewhere")
    opened = load_assembly(path, other)
    assert opened.assembly == together and not opened.lost
    assert path.read_bytes() == (save_assembly(together, path, store), path.read_bytes())[1]
    found = judged(opened.assembly, other)  # no job file is asked for
    (pair,) = found.pairs
    assert pair.state == "touching"
    assert solved(opened.assembly).assembly == together


def test_a_damaged_or_foreign_file_is_refused_in_words_and_a_missing_solid_is_told(shop, tmp_path):
    _folder, store, assembly, *_ = shop
    path = tmp_path / "a.lathed"
    save_assembly(assembly, path, store)
    with pytest.raises(CannotOpen, match="not an assembly"):
        load_assembly(EXAMPLES / "skp-01.lathed", store)
    whole = path.read_bytes()
    path.write_bytes(whole[: len(whole) // 2])
    assert is_assembly(path)
    opened = load_assembly(path, Store(tmp_path / "other"))
    assert opened.assembly.number == assembly.number and opened.lost[0].startswith("the file is damaged")
    assert any("solid of SKP-0" in words for words in opened.lost)
    assert not any("solid" in words for words in load_assembly(path, store).lost), "they are here from before"
    path.write_bytes(whole[:60])
    with pytest.raises(CannotOpen, match="not an assembly"):
        load_assembly(path, store)
    with pytest.raises(CannotWrite, match="not at hand"):
        save_assembly(assembly, tmp_path / "b.lathed", Store(tmp_path / "empty"))
    assert not (tmp_path / "b.lathed").exists()
    gone = msgspec.structs.replace(assembly, instances=assembly.instances[:1])
    relation = put_together(assembly, *(i.id for i in assembly.instances)).relations[0]
    save_assembly(msgspec.structs.replace(gone, relations=(relation,)), path, store)
    opened = load_assembly(path, store)
    assert not opened.assembly.relations and "relations between parts" in opened.lost[0]


def test_a_chamfer_that_does_not_clear_the_fillet_is_found(shop):
    """The bore's 0.8 x 45° against the R1 at the collar: both ends of the arc stand in the way by 1 - sqrt(1 - 0.2²)."""
    _, store, assembly, arbor, flange = shop
    (pair,) = clearances(put_together(assembly, arbor, flange, "0"), body_of(store)).overlaps
    assert 0.005 < pair.deep < 1 - (1 - 0.2**2) ** 0.5
    assert 0 < pair.volume < 1


def test_the_flange_pushed_into_the_collar_is_found_with_its_volume(shop):
    _, store, assembly, arbor, flange = shop
    together = put_together(assembly, arbor, flange)
    (seat,) = [r for r in together.relations if r.kind == "seated"]
    pushed = solved(edits.change_relation(together, seat.id, value="-0.5")).assembly
    (pair,) = clearances(pushed, body_of(store)).overlaps
    # The hub Ø42 over the collar Ø34, less the 0.5 x 45° chamfers of collar and bore.
    assert pair.deep == pytest.approx(0.5, abs=2e-3)
    assert 0 < pair.volume < 3.1416 * (17**2 - 10**2) * 0.5


def test_step_keeps_the_structure_and_is_read_back_with_its_places(shop, tmp_path):
    _folder, store, assembly, arbor, flange = shop
    together = put_together(assembly, arbor, flange)
    again, (_,) = edits.insert(
        together, together.part_of(flange), [edits.moved(together.instance(flange).pose, (0, 0, 200))]
    )
    path = tmp_path / "skp-t.step"
    write_assembly(again, path, store)
    shots = shots_of(path, tmp_path, store)
    assert [(s.part.title, len(s.poses)) for s in shots] == [("SKP-01", 1), ("SKP-02", 2)]
    back = Assembly()
    for shot in shots:
        back, _ = edits.insert(back, shot.part, shot.poses)
    one, two = weigh(again), weigh(back)
    assert two.volume == pytest.approx(one.volume, rel=1e-7)
    for ours in again.instances:
        volume = again.part(ours.part).volume
        assert any(
            back.part(t.part).volume == pytest.approx(volume, rel=1e-6)
            and t.pose.place == pytest.approx(ours.pose.place, abs=1e-6)
            for t in back.instances
        )


def test_a_file_of_solids_and_one_that_holds_none(tmp_path):
    store = Store(tmp_path / "store")
    (tmp_path / "junk.step").write_text("not a step file")
    with pytest.raises(Exception, match="no STEP file"):
        shots_of(tmp_path / "junk.step", tmp_path, store)
