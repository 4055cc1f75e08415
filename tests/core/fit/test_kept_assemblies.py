"""Assemblies on disk: what differs between two states is told, unsaved work is kept, offered and never taken away."""

from __future__ import annotations

import copy
import os
from pathlib import Path

import msgspec
import pytest

from lathed_solid.core.fit.model import Apart, Assembly, Drive, Follow
from lathed_solid.core.job.assembling import keeping
from lathed_solid.core.job.assembling.differences import UNSAID, differences
from lathed_solid.core.job.assembling.files import load_assembly, save_assembly
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite

from ..job.test_differences import others

EXAMPLES = Path(__file__).parents[3] / "examples"


@pytest.fixture(scope="module")
def drum(tmp_path_factory):
    """The drum of the demo with something in every field."""
    read = load_assembly(EXAMPLES / "skp-00.lathed", Store(tmp_path_factory.mktemp("store"))).assembly
    return msgspec.structs.replace(
        read,
        title=read.title or "drum",
        revision="A",
        follows=read.follows or (Follow(id="w1", leader=read.instances[0].id, hole=read.relations[0].a),),
        drive=Drive(read.relations[0].id, "0", "90"),
        apart=Apart(0.5, ((read.instances[0].id, (1.0, 2.0, 3.0)),)),
    )


def test_every_value_of_an_assembly_is_told_when_it_is_another(drum):
    # no file is opened in which a part is missing
    unsound = {("instances", "part"), ("parts", "id")}
    met = set()
    for path, changed in others(drum, 5, 60, lambda p: p[0] in UNSAID or p[::2] in unsound):
        met.add(path[0])
        found = differences(drum, changed)
        assert found and all(c.before != c.after for c in found), f"{path} is another, and nothing is said"
    empty = {f for f in Assembly.__struct_fields__ if getattr(drum, f) == getattr(Assembly(), f)} - {"unit"}
    assert set(Assembly.__struct_fields__) - met <= UNSAID | empty | {"unit"}
    assert not differences(drum, copy.deepcopy(drum))
    assert differences(drum, msgspec.structs.replace(drum, unit="in"))[0].words == "unit: mm → in"
    for field in ("instances", "relations", "follows", "repeats", "sheets"):
        less = msgspec.structs.replace(drum, **{field: getattr(drum, field)[:-1]})
        assert not getattr(drum, field) or (differences(drum, less) and differences(less, drum)), field


def test_a_part_moved_is_told_with_how_far_and_the_solvers_rest_is_not(drum):
    first, *rest = drum.instances

    def moved(by: float) -> Assembly:
        pose = msgspec.structs.replace(first.pose, place=(first.pose.place[0] + by, *first.pose.place[1:]))
        return msgspec.structs.replace(drum, instances=(msgspec.structs.replace(first, pose=pose), *rest))

    (told,) = differences(drum, moved(3.5))
    assert told.words == f"instance {drum.called(first.id)}: as it stood → moved by 3.5 mm"
    assert differences(drum, moved(1e-9)) == []
    taken = tuple(msgspec.structs.replace(p, stamp="other", volume=p.volume * 2) for p in drum.parts[:1])
    (told,) = differences(drum, msgspec.structs.replace(drum, parts=(*taken, *drum.parts[1:])))
    assert told.after == "taken anew from its file"


def test_unsaved_work_is_offered_once_its_program_is_gone_and_what_cannot_be_read_stays(drum, tmp_path):
    keeper = keeping.Keeper(tmp_path)
    keeper.keep(drum, "a.lathed", (1, 2, 3))
    assert keeper.holds(drum) and not list(keeping.unsaved(tmp_path)), "this program still works on it"
    keeper.leave()
    (work,) = keeping.unsaved(tmp_path)
    assert work.assembly == drum and (work.path, work.stamp) == ("a.lathed", (1, 2, 3))
    keeper.close()
    assert list(keeping.unsaved(tmp_path)), "left for the next start, it is no longer this one's to remove"
    broken = tmp_path / "999999-1-1.assembly"
    broken.write_bytes(work.kept.read_bytes()[:-40])
    assert keeping.unreadable(tmp_path) == [broken] and len(list(keeping.unsaved(tmp_path))) == 1


def test_an_earlier_save_that_cannot_be_kept_does_not_keep_this_one_from_being_made(drum, tmp_path, monkeypatch):
    store, path = Store(tmp_path / "store"), tmp_path / "a.lathed"
    load_assembly(EXAMPLES / "skp-00.lathed", store)
    save_assembly(drum, path, store)
    shut = tmp_path / "earlier"
    shut.write_text("a file where the folder should be")
    changed = msgspec.structs.replace(drum, title="another")
    save_assembly(changed, path, store, shut)
    assert load_assembly(path, store).assembly.title == "another"

    def full(*_given):
        raise OSError(28, os.strerror(28))

    monkeypatch.setattr("lathed_solid.core.job.files.os.fsync", full)
    with pytest.raises(CannotWrite, match=r"a\.lathed"):
        save_assembly(drum, path, store, tmp_path / "kept")
    monkeypatch.undo()
    assert load_assembly(path, store).assembly == changed, "the old file is untouched"
