"""The part in hand: what readings show of limits, and what they leave open."""

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.caliper import logbook
from lathed_solid.core.caliper.logbook import LogEntry
from lathed_solid.core.prove.inhand import MASS, judged, newest, pieces


def entry(*values, way="outside", error=0.02, resolution=0.01, **fields):
    fields.setdefault("when", "2026-11-29T10:00:00")
    return LogEntry(id=fields.pop("id", "r1"), instrument="Digital caliper 150", way=way, values=values, error=error,
                    resolution=resolution, **fields)  # fmt: skip


@pytest.mark.parametrize(
    ("value", "verdict"),
    [
        (20.0, "good"), (20.06, "good"), (20.09, "unsure"), (20.10, "unsure"), (20.11, "unsure"), (20.2, "bad"),
        (19.94, "good"), (19.9, "unsure"), (19.8, "bad"),
    ],
)  # fmt: skip
def test_only_what_lies_inside_with_all_its_uncertainty_is_good(value, verdict):
    """A single reading: u² = 0.01² + 0.01²/12 + 0.02²/3 (GUM), U = 1.96 u = 0.0305."""
    found = judged(entry(value), "length", 19.9, 20.1)
    assert found.sure == pytest.approx(1.96 * (0.01**2 + 0.01**2 / 12 + 0.02**2 / 3) ** 0.5)
    assert found.verdict == verdict


def test_a_fine_fit_is_not_told_by_calipers():
    found = judged(entry(20.01, way="inside"), "diameter", 20.0, 20.021)
    assert found.verdict == "unsure"
    assert "take a finer one" in found.words
    fine = judged(
        entry(20.01, 20.0101, 20.0099, way="inside", error=0.002, resolution=0.0001), "diameter", 20.0, 20.021
    )
    assert fine.verdict == "good", "a bore gauge does"


def test_inside_jaws_may_read_small_and_outside_jaws_large():
    inside, outside = (judged(entry(4.0, way=w), "diameter", 3.0, 5.0) for w in ("inside", "outside"))
    assert inside.high - inside.mean > inside.mean - inside.low, "the flats of the jaws"
    assert outside.mean - outside.low > outside.high - outside.mean, "tilt"


@pytest.mark.parametrize(("kind", "words"), [("angle", "protractor"), ("thread", "GO and NOT GO"), ("count", "by eye")])
def test_what_calipers_say_nothing_of_is_not_judged(kind, words):
    found = judged(entry(5.0), kind, 4.9, 5.1)
    assert found.verdict == "none"
    assert words in found.words


def test_the_newest_readings_of_a_piece_count():
    book = (
        entry(1.0, id="r1", callout=3, when="2026-11-29T10:00:00", piece="7"),
        entry(2.0, id="r2", callout=3, when="2026-11-29T11:00:00", piece="7"),
        entry(3.0, id="r3", callout=3, when="2026-11-29T12:00:00", piece="8"),
        entry(4.0, id="r4", callout=3, key="depth", when="2026-11-29T13:00:00", piece="7"),
        entry(330.1, id="r5", way="weight", when="2026-11-29T13:00:00", piece="7"),
    )
    assert {size: e.id for size, e in newest(book, "7").items()} == {(3, ""): "r2", (3, "depth"): "r4", MASS: "r5"}
    assert {size: e.id for size, e in newest(reversed(book), "8").items()} == {(3, ""): "r3"}
    assert newest(book, "9") == {}
    assert pieces(book) == ["7", "8"]
    again = logbook.from_csv(logbook.to_csv(book), set())
    assert [msgspec.structs.replace(e, id="") for e in again] == [msgspec.structs.replace(e, id="") for e in book]


@given(
    st.lists(st.floats(1, 200), min_size=1, max_size=5),
    st.floats(1, 200),
    st.floats(0.001, 5),
    st.sampled_from(["outside", "inside", "depth", "step"]),
)
def test_a_verdict_never_says_more_than_the_reading(values, nominal, half, way):
    lower, upper = nominal - half, nominal + half
    found = judged(entry(*values, way=way), "length", lower, upper)
    assert found.low <= found.mean <= found.high
    assert (found.verdict == "good") == (lower - 1e-6 <= found.low and found.high <= upper + 1e-6)
    assert (found.verdict == "bad") == (found.high < lower - 1e-6 or found.low > upper + 1e-6)
