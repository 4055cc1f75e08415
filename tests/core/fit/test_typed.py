"""Relations written as sentences: which faces are meant, and what is said when it may be others."""

from __future__ import annotations

import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.model import End
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.fit.typed import kind_said, read_relation, tied_as
from lathed_solid.core.refusal import Refusal

from .shop import bar, block, empty, part, put


@pytest.fixture(scope="module")
def bench():
    """Two alike links, a block, and a stepped pin in an inch assembly."""
    pin = part(
        "pin",
        {
            "body": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 2.0, "hollow": False, "area": 90.0}),
            "head": ("cylinder", (0, 0, 9), (0, 0, 1), {"radius": 4.7625, "hollow": False, "area": 50.0}),
            "bore": ("cylinder", (0, 0, 9), (0, 0, 1), {"radius": 2.0, "hollow": True, "area": 20.0}),
            "under": ("plane", (0, 0, 9), (0, 0, -1), {"area": 20.0}),
            "tip": ("cone", (0, 0, 0), (0, 0, 1), {"radius": 2.0, "half_angle": 0.5}),
        },
    )
    made, names = empty(), []
    for shot in (bar("link", 20.0), block("base", 30, 20, 10), pin):
        made, name = put(made, shot, (0, 0, 10 * len(names)))
        names.append(name)
    made, (twin,) = edits.insert(made, made.part_of(names[0]))
    return made, (*names, twin)


def test_faces_are_said_as_on_the_drawing(bench):
    made, (link, base, pin, twin) = bench
    said = {
        "in line link, 1 Ø4 hole with pin Ø4 shaft": ("in line", "", (link, "a"), (pin, "body")),
        "in line LINK, 2 ø4 bore,2 with pin ⌀9.53": ("in line", "", (twin, "b"), (pin, "head")),
        "seated 0.3 link, 1 top with pin Z 9": ("seated", "0.3", (link, "top"), (pin, "under")),
        "seated link, 1 -Z -2 – base +z 5": ("seated", "0", (link, "bottom"), (base, "z+")),
        "angle 30 base right with link, 2 back": ("angle", "30", (base, "x+"), (twin, "side")),
    }
    for text, wanted in said.items():
        kind, value, a, b = wanted
        assert read_relation(text, made)[:4] == (kind, value, End(*a), End(*b)), text
    assert [kind_said(t) for t in ("in line", "in lines", "Seated 0.2 a", "Ø20 H7")] == [
        "in line",
        None,
        "seated",
        None,
    ]
    # Without parts it is about what is picked.
    picks = (End(link, "a"), End(pin, "body"))
    assert read_relation("distance 10+2", made, picks)[:4] == ("distance", "10+2", *picks)


def test_a_sentence_is_met(bench):
    made, (_, _, pin, twin) = bench
    typed = read_relation("in line link, 2 Ø4 hole,2 with pin Ø4 shaft", made)
    tied, name = edits.relate(made, typed.kind, typed.a, typed.b, typed.value)
    found = solved(tied, name).assembly
    one, two = found.instance(twin).pose.place, found.instance(pin).pose.place
    assert (two[0] - one[0], two[1] - one[1]) == pytest.approx((20.0, 0.0), abs=1e-8)


def test_a_range_leaves_it_free_between_two_stops(bench):
    made, _ = bench
    typed = read_relation("distance 5 to 12 base top with pin Z 9", made)
    assert (typed.value, typed.low, typed.high, typed.words) == ("", "5", "12", "distance 5 to 12")
    tied, name = tied_as(made, typed)
    assert tied.relation(name).is_stop and solved(tied).statement.stops[0].high == pytest.approx(12.0)
    with pytest.raises(Refusal, match="cannot be limited"):
        solved(tied_as(made, read_relation("seated 5 to 12 base top with pin Z 9", made))[0])


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("in line link Ø4 hole with pin Ø4", "There are 2 of “link”: say “link, 1” or “link, 2”."),
        ("in line link, 1 Ø4 hole with pin Ø4", "“Ø4” may be one or another face of pin: say “hole” or “shaft” behind it."),
        ("in line link, 1 Ø7 with pin Ø4 shaft", "link, 1 has no face “Ø7”. Say a face as"),
        ("in line link, 1 Ø4,3 with pin cone", "link has 2 faces “Ø4”."),
        ("in line link, 1 Ø4 with bolt Ø4", "“bolt Ø4” begins with no part that is here. There are: link, 1, base"),
        ("in line link, 1 Ø4", "Say with what"),
        ("in line link, 1 with pin cone", "Say which face of link, 1."),
        ("in line", "Name two faces, as in “in line link, 1 Ø20 with base Ø20 hole”, or pick them."),
        ("in line bolt Ø4 with pin cone", "“bolt Ø4” names no part that is here."),
    ],
)  # fmt: skip
def test_what_may_be_another_face_is_refused_in_words(bench, text, words):
    with pytest.raises(Refusal) as refused:
        read_relation(text, bench[0])
    assert words in str(refused.value)


def test_inches_are_read_in_inches():
    made = empty(unit="in")
    for k, shot in enumerate((bar("link", 25.4), block("base", 50.8, 25.4, 12.7))):
        made, _ = put(made, shot, (0, 0, 20 * k))
    typed = read_relation("seated .010 base Z .25 with link bottom", made)
    assert (typed.value, typed.a.face, typed.b.face) == (".010", "z+", "bottom")
