"""Callout notes: what they mean, and what is wrong with the wrong ones."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lathed_solid.core.callout import (
    Callout,
    Ledger,
    NoteError,
    asks,
    in_words,
    normal_note,
    odd,
    pretty,
    read_note,
)
from lathed_solid.core.quantity import Style
from lathed_solid.core.quantity.expression import Plain
from lathed_solid.core.standards.general import ByPlaces

from .notes import NOTES


def read(note, unit="mm"):
    return Ledger([Callout(number=1, note=note)], unit).reading(1)


def expected(size, unit, kind):
    """A fixture's figure in core units."""
    if kind == "angle":
        return math.radians(size)
    return size * 25.4 if unit == "in" and kind in ("length", "diameter", "radius", "thread", "geometric") else size


def test_there_are_enough_written_notes():
    assert len({n[0] for n in NOTES}) == len(NOTES) >= 120


@pytest.mark.parametrize(("note", "unit", "shape", "sizes", "more"), NOTES, ids=[n[0] for n in NOTES])
def test_written_notes(note, unit, shape, sizes, more):
    reading = read(note, unit)
    assert reading.shape == shape
    for key, size in sizes.items():
        found = reading.get(key)
        assert found is not None, key
        assert found.nominal == pytest.approx(expected(size, unit, found.kind)), key
    main = reading.main
    if "limits" in more:
        wanted = [expected(v, unit, main.kind) for v in more["limits"]]
        assert (main.lower, main.upper) == pytest.approx(wanted)
    if "of" in more:
        key, lower, upper = more["of"]
        assert (reading.get(key).lower, reading.get(key).upper) == pytest.approx((lower, upper))
    if "completed" in more:
        assert {c.key: c.nominal for c in reading.completed if c.key != "drill_depth"} == {
            k: pytest.approx(expected(v, unit, "angle" if k in ("tip", "seat_angle") else "length"))
            for k, v in more["completed"].items()
        }
    facts = {
        "fit": reading.fit, "seat": reading.seat, "flags": reading.flags, "basis": main.basis, "kind": main.kind,
        "hexagon": reading.hexagon, "hole": reading.is_hole, "written": main.written, "lower": main.lower,
        "thread": reading.thread.designation if reading.thread else "",
    }  # fmt: skip
    for name, value in more.items():
        if name in facts:
            assert facts[name] == value, name
    if "finish_um" in more:
        assert reading.get("finish").nominal == pytest.approx(more["finish_um"])


@pytest.mark.parametrize(("note", "unit"), [n[:2] for n in NOTES], ids=[n[0] for n in NOTES])
@pytest.mark.parametrize("rule", ["m", ByPlaces()], ids=["class", "places"])
def test_the_normalised_note_reads_as_the_same_callout(note, unit, rule):
    first = read_note(note, Plain(unit), rule)
    again = read_note(normal_note(first), Plain(unit), rule)
    assert again == first
    assert normal_note(again) == normal_note(first)


def number(draw, low=0.5, high=200.0):
    places = draw(st.integers(0, 3))
    return f"{draw(st.floats(low, high)):.{places}f}"


@st.composite
def hole_notes(draw):
    """Holes put together from parts, in a shuffled order where drawings leave the order free."""
    size = float(number(draw, 2, 30)) or 2.0
    parts = [f"Ø{size:g}" + draw(st.sampled_from(["", " H7", " ±0.05", " +0.1/-0.02"]))]
    parts.append(draw(st.sampled_from(["THRU", f"{number(draw, 5, 90)} deep", f"↧ {number(draw, 5, 90)} ±0.2"])))
    rest = [
        draw(st.sampled_from(["", f"cbore Ø{size + 4:g} x 3.5 deep", f"csk Ø{size + 4:g} x 90°", f"⌵ Ø{size + 2:g}"])),
        draw(st.sampled_from(["", f"on Ø{number(draw, 40, 200)}", f"{number(draw, 40, 200)} PCD"])),
        draw(st.sampled_from(["", "TYP", "EQ SP", "FAR SIDE"])),
        draw(st.sampled_from(["", "Ra 1.6", "position Ø0.1 A", "first at 15°"])),
    ]
    count = draw(st.sampled_from(["", "6x ", "4 PLCS "]))
    return count + " ".join(p for p in (*parts, *draw(st.permutations(rest))) if p)


