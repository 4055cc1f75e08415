"""Part families: the table, the variants it makes, and what is said of them."""

import pytest

from lathed_solid.core.job.family import CannotTell, Line, Variant, from_csv, key_of, member, read_table, to_csv
from lathed_solid.core.plan.shop import Shop


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "must begin with"),
        ("part,#1\n", "must begin with"),
        ("name,1\n", "names no callout"),
        ("name,#1.depth\n", "names no callout"),
        ("name,#1\n", "no rows"),
        ("name,#1\na,3\na,4\n", "Row 3: the name a stands in row 2"),
        ("name,#1\n../x,3\n", "Row 2.*no name"),
        ("name,#1\n.x,3\n", "Row 2.*no name"),
    ],
)
def test_a_table_that_is_none_is_refused_with_its_row(text, words):
    with pytest.raises(CannotTell, match=words):
        read_table(text)


def test_a_table_is_read_row_by_row():
    first, second = read_table("Name,#1,#12\nshort,20,\n\nlong,'-1,Ø14 h6\n")
    assert first == Variant("short", 2, {1: "20"})
    assert second == Variant("long", 4, {1: "-1", 12: "Ø14 h6"})


def test_a_size_takes_the_place_of_the_notes_own_and_keeps_its_limits(flange):
    made = member(flange, Variant("a", 2, {8: "18", 1: "116"}))
    notes = {c.number: c.note for c in made.callouts}
    assert notes[8] == "Ø18 H7 THRU", "the fit stays"
    assert notes[1] == "Ø116"
    assert made.header.number == "SKP-02-a"
    assert made.header.stated.mass is None, "what the drawing states is of the one part it shows"
    whole = member(flange, Variant("b", 3, {8: "Ø18 H8 THRU"}))
    assert {c.number: c.note for c in whole.callouts}[8] == "Ø18 H8 THRU"
    assert key_of(made, Shop()) != key_of(whole, Shop())
    assert key_of(made, Shop()) == key_of(member(flange, Variant("a", 9, {1: "116", 8: "18"})), Shop())


@pytest.mark.parametrize(
    ("cells", "words"),
    [({99: "3"}, "Row 7, #99: There is no callout"), ({8: "12 apples"}, "Row 7, #8: “apples”"),
     ({8: ""}, "Row 7, #8: Nothing is typed")],
)  # fmt: skip
def test_a_row_that_cannot_be_made_says_which(flange, cells, words):
    with pytest.raises(CannotTell, match=words):
        member(flange, Variant("x", 7, cells))


def test_what_came_of_variants_goes_out_and_comes_back():
    lines = (
        Line("a", "proved", "k1", 100.25, 7.5, 31, 1, 0, 0, ""),
        Line("=b", "failed", "k2", words="-1 deep: it does not fit."),
    )
    text = to_csv(lines)
    assert "'=b" in text
    assert from_csv(text) == {e.key: e for e in lines}
    assert from_csv("rubbish\n1,2\n") == {}
    assert from_csv(text.replace("100.25", "much")).keys() == {"k2"}
