"""Hundreds of random edits: what is refused changes nothing, what is taken is met, and undo leads all the way back."""

from __future__ import annotations

import random

import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.apart import pulled_apart
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.likely import likely
from lathed_solid.core.fit.model import Assembly, End, Pose
from lathed_solid.core.fit.solving import TOLERANCE, newton, solved
from lathed_solid.core.job.history import History
from lathed_solid.core.refusal import Refusal

from .shop import bar, block


def _changed(chance: random.Random, assembly: Assembly) -> tuple[Assembly, str]:
    """A random edit, and the relation it is about."""
    there = [i.id for i in assembly.instances]
    what = chance.choice(
        ("put", "relate", "relate", "relate", "value", "round", "remove", "unrelate", "move", "ground")
    )
    if what == "put" or len(there) < 2:
        shot = chance.choice((bar("bar", 20.0), bar("long", 35.0), block("block", 20, 30, 8)))
        place = tuple(chance.uniform(-40, 40) for _ in range(3))
        return edits.insert(assembly, shot, [Pose(place)])[0], ""
    if what == "relate":
        a, b = (End(name, chance.choice(assembly.part_of(name).references)) for name in chance.sample(there, 2))
        kind = chance.choice(likely(assembly, a, b))
        return edits.relate(assembly, kind, a, b, chance.choice(("", "0", "3", "12.5", "45")))
    relations = [r.id for r in assembly.relations]
    if what in ("value", "round", "unrelate") and relations:
        name = chance.choice(relations)
        if what == "unrelate":
            return edits.unrelate(assembly, name), ""
        if what == "round":
            return edits.change_relation(assembly, name, opposed=not assembly.relation(name).opposed), name
        return edits.change_relation(assembly, name, value=chance.choice(("1", "7.25", "30"))), name
    name = chance.choice(there)
    if what == "remove":
        return edits.remove(assembly, name), ""
    if what == "ground":
        return edits.change_instance(assembly, name, grounded=not assembly.instance(name).grounded), ""
    moved = edits.moved(assembly.instance(name).pose, tuple(chance.uniform(-9, 9) for _ in range(3)), 2, 0.3)
    return edits.change_instance(assembly, name, pose=moved), ""


@pytest.mark.parametrize("seed", range(4))
def test_many_edits_and_all_the_way_back(seed):
    chance, history = random.Random(seed), History(Assembly())
    taken = refused = 0
    for _ in range(130):
        before = history.state
        try:
            wanted, new = _changed(chance, before)
            made = solved(wanted, new)
        except Refusal as error:
            assert str(error) and history.state is before
            refused += 1
            continue
        assert newton(made.statement.bodies()).off(made.state) <= TOLERANCE
        if history.do(made.assembly, "edit"):
            taken += 1
    assert taken > 25 and refused > 5
    last = history.state
    found = solved(last)
    assert len(freedoms(found.statement, found.state).each) == len(last.instances)
    apart, trails = pulled_apart(last, 1.0)
    assert [i.id for i in apart.instances] == [i.id for i in last.instances] and len(trails) <= len(last.instances)
    assert pulled_apart(last, 0.0) == (last, ())
    for _ in range(taken):
        assert history.undo()
    assert history.state == Assembly()
    while history.redo():
        pass
    assert history.state == last