@st.composite
def size_notes(draw):
    value = number(draw, 1, 200)
    value = value if float(value) > 0 else "1"
    shape = draw(
        st.sampled_from(["{}", "Ø{}", "R{}", "SR{}", "SØ{}", "□{}", "{} A/F", "({})", "[{}]", "{} x 45°", "{} wide"])
    )
    tail = (
        draw(st.sampled_from(["", " ±0.1", " +0.2/-0.1"]))
        if "(" not in shape and "[" not in shape and "x" not in shape
        else ""
    )
    return draw(st.sampled_from(["", "2x ", "3 HOLES "])) * ("(" not in shape) + shape.format(value) + tail


@settings(max_examples=150, deadline=None)
@given(st.one_of(hole_notes(), size_notes()), st.sampled_from(["mm", "in"]))
def test_put_together_notes_print_back_and_read_the_same(note, unit):
    note = note.replace(" H7", "") if unit == "in" else note  # the fits tables end at 500 mm
    first = read_note(note, Plain(unit), ByPlaces())
    assert read_note(normal_note(first), Plain(unit), ByPlaces()) == first


@settings(max_examples=200, deadline=None)
@given(st.text(alphabet="ØR°×x0123456789.,+-/()[]#M UNChdeptrucboskTG:'\"\n", max_size=30))
def test_any_text_is_read_or_refused_with_a_place(note):
    try:
        reading = read_note(note, Plain("mm"))
    except NoteError as error:
        assert error.message.endswith((".", "?"))
        assert 0 <= error.position <= len(note)
    else:
        assert reading.characteristics


WRONG = {
    "": (0, "Nothing is typed"),
    "hello": (0, "does not fit here"),
    "Ø": (1, "Expected a number"),
    "Ø20 g99": (4, "Grade 99"),
    "Ø4 cbore 3 dp 2": (9, "not wider"),
    "Ø-3": (0, "must be above zero"),
    "R0": (0, "must be above zero"),
    "M11": (0, "no coarse pitch"),
    "M6 ±0.1": (3, "takes a class"),
    "9 ±0.1 h6": (7, "already has limits"),
    "2x": (2, "missing at the end"),
    "Ø5 deep": (7, "missing at the end"),
    "22 14": (3, "side by side"),
    "4x Ø7 THRU at 12,8": (16, "One number or two"),
    "1 x 2": (0, "two legs"),
    "cbore Ø10 x 5": (13, "own size is missing"),
    "THRU": (4, "size is missing"),
    "1/4-28 UNC": (0, "20 threads per inch"),
    "M6 clearance Ø5": (14, "side by side"),
    "12.00/3.98": (0, "too far apart"),
    "Ø20 Q7": (4, "does not fit here"),
    "M3.7 clearance THRU": (0, "no screw M3.7"),
    "keyway 5 x 22.3 across 30 deep": (23, "already has its depth"),
    "G7/16": (0, "not in the table"),
    "csk for M7": (0, "no screw M7"),
    "Ø5 THRU csk Ø10 x Ø12": (8, "a diameter and an angle"),
    "M6 200% thread 5 deep": (0, "outside 40 to 100"),
}


@pytest.mark.parametrize("note", WRONG)
def test_wrong_notes_point_at_the_place(note):
    position, words = WRONG[note]
    with pytest.raises(NoteError) as caught:
        read(note)
    assert words in str(caught.value)
    assert caught.value.position == position


def test_callouts_refer_to_each_other_but_not_in_circles():
    ledger = Ledger(
        [
            Callout(number=1, note="46"),
            Callout(number=2, note="#1/2 ±0.05"),
            Callout(number=3, note="#4"),
            Callout(number=4, note="#3 + 1"),
            Callout(number=5, note="Ø5 12 deep"),
            Callout(number=6, note="#5.depth + 2"),
            Callout(number=7, note="#5.seat"),
        ]
    )
    assert ledger.reading(2).main.nominal == 23
    assert ledger.reading(6).main.nominal == 14
    assert "circle: #3 → #4 → #3" in str(ledger.error(3))
    assert "states no seat; it states depth" in str(ledger.error(7))


def test_words():
    words = in_words(read("6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98"), Style())
    assert words.startswith(
        "six through holes Ø5.5, each with a counterbore Ø10 wide, 5.4 deep from this face, on pitch circle Ø98"
    )
    assert pretty("6x dia 5.5 thru cbore 10 dp 5.4") == "6× Ø5.5 THRU cbore 10 ↧ 5.4"
    assert pretty("[98]") == "⟦98⟧" and pretty("(98)") == "(98)"
    assert pretty("Ø5 THRU ⌴Ø10 ↧5") == "Ø5 THRU cbore Ø10 ↧5"


