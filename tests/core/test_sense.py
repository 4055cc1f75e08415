"""Shop sense: every rule finds what it is about, and holds its peace elsewhere."""

import pytest

from lathed_solid.core.job.sensing import sensed
from lathed_solid.core.plan.sense import RULES

from .strangers.bench import Bench
from .strangers.test_strangers import PARTS


def block(*more, size=("60", "40", "30")):
    bench = Bench(*size, *more)
    bench.block("rect #1 x #2", depth="#3")
    return bench


def deep():
    bench = block("Ø2.5 THRU")
    bench.hole("s1/end", diameter="#4", x="0", y="0")
    return bench


def engaged():
    bench = block()
    bench.hole("s1/end", diameter="4.2", thread="M5 - 6H", x="0", y="0")
    return bench


def tap_drill(drill="9.2"):
    bench = block(size=("60", "40", "15"))
    bench.hole("s1/end", diameter=drill, thread="M10 - 6H", x="0", y="0")
    return bench


def corner():
    bench = block()
    pocket = bench.sketch("rect 20 x 12", base="face", on="s1/end")
    bench.extrude(pocket, "8", mode="cut", direction="backward")
    return bench


def undercut(depth="6"):
    """A narrow slot that opens into a wide chamber, closed all round."""
    bench = block()
    bench.extrude(bench.sketch("rect 16 x 14", offset="8"), depth, mode="cut")
    bench.extrude(bench.sketch("slot 6 from -4,0 4,0", offset="8"), "22", mode="cut")
    return bench


def breaks_out(y="17.1"):
    bench = block(size=("60", "40", "10"))
    bench.hole("s1/end", diameter="5", thread="M6 - 6H", x="0", y=y)
    return bench


def eaten(leg="4"):
    bench = block(size=("60", "40", "20"))
    bench.hole("s1/end", diameter="8.5", thread="M10 - 6H", x="0", y="0")
    bench.chamfer(leg, ("s2/0/side", "s1/end"))
    return bench


BAD = {
    "deep": deep, "engaged": engaged, "tap drill": tap_drill, "corner": corner, "reach": undercut,
    "breaks out": breaks_out, "eaten": eaten,
}  # fmt: skip


@pytest.mark.parametrize("rule", BAD)
def test_a_part_that_a_shop_would_not_make_so(rule):
    bench = BAD[rule]()
    found = sensed(bench.content)
    mine = [f for f in found if f.rule == rule]
    assert mine and mine[0].words and mine[0].faces, [f.rule for f in found]
    assert {f.rule for f in found} <= {rule, "corner"}, "nothing else is said of it"


def test_every_rule_is_tried_and_names_its_source():
    assert set(BAD) == {rule.id for rule in RULES}
    assert all(rule.source and rule.says.endswith(".") for rule in RULES)


@pytest.mark.parametrize(
    "bench", [lambda: tap_drill("8.5"), lambda: breaks_out("10"), lambda: eaten("1"), lambda: undercut("22")]
)
def test_a_little_otherwise_it_is_right(bench):
    assert {f.rule for f in sensed(bench().content)} <= {"corner"}


@pytest.mark.parametrize(
    "name",
    [
        "inch_clamp_bar",
        "tee_slot",
        "dovetail_way",
        "housing",
        "pulley",
        "slotted_screw",
        "oiled_cone",
        "round_ended_link",
    ],
)
def test_right_parts_of_strangers_are_let_alone(name):
    """A T-slot and a dovetail are undercut, but reached from their ends; a letter's corners are cut by a point."""
    assert sensed(PARTS[name]()[0].content) == ()
