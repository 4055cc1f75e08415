"""Parts brought together by relations: from anywhere, on the chosen side, with what is said twice or otherwise named."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.conflicts import conflict
from lathed_solid.core.fit.drag import Drag
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.likely import likely
from lathed_solid.core.fit.model import Assembly, End, Pose
from lathed_solid.core.fit.motion import drive
from lathed_solid.core.fit.poses import pose_of, rotation
from lathed_solid.core.fit.solving import NotMet, as_far_as, newton, solved, still_met
from lathed_solid.core.fit.statement import stated
from lathed_solid.core.refusal import Refusal

from .shop import axis_of, bar, block, empty, part, put, tie
from .test_mechanisms import four_bar


def plates(seed: int, count: int, spread: float, turn: float) -> tuple[Assembly, list[str]]:
    """A tree of plates with bores, each seated on an earlier one and lined up by two bores; all put out of place."""
    rng = np.random.default_rng(seed)
    a, names = empty(), []
    for k in range(count):
        a, name = put(a, bar(f"plate {k}", 20.0 + 3 * k))
        names.append(name)
        if k:
            below = names[int(rng.integers(k))]
            a, _ = tie(a, "in line", f"{below}.{'ab'[k % 2]}", f"{name}.a", opposed=False)
            a, _ = tie(a, "seated", f"{below}.top", f"{name}.bottom", f"{rng.uniform(0, 3):.3f}")
            a, _ = tie(a, "angle", f"{below}.side", f"{name}.side", f"{rng.uniform(-170, 170):.2f}")
    for name in names[1:]:
        pose = a.instance(name).pose
        off = Rotation.from_rotvec(rng.uniform(-turn, turn, 3)).as_matrix()
        where = np.add(pose.place, rng.uniform(-spread, spread, 3))
        a = edits.change_instance(a, name, pose=pose_of(off @ rotation(pose), where))
    return a, names


@given(st.integers(0, 10_000), st.integers(2, 8), st.sampled_from([(0.5, 0.02), (3.0, 0.2), (10.0, 0.5)]))
@settings(max_examples=25, deadline=None)
def test_a_tree_put_out_of_place_comes_back_to_the_same_solution(seed, count, by):
    a, names = plates(seed, count, 0.0, 0.0)
    home = solved(a).assembly
    loose, _ = plates(seed, count, *by)
    back = solved(loose).assembly
    for name in names:
        one, two = home.instance(name).pose, back.instance(name).pose
        assert one.place == pytest.approx(two.place, abs=1e-6)
        assert abs(np.dot(one.turn, two.turn)) == pytest.approx(1.0, abs=1e-9)


@given(st.integers(0, 10_000), st.integers(2, 6))
@settings(max_examples=15, deadline=None)
def test_what_is_free_agrees_with_the_null_space(seed, count):
    a, _names = plates(seed, count, 0.0, 0.0)
    rng = np.random.default_rng(seed)
    for relation in [r.id for r in a.relations if rng.random() < 0.4]:
        a = edits.unrelate(a, relation)
    found = solved(a)
    bodies = found.statement.bodies()
    _, data = bodies.evaluate(found.state)
    J = np.zeros((bodies.m, bodies.n))
    J[bodies.rows, bodies.columns] = data
    rank = int(np.linalg.matrix_rank(J, tol=1e-7)) if J.size else 0
    assert freedoms(found.statement, found.state).ways == bodies.n - rank


@given(st.integers(0, 10_000))
@settings(max_examples=20, deadline=None)
def test_the_gradient_is_that_of_the_moves(seed):
    a, _ = plates(seed, 4, 2.0, 0.3)
    statement = stated(a)
    bodies = statement.bodies()
    _, data = bodies.evaluate(statement.start)
    J = np.zeros((bodies.m, bodies.n))
    J[bodies.rows, bodies.columns] = data
    for column in range(bodies.n):
        step = np.zeros(bodies.n)
        step[column] = 1e-4
        ahead, behind = (bodies.residual(bodies.move(statement.start, s)) for s in (step, -step))
        assert np.allclose((ahead - behind) / 2e-4, J[:, column], atol=2e-6)


@pytest.mark.parametrize("turn", [0.6, 1.5, 3.0])
def test_a_new_part_comes_to_the_chosen_side_from_any_side(turn):
    rng = np.random.default_rng(7)
    for _ in range(8):
        axis = rng.normal(size=3)
        v = math.sin(turn / 2) * axis / np.linalg.norm(axis)
        a, base = put(empty(), block("base", 40, 40, 10))
        a, top = put(a, block("top", 20, 20, 6), rng.uniform(-40, 40, 3), (math.cos(turn / 2), *v))
        a, _ = tie(a, "seated", f"{base}.z+", f"{top}.z-")
        a, _ = tie(a, "flush", f"{base}.x+", f"{top}.x+", "-3")
        a, _ = tie(a, "flush", f"{base}.y+", f"{top}.y+")
        assert a.instance(top).pose.place == pytest.approx((7.0, 10.0, 8.0), abs=1e-9)


def test_turning_a_relation_round_stands_the_part_on_its_head():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, top = put(a, block("top", 20, 20, 6), (0, 0, 30))
    a, seat = tie(a, "seated", f"{base}.z+", f"{top}.z-", "2")
    turned = edits.change_relation(a, seat, opposed=not a.relation(seat).opposed)
    a = solved(turned, seat).assembly
    assert axis_of(a, top, "z-")[1] == pytest.approx((0, 0, 1), abs=1e-9)
    assert axis_of(a, top, "z-")[0][2] == pytest.approx(7.0, abs=1e-9)


def test_what_is_said_twice_or_otherwise_is_named():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, top = put(a, block("top", 20, 20, 6), (0, 0, 30))
    a, seat = tie(a, "seated", f"{base}.z+", f"{top}.z-")
    a, side = tie(a, "flush", f"{base}.x+", f"{top}.x+")
    again, name = edits.relate(a, "flush", End(base, "y+"), End(top, "y+"))
    assert conflict(stated(again), stated(again).start, name).others == (seat, side)  # only its lean is said already
    for kind, faces, value, others, off in (
        ("seated", ("z+", "z-"), "1", {seat}, 1.0),
        ("distance", ("z+", "z+"), "6", {seat}, 0.0),
        ("distance", ("z+", "z+"), "6.25", {seat}, 0.25),
        ("square", ("x+", "z+"), "", {seat}, 0.0),
    ):
        said, name = edits.relate(a, kind, End(base, faces[0]), End(top, faces[1]), value)
        found = conflict(stated(said), stated(said).start, name)
        assert set(found.others) == others, kind
        assert found.off == pytest.approx(off, abs=1e-6)
        assert found.repeats == (off == 0.0)
    said, name = edits.relate(a, "seated", End(base, "z+"), End(top, "z-"), "1")
    with pytest.raises(NotMet) as caught:
        solved(said, name)
    assert set(caught.value.owners) == {seat, name}
    assert solved(a).assembly == a  # what was refused has changed nothing


def test_a_distance_over_a_stack_contradicts_just_the_seats_between():
    a, first = put(empty(), block("plate", 40, 40, 10))
    names, seats = [first], []
    for k in range(6):
        a, name = put(a, block(f"plate {k}", 40, 40, 10), (0, 0, 30 + 20 * k))
        a, seat = tie(a, "seated", f"{names[-1]}.z+", f"{name}.z-")
        a, _ = tie(a, "flush", f"{names[-1]}.x+", f"{name}.x+")
        a, _ = tie(a, "flush", f"{names[-1]}.y+", f"{name}.y+")
        names.append(name)
        seats.append(seat)
    said, name = edits.relate(a, "distance", End(names[1], "z+"), End(names[4], "z+"), "31")
    found = conflict(stated(said), stated(said).start, name)
    assert found.others == tuple(sorted(seats[1:4])) and found.off == pytest.approx(1.0, abs=1e-6)


def test_the_likely_relation_is_offered_first():
    shaft = part("shaft", {"od": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 6.0}), "end": ("plane", (0, 0, 9), (0, 0, 1)),
                           "ball": ("sphere", (0, 0, 0), (0, 0, 1), {"radius": 3.0})})  # fmt: skip
    seat = part("seat", {"bore": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 6.01, "hollow": True}), "top": ("plane", (0, 0, 0), (0, 0, 1)),
                         "cone": ("cone", (0, 0, 0), (0, 0, 1), {"radius": 2.0, "half_angle": 0.5, "hollow": True})})  # fmt: skip
    a, one = put(empty(), shaft)
    a, two = put(a, seat)
    for first, second, want in (
        ("od", "bore", "in line"),
        ("end", "top", "seated"),
        ("ball", "cone", "tangent"),
        ("od", "top", "tangent"),
    ):
        assert likely(a, End(one, first), End(two, second))[0] == want
        assert likely(a, End(two, second), End(one, first))[0] == want


def test_a_ball_sits_in_its_cone_and_on_a_flat():
    ball = part("ball", {"ball": ("sphere", (0, 0, 0), (0, 0, 1), {"radius": 4.0})}, ((-4, -4, -4), (4, 4, 4)))
    cone = part(
        "cone",
        {"seat": ("cone", (0, 0, 5), (0, 0, 1), {"radius": 3.0, "half_angle": math.radians(30), "hollow": True})},
    )
    a, seat = put(empty(), cone)
    a, one = put(a, ball, (3, 2, 40))
    a, _ = tie(a, "tangent", f"{seat}.seat", f"{one}.ball")
    apex = 5 - 3 / math.tan(math.radians(30))
    assert axis_of(a, one, "ball")[0] == pytest.approx((0, 0, apex + 4 / math.sin(math.radians(30))), abs=1e-9)
    a, flat = put(empty(), block("flat", 30, 30, 4))
    a, two = put(a, ball, (3, 2, 40))
    a, _ = tie(a, "tangent", f"{flat}.z+", f"{two}.ball")
    assert axis_of(a, two, "ball")[0][2] == pytest.approx(6.0, abs=1e-9)


def test_what_is_fixed_moves_with_what_it_is_fixed_to():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, arm = put(a, block("arm", 20, 20, 6), (3, 4, 40), (0.9, 0.2, 0.1, 0.3))
    a, knob = put(a, block("knob", 5, 5, 5), (10, 0, 60), (0.5, 0.5, 0.5, 0.1))
    before = rotation(a.instance(arm).pose).T @ rotation(a.instance(knob).pose)
    a, _ = tie(a, "fixed", f"{arm}.z+", f"{knob}.z-")
    a, _ = tie(a, "seated", f"{base}.z+", f"{arm}.z-")
    after = rotation(a.instance(arm).pose).T @ rotation(a.instance(knob).pose)
    assert after == pytest.approx(before, abs=1e-9)
    found = solved(a)
    words = {f.instance: f.ways for f in freedoms(found.statement, found.state).each}
    assert words[arm] == words[knob] == 3


def test_relations_that_mean_nothing_are_refused_and_change_nothing():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, top = put(a, block("top", 20, 20, 6), (0, 0, 30))
    for kind, one, two, value, words in (
        ("in line", f"{base}.z+", f"{top}.z-", "", "axis on axis"),
        ("seated", f"{base}.z+", f"{base}.z-", "", "on one part"),
        ("distance", f"{base}.z+", f"{top}.z-", "", "needs a distance"),
        ("distance", f"{base}.z+", f"{top}.z-", "3 +", "Something is missing"),
        ("seated", f"{base}.gone", f"{top}.z-", "", "not on base any more"),
    ):
        with pytest.raises(Refusal, match=words):
            tie(a, kind, one, two, value)


def test_dragging_meets_every_relation_in_every_picture_and_comes_back():
    a, (_, crank, _, rocker), by = four_bar(40.0, 12.0, 35.0, 30.0)
    a = edits.unrelate(a, by)
    grabbed = axis_of(a, crank, "b")[0]
    hold = Drag(a, crank, tuple(grabbed), budget=1.0)
    start = math.atan2(grabbed[1], grabbed[0])
    for step in np.linspace(0, 2 * math.pi, 61):
        assert hold.to((12 * math.cos(start + step), 12 * math.sin(start + step), float(grabbed[2])))
        assert np.abs(hold.bodies.residual(hold.state)).max() < 1e-5
    done = hold.ended()
    assert axis_of(done, rocker, "b")[0] == pytest.approx(axis_of(a, rocker, "b")[0], abs=1e-4)
    assert newton(stated(done).bodies()).off(stated(done).start) < 1e-8


@given(st.integers(0, 100_000))
@settings(max_examples=20, deadline=None)
def test_no_four_bar_turns_over_when_it_is_driven_close_to_its_lock_at_once(seed):
    rng = np.random.default_rng(seed)
    while True:
        c, k, r, g = rng.uniform(8, 30, 4)
        reach = (c * c + g * g - (k + r) ** 2) / (2 * c * g)
        if abs(reach) < 0.95 and abs(k - r) < 0.9 * abs(g - c):
            break
    lock = math.acos(reach)
    start, goal = lock * rng.uniform(0.2, 0.6), lock * (1 - 10 ** rng.uniform(-3, -1))
    away = np.array([g - c * math.cos(start), -c * math.sin(start)])
    if not abs(k - r) < np.linalg.norm(away) < k + r:
        return
    a, (_, crank, _, rocker), by = four_bar(g, c, k, r, start=math.degrees(start))

    def elbow(assembly: Assembly) -> float:
        p = axis_of(assembly, crank, "b")[0][:2]
        q = axis_of(assembly, rocker, "b")[0][:2]
        d = np.array([g, 0]) - p
        return float(d[0] * (q - p)[1] - d[1] * (q - p)[0])

    film = drive(a, by, [goal])
    assert not film.ended
    assert elbow(film.frames[-1].assembly) * elbow(a) > 0


def test_grounding_and_taking_away():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, top = put(a, block("top", 20, 20, 6), (0, 0, 30))
    a, _ = tie(a, "seated", f"{base}.z+", f"{top}.z-")
    assert a.instance(base).grounded and not a.instance(top).grounded
    gone = edits.remove(a, top)
    assert not gone.relations and [p.path for p in gone.parts] == ["base"]
    with pytest.raises(Refusal, match="fixed to the ground"):
        tie(edits.change_instance(a, top, grounded=True), "flush", f"{base}.x+", f"{top}.x+")
    assert edits.moved(Pose(), (1, 2, 3)).place == (1.0, 2.0, 3.0)


def test_a_part_exchanged_for_another_keeps_the_relations_whose_faces_it_has():
    a, base = put(empty(), block("base", 40, 40, 10))
    a, top = put(a, block("top", 20, 20, 6), (0, 0, 30))
    a, other = put(a, block("top", 20, 20, 6), (0, 0, 60))
    a, seat = tie(a, "seated", f"{base}.z+", f"{top}.z-")
    a, side = tie(a, "flush", f"{base}.x+", f"{top}.x+")
    higher = block("higher", 30, 20, 14)
    made = solved(edits.exchanged(a, a.instance(top).part, higher))
    assert made.assembly.part_of(top).path == made.assembly.part_of(other).path == "higher"
    assert made.assembly.instance(top).pose.place[2] == pytest.approx(5 + 7) and not made.statement.lost
    without = msgspec.structs.replace(higher, references=(*higher.references[:4], "a", "b"))
    lost = solved(edits.exchanged(a, a.instance(top).part, without)).statement.lost
    assert {name for name, _ in lost} == {seat} and side


def test_parts_that_no_longer_go_together_are_taken_and_the_newest_relation_gives_way():
    """A link on two pins 20 apart is renewed with its bores 21 apart."""
    pins = part(
        "pins", {n: ("cylinder", (x, 0, 0), (0, 0, 1), {"radius": 2.0}) for n, x in (("left", 0), ("right", 20))}
    )
    assembly, base = put(Assembly(), pins)
    assembly, link = put(assembly, bar("link", 20.0), (1, 2, 3))
    assembly, _ = tie(assembly, "in line", f"{base}.left", f"{link}.a")
    assembly, two = tie(assembly, "in line", f"{base}.right", f"{link}.b")
    assert as_far_as(assembly)[1] == ()
    other = edits.renewed(assembly, [bar("link", 21.0)])
    with pytest.raises(NotMet):
        solved(other)
    found, loosened = as_far_as(other)
    assert loosened == (two,)
    assert [r.id for r in found.assembly.relations if r.loose] == [two]
    at, _ = axis_of(found.assembly, link, "a")
    assert np.allclose(at[:2], 0.0, atol=1e-8)
    # Back to what it was, it is tightened by hand, and met.
    back = edits.change_relation(edits.renewed(found.assembly, [bar("link", 20.0)]), two, loose=False)
    assert not any(r.loose for r in solved(back).assembly.relations)


def test_what_was_found_before_is_taken_up_only_where_it_still_holds():
    """A gap written the same in another unit is another gap; hiding a part changes nothing that was found."""
    assembly, base = put(Assembly(), block("base", 40, 20, 10))
    assembly, top = put(assembly, block("top", 10, 20, 10), (0, 0, 30))
    assembly, _ = tie(assembly, "seated", f"{base}.z+", f"{top}.z-", "0.5")
    found = solved(assembly)
    hidden = edits.change_instance(found.assembly, top, hidden=True)
    same = still_met(found, hidden)
    assert same is not None and same.statement is found.statement and same.assembly.instance(top).hidden
    inch = msgspec.structs.replace(found.assembly, unit="in")
    moved = edits.change_instance(found.assembly, top, pose=Pose((1.0, 0.0, 30.0)))
    assert still_met(found, inch) is None and still_met(found, moved) is None
    assert solved(inch).assembly.instance(top).pose.place[2] == pytest.approx(10 + 12.7)
    assert solved(found.assembly).assembly.instance(top).pose.place[2] == pytest.approx(10.5)
    # Other parts in the same places are other parts.
    other = edits.renewed(found.assembly, [block("base", 40, 20, 14)])
    assert solved(other).assembly.instance(top).pose.place[2] == pytest.approx(12.5)