def test_asks_for_what_is_missing():
    assert "how deep" in asks(read("Ø5.5 cbore Ø10 x 5"))[0]
    assert "How deep is the counterbore" in asks(read("Ø5.5 THRU cbore Ø10"))[0]
    assert "thread" in asks(read("M6 - 6H"))[0]
    assert "how many" in asks(read("Ø5 THRU EQ SP on 60 PCD"))[0]
    assert "keyway" in asks(read("keyway 5"))[0]
    assert not asks(read("6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98"))


def test_odd_combinations_are_flagged():
    style = Style()
    assert "larger than" in odd(read("M6 - 6H 14 deep drill Ø5.5 dp 24"), style)[0]
    assert "thread is 14 deep, the drill only 10" in odd(read("M6 14 deep drill Ø5 dp 10"), style)[0]
    assert "more than the part is long" in odd(read("Ø5 40 deep"), style, part_size=28)[0]
    assert "THRU and a depth" in odd(read("Ø5 THRU 40 deep"), style)[0]
    assert "If -0.05 is a tolerance, write 0/-0.05" in odd(read("Ø25.4 -0.05"), style)[0]
    assert "very wide" in odd(read("100 +20 -5"), style)[0]
    assert "as deep as the hole" in odd(read("Ø5 4 deep cbore Ø9 x 4"), style)[0]
    assert not odd(read("M6x1 - 6H 14 deep drill Ø5 dp 18"), style, part_size=156)


def test_limits_by_decimal_places():
    block = ByPlaces(two=0.01 * 25.4, three=0.005 * 25.4, fraction=25.4 / 64)
    for note, spread in ((".50", 0.01), (".500", 0.005), ("2 5/8", 1 / 64), (".5000", 0.0005)):
        main = read_note(note, Plain("in"), block).main
        assert (main.upper - main.nominal) / 25.4 == pytest.approx(spread), note
    assert read_note(".500 ±.001", Plain("in"), block).main.basis == "stated"
    assert "title block" in read_note(".500", Plain("in"), block).main.basis


#: Every word that a number may follow, in the ways it is written; ``{}`` is where the number goes.
BEFORE_A_NUMBER = [
    "Ø{}", "DIA{}", "DIA.{}", "DIA. {}", "dia {}", "diameter{}", "R{}", "SR{}", "SPHERE R{}", "SPHERE R.{}",
    "SPHERICAL RAD.{}", "SPHERICAL DIA.{}", "SQ{}", "SQ.{}", "square{}", "A/F{}", "HEX{}", "A/C{}", "C{}", "CHAM{}",
    "CHAM.{}", "DEPTH{}", "LONG{}", "LG.{}", "KEYWAY{}", "BREAK EDGES{}", "Ø9 DEEP{}", "Ø9 DP.{}", "Ø9 ↧{}",
    "Ø.2 THRU CBORE{}", "Ø.2 THRU CBORE DIA.{}", "Ø.2 THRU C'BORE.{}", "Ø.2 THRU CSK{}", "Ø.2 THRU SPOTFACE{}",
    "Ø.2 THRU SF.{}", "Ø.2 THRU ON{}", "Ø.2 THRU ON DIA.{}", "M6 DRILL{}", "Ø.2 THRU AT{}", "2 HOLES DIA.{} THRU",
    "2 PLCS. DIA{}", "TYP.{}", "REF.{}",
]  # fmt: skip


@given(st.sampled_from(BEFORE_A_NUMBER), st.integers(1, 999))
def test_a_leading_point_is_never_lost(words, thousandths):
    """``DIA.5`` is half an inch: the point belongs to the number, however close it stands to the word."""
    point = f".{thousandths:03}"
    note = words.format(point if not words.endswith(".{}") else f" {point}") if thousandths % 2 else words.format(point)
    try:
        reading = Ledger([], "in").try_note(note)
    except NoteError:
        return  # refused is not lost
    sizes = {round(c.nominal / 25.4, 6) for c in reading.characteristics if c.kind in ("length", "diameter", "radius")}
    assert thousandths / 1000 in sizes, note


def test_a_slight_taper_may_be_none_at_its_lower_limit():
    from lathed_solid.core.callout import in_words

    assert in_words(Ledger([]).try_note("1:100"), Style()).endswith("1:36.42 / none by ISO 2768-m as an angle")
