"""What recognisers say becomes notes; which of them are sure, and why the others are not. No picture and no model."""

from __future__ import annotations

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.callout import Ledger
from lathed_solid.core.drawing.proposals import PICTURE
from lathed_solid.core.drawing.scan.doubting import BLURRED, BY_HAND
from lathed_solid.core.drawing.scan.judging import meaning, offers, unread
from lathed_solid.core.drawing.scan.model import Glyph, Run, Said, SheetText
from lathed_solid.core.drawing.scan.offering import looks_lettered_by_hand, proposed
from lathed_solid.core.drawing.scan.repairing import plain, repaired, with_signs
from lathed_solid.core.drawing.scan.scaling import agrees, scale_of

MM, IN = Ledger((), "mm"), Ledger((), "in")


def glyphs(signs: str) -> tuple[Glyph, ...]:
    """One glyph a character; a dot is one without a sign of its own."""
    return tuple(Glyph((k + 0.5) / len(signs), 0.6, 1.0, "" if c == "." else c) for k, c in enumerate(signs))


def run(text: str, at: tuple[float, float] = (100, 100), *, second: str = "", again: str | None = None, **more) -> Run:
    """A line at a place of an A3 sheet, mm, read alike by all unless said otherwise."""
    x, y = at
    box = (x, y, x + 2.2 * max(1, len(text)), y + 3.5)
    shapes = "".join("Ø" if c == "Ø" else "±" if c == "±" else "." for c in text if c != " ")
    fields = {
        "place": (box[0] / 420, box[1] / 297, box[2] / 420, box[3] / 297), "box": box, "turned": False, "height": 3.5,
        "plain": Said(text, 0.99), "as_is": Said(text if again is None else again, 0.99),
        "second": Said(second or text, 0.9), "glyphs": glyphs(shapes) if shapes else (),
    }  # fmt: skip
    return Run(**{**fields, **more})


FIGURE, POINT = Glyph(0.2, 0.4, 1.0, ""), Glyph(0.4, 0.1, 0.1, "", 0.05)


def sheet(*runs: Run, **more) -> SheetText:
    """Outside the frame stand points like those of the notes: a sheet draws its points alike."""
    runs = (*runs, run("1.5", (415, 290)), run("0.5", (415, 293), glyphs=(FIGURE, POINT, FIGURE)))
    return SheetText(**{"runs": runs, "size": (420.0, 297.0), "dots": 200.0, "inside": (11, 11, 409, 286), **more})


def only(*runs: Run, ledger: Ledger = MM, **more):
    """The one offer of a sheet."""
    (found,) = offers(sheet(*runs, **more), ledger)
    return found


@pytest.mark.parametrize(
    ("said", "shapes", "note"),
    [
        ("020 H7 THRU", "Ø..", "Ø20 H7 THRU"),  # the recogniser knows Ø as 0
        ("@118", "", "Ø118"),
        ("4x 06.6 THRU", "", "4x Ø6.6 THRU"),
        ("82 +0.1", "..±...", "82 ±0.1"),
        ("M1Ox1.5", "", "M10x1.5"),
        ("RI2", "", "R12"),
        ("Ø8 T 20", "", "Ø8 ↧ 20"),
        ("LI Ø11 ↧ 5.4", "", "⌴ Ø11 ↧ 5.4"),
        ("U Ø11 x 5.4", "", "⌴ Ø11 x 5.4"),
        ("√ Ø12 x 90°", "", "⌵ Ø12 x 90°"),
        ("— 2 x 45°", "", "2 x 45°"),  # a leader's shoulder
        ("12q6", "", "12 g6"),
        ("厂R1.2", "", "R1.2"),  # a bit of a line, read in another script
        ("M5.- 6H THRu", "", "M5- 6H THRU"),
        ("31..5", "", "31.5"),
        ("75。", "", "75°"),
        ("GI/2 27 DEEP", "", "G1/2 27 DEEP"),
        ("6 x 14 THRU", "", "6x Ø14 THRU"),
        ("□09.6 I 8.6", "", "⌴ Ø9.6 ↧ 8.6"),  # a square of a diameter there is not
        ("4x014I22", "..Ø..↧..", "4x Ø14↧22"),
        ("12°.±0.5°", "", "12°±0.5°"),
        ("4x 2 x.45°", "", "4 x 2 x 45°"),
    ],
)
def test_what_is_known_to_be_mixed_up_is_mended(said, shapes, note):
    made = glyphs(shapes) if len(shapes) == len(said.replace(" ", "")) else ()
    assert repaired(said, "mm", made) == note
    assert meaning(note, MM) is not None or note[0] in "⌴⌵", "a seat alone is the second line of a hole"


def test_in_inches_only_the_shape_tells_a_diameter_from_a_nought():
    assert repaired("0.375", "in") == "0.375"
    assert repaired("0.375", "in", glyphs("Ø....")) == "Ø.375"
    assert repaired("8 x 0.206 THRU EQ SP ON 3.250 B.C.", "in") == "8x Ø.206 THRU EQ SP ON 3.250 B.C."
    assert repaired("0.375 THRU", "in", glyphs(".........")) == "0.375 THRU"


@given(st.text(max_size=40), st.lists(st.sampled_from(["", "Ø", "±", "↧", "⌴", "⌵", "□"]), max_size=12))
def test_nothing_that_is_said_fells_the_mending(said, signs):
    shapes = tuple(Glyph(0.5, 0.6, 1.0, s) for s in signs)
    for unit in ("mm", "in"):
        note = repaired(said, unit, shapes)
        assert note == note.strip()
    assert isinstance(with_signs(plain(said), shapes), str)


@given(
    st.sampled_from(["Ø20 H7", "R1.6", "82 ±0.1", "4x Ø6.6 THRU", "M10x1.25 - 6H", "30°", "12.5 +0.2/-0.1", "(148)"])
)
def test_what_is_right_stays(note):
    assert repaired(note, "mm") == note


def test_all_readings_alike_are_sure():
    offer = only(run("Ø20 H7 THRU"))
    assert (offer.note, offer.sure, offer.doubts) == ("Ø20 H7 THRU", True, ())


@pytest.mark.parametrize(
    ("made", "why"),
    [
        (run("R12", second="R72"), "agree"),
        (run("82 +0.1"), "±"),  # reads as a sum; by its shapes it has no ±
        (run("Ø30 n6", glyphs=glyphs(".....")), "Ø or ±"),
        (run("Ø30 n6", loose=1), "ends"),
        (run("Ø30 n6", crossed=True), "line"),
        (run("7", under=1.0, span=30.0), "single"),
        (run("R12", again="R72"), "something else"),
    ],
)
def test_each_guard_speaks(made, why):
    offer = only(made)
    assert not offer.sure and any(why in d.words for d in offer.doubts), offer


def test_readings_that_differ_are_borne_out_by_the_sheets_own_lettering_or_by_the_drawn_length():
    assert not only(run("R1.2", second="REZ")).sure
    assert only(run("R1.2", second="REZ", borne_out=True)).sure
    chain = [run(str(n), (20, 40 + 20 * k), under=1.0, span=float(n)) for k, n in enumerate((25, 38, 60, 72))]
    doubtful = run("83", (20, 200), second="38", under=1.0, span=83.1)
    found = {o.note: o for o in offers(sheet(*chain, doubtful), MM)}
    assert found["83"].sure and all(o.sure for o in found.values())
    limits = run("83 +0.2/-0.1", (20, 200), second="83 +0.2/-0.7", under=1.0, span=83.1)
    assert not offers(sheet(*chain, limits), MM)[-1].sure, "no length bears out its limits"
    wide = run("Ø60 h6", (20, 200), under=1.0, span=80.0)
    assert "another" in offers(sheet(*chain, wide), MM)[-1].doubts[0].words, "diameters are measured too"
    swapped = msgspec.structs.replace(doubtful, second=Said("83", 0.9), span=38.0)
    found = {o.note: o for o in offers(sheet(*chain, swapped), MM)}
    assert "another" in found["83"].doubts[0].words, "all read 83, and 38 is drawn"


def test_a_sign_that_two_readings_lost_is_not_sure():
    """A small ring read as a full stop of another script: 75° is no 75."""
    assert not only(run("75", glyphs=glyphs("..."))).sure, "three pieces of ink, and two figures"
    assert not only(run("75", second="75°")).sure
    lost = run("R7", plain=Said("R7五2", 0.9), as_is=Said("R7五2", 0.9), second="R72")
    assert not any(o.sure for o in offers(sheet(lost), MM))


def test_a_neighbour_may_be_the_other_half():
    left, right = run("12", (100, 100)), run("±0.1", (100 + 2.2 * 2 + 3, 100))
    assert not any(o.sure for o in offers(sheet(left, right), MM))
    assert only(run("12", (100, 100)), run("1", (300, 100))).sure, "what stands far off is none"


def test_lines_of_one_note_are_joined_and_others_are_not():
    hole, seat = run("4x Ø6.6 THRU", (100, 100)), run("⌴ Ø11 ↧ 6.5", (100, 105.6))
    joined = only(hole, msgspec.structs.replace(seat, glyphs=glyphs("⌴Ø..↧...")))
    assert joined.note.replace("⌴ ", "⌴") == "4x Ø6.6 THRU\n⌴Ø11 ↧ 6.5" and joined.sure
    own = run("Ø13.5 h9", (100, 105.6), again="— Ø13.5 h9", plain=Said("— Ø13.5 h9", 0.9))
    assert [o.note for o in offers(sheet(hole, own), MM)] == ["4x Ø6.6 THRU", "Ø13.5 h9"], "it has a leader of its own"
    below = offers(sheet(hole, run("Ø13.5 h9", (100, 105.6))), MM)
    assert len(below) == 2 and not any(o.sure for o in below), (
        "what reads as nothing together stays two, and is looked at"
    )


def test_nothing_is_offered_from_the_title_block_or_outside_the_frame():
    title = run("1.4301", (300, 250))
    assert offers(sheet(title), MM) and not offers(sheet(title, tables=((290, 245, 400, 260),)), MM)
    assert not offers(sheet(run("12", (5, 100))), MM)


def test_a_bare_figure_is_a_size_only_over_a_dimension_line():
    assert not offers(sheet(run("5")), MM) and not offers(sheet(run("1", under=1.0)), MM)
    assert only(run("5", under=1.0)).note == "5"


def test_nothing_bare_is_sure_on_a_blurred_sheet_and_nothing_at_all_on_one_lettered_by_hand():
    assert only(run("90")).sure and not only(run("90"), blur=BLURRED + 0.1).sure
    by_hand = sheet(run("Ø20 H7"), unlike=BY_HAND + 0.1)
    assert looks_lettered_by_hand(by_hand) and not offers(by_hand, MM)[0].sure


def test_what_lines_cross_is_offered_whole_and_never_sure():
    half = run("Ø43.0", (100, 100))
    whole = run("Ø43.0 g6", (100, 100), found="net")
    (offer,) = offers(sheet(half, whole), MM)
    assert offer.note == "Ø43.0 g6" and not offer.sure


def test_proposals_come_with_the_doubtful_ones_first_and_what_reads_as_nothing_is_no_size():
    found = proposed(sheet(run("R12"), run("82 +0.1", (200, 60)), run("M5x..6", (50, 200))), 1, MM)
    assert [(p.note, p.sure, p.is_size) for p in found] == [
        ("M5x..6", False, False), ("82 +0.1", False, True), ("R12", True, True),
    ]  # fmt: skip
    assert all(p.source == PICTURE and any(p.box) for p in found)


def test_the_scale_is_what_most_numbers_agree_on():
    pairs = [(25.0, 50.0), (38.1, 76.2), (60.2, 120.0), (31.0, 10.0), (44.0, 400.0)]
    scale = scale_of(pairs)
    assert scale == pytest.approx(2.0, abs=0.02)
    assert agrees(25.0, 50.0, scale) is True and agrees(31.0, 10.0, scale) is False
    assert agrees(0.0, 50.0, scale) is None and scale_of(pairs[:2]) == 0.0


def test_a_second_look_that_agrees_stands_for_the_first():
    assert not only(run("R65", second="ROS")).sure
    assert only(run("R65", second="ROS", look=Said("R65", 0.9))).sure
    assert not only(run("R65", second="ROS", look=Said("R85", 0.9))).sure


@pytest.mark.parametrize(
    ("shapes", "sure"),
    [("Ø.....", True), ("Ø...Ø.", True), ("Ø.Ø...", False), ("......", False), ("Ø....Ø", False)],
)
def test_a_sign_seen_in_a_letter_is_no_doubt_and_one_lost_or_seen_in_a_figure_is(shapes, sure):
    """A g looks like a Ø; a Ø never stands as a g, but as a 6 or an 8 it does."""
    assert only(run("Ø108 g6", glyphs=glyphs(shapes))).sure is sure


@pytest.mark.parametrize(
    ("at", "up", "sure"),
    [("behind", 0.1, True), ("behind", 0.75, False), ("before", 0.1, False), ("amid", 0.1, False)],
)
def test_a_speck_is_no_doubt_only_where_no_point_and_no_degree_can_stand(at, up, sure):
    speck, figure = Glyph(0.5, 0.1, 0.1, "", up), Glyph(0.5, 0.6, 1.0, "")
    ink = {"behind": (figure, figure, speck), "before": (speck, figure, figure), "amid": (figure, speck, figure)}[at]
    assert only(run("24", glyphs=ink)).sure is sure


def test_a_seat_read_as_nothing_is_never_taken_for_a_note_of_its_own():
    hole = run("5x Ø12 THRU", (100, 100), led=True)
    for seat in ("Lø22.2I4.6", "I Ø9.6.18.6", "Ø22.2 ↧ 4.6"):
        found = offers(sheet(hole, run(seat, (100, 105), span=40.0, under=1.0)), MM)
        assert not any(o.sure for o in found if o.note == "5x Ø12 THRU"), seat
    scrap = run("", (100, 103), second="", again="")
    lower = run("⌴ Ø22.2 ↧ 4.6", (100, 105), glyphs=glyphs("⌴Ø...↧..."))
    assert [o.note for o in offers(sheet(scrap, hole, lower), MM)] == ["5x Ø12 THRU\n⌴Ø22.2 ↧ 4.6"]


@pytest.mark.parametrize(
    ("note", "ledger", "sure"),
    [("0.250 ↧ .75", IN, False), ("0.250", IN, False), ("2x 0.250 THRU", IN, False), (".250", IN, True),
     ("0.25", MM, True), ("8.5 ↧ 12", MM, False)],
)  # fmt: skip
def test_a_nought_before_an_inchs_point_may_be_a_diameters_sign(note, ledger, sure):
    """No hole is so deep without its Ø either, in any unit."""
    assert [o.sure for o in offers(sheet(run(note)), ledger)] == [sure]


def test_a_nought_in_one_reading_may_be_a_diameters_sign():
    assert not only(run(".827 REF", again="0.827 REF"), ledger=IN).sure
    assert only(run(".827 REF"), ledger=IN).sure
    assert not only(run("27 REF", second="b27 REF")).sure, "no dimension line, and one reading has a sign"
    assert only(run("27 REF", second="b27 REF", span=27.0)).sure


def test_a_drawn_length_tells_no_nought_from_a_diameters_sign():
    known = [run(f"{n}.000", (20 * n, 150), span=25.4 * n) for n in (1, 2, 3, 4)]
    found = offers(sheet(*known, run("0.250", span=6.35), run(".250", (100, 120), span=6.35)), IN)
    assert {o.note: o.sure for o in found} == {**{f"{n}.000": True for n in (1, 2, 3, 4)}, "0.250": False, ".250": True}


def test_a_nine_is_not_taken_for_a_diameters_sign_by_its_shape():
    assert not only(run("95 THRU", glyphs=glyphs("Ø" + "." * 5))).sure
    assert only(run("05 THRU", glyphs=glyphs("Ø" + "." * 5))).note == "Ø5 THRU"


@pytest.mark.parametrize("last", ["Ø0°", "Ø90°", "90°"])
def test_an_angle_has_no_diameters_sign(last):
    """All recognisers saw a 9, whose shape was taken for a Ø."""
    seat = run(
        f"⌵Ø16.8 x {last}",
        (100, 105),
        glyphs=glyphs("⌵Ø....." + ("Ø" if last[0] == "Ø" else ".") * 1 + "." * (len(last) - 1)),
    )
    (found,) = offers(sheet(run("12x Ø9 THRU", led=True), seat), MM)
    assert found.sure is (last == "90°")


@pytest.mark.parametrize("note", ["2:1", "1/1"])
def test_a_views_scale_and_a_sheets_count_are_no_size(note):
    assert offers(sheet(run(note)), MM) == ()


@pytest.mark.parametrize(
    ("dot", "counts", "sure"),
    [((0.1, 0.1, 0.05), 3, True), ((0.22, 0.1, 0.05), 3, False), ((0.1, 0.22, 0.05), 3, False),
     ((0.1, 0.1, 0.3), 3, False), ((0.1, 0.1, 0.05), 2, False)],
)  # fmt: skip
def test_a_point_that_is_not_drawn_like_the_sheets_others_may_be_a_speck(dot, counts, sure):
    """``dot``: width, height and place; nor is it sure where figures touch, and nobody knows which ink is the point."""
    wide, high, up = dot
    figures = (
        Glyph(0.1, 0.5, 1.0, ""),
        Glyph(0.3, 0.4, 1.0, ""),
        Glyph(0.6, wide, high, "", up),
        Glyph(0.9, 0.4, 1.0, ""),
    )
    own = run("R7.5", glyphs=figures if counts == 3 else figures[:3])
    assert only(own).sure is sure
    again = offers(
        sheet(own, msgspec.structs.replace(own, box=(100, 130, 108.8, 133.5), place=(0.2, 0.4, 0.3, 0.5))), MM
    )
    assert [o.sure for o in again] == [counts == 3] * 2, "two alike are the sheet's own"


@pytest.mark.parametrize(
    ("note", "apart", "sure"), [("1.5", 0.5, True), ("1.5", 0.2, False), ("15", 0.2, True), ("15", 0.6, False)]
)
def test_a_point_takes_the_room_of_a_point_or_is_a_speck(note, apart, sure):
    """``apart`` between the figures, in heights: a point that noise has put between two figures moves neither."""
    long, figures = 5.0, [Glyph(1.0 / 5, 0.4, 1.0, ""), Glyph((1.4 + apart) / 5, 0.4, 1.0, "")]
    if "." in note:
        figures.insert(1, Glyph((1.2 + apart / 2) / 5, 0.1, 0.1, "", 0.05))
    box = (100.0, 100.0, 100.0 + 3.5 * long, 103.5)
    assert only(run("R" + note, box=box, glyphs=(Glyph(0.05, 0.5, 1.0, ""), *figures))).sure is sure


@pytest.mark.parametrize(
    ("note", "ledger", "sure"), [("CHAM .05 x .10", IN, True), ("R.5", MM, False), ("R0.5", MM, True)]
)
def test_no_number_of_millimetres_begins_with_its_point(note, ledger, sure):
    assert only(run(note), ledger=ledger).sure is sure


def test_a_seat_by_its_shape_is_the_second_line_whatever_stands_beside_it():
    hole = run("2x Ø9 THRU", (100, 100), led=True)
    seat = run("Ø16.8 ↧ 4.6", (100, 105), led=True, glyphs=glyphs("⌴Ø....↧..."))
    assert [o.note.splitlines()[0] for o in offers(sheet(hole, seat), MM)] == ["2x Ø9 THRU"]


def test_a_nought_for_a_diameter_is_never_sure_on_the_word_of_a_drawn_length():
    others = [run(str(v), (20.0, 20.0 * k), span=25.4 * v, under=1.0) for k, v in enumerate((1.25, 2.5, 3.75), 2)]
    found = offers(sheet(run("0.709", second="Ø.709", span=18.0, under=1.0, borne_out=True), *others), IN)
    assert [o.sure for o in found if o.note == "0.709"] == [False]
    assert all(o.sure for o in found if o.note != "0.709")


@pytest.mark.parametrize(
    ("note", "shapes", "second", "sure"),
    [
        ("5x Ø13,5137", "", "5 x 13,5 I 37", False),  # a depth between two numbers
        ("Ø13.5137", "Ø.......", "", False),
        ("Ø8.17", "Ø....", "", True),
    ],
)
def test_a_depth_read_as_a_one_is_never_sure(note, shapes, second, sure):
    more = {"glyphs": glyphs(shapes)} if shapes else {}
    assert only(run(note, second=second, **more)).sure is sure


def test_what_speaks_of_the_sheet_is_not_put_up_for_review():
    text = sheet(run("scale 1 to 1"), run("DETAIL C 2:1", (100, 120)), run("12 zz 45", (100, 140)))
    assert [o.note for o in unread(text, MM, offers(text, MM))] == ["12 zz 45"]


@pytest.mark.parametrize(
    "note", ["M12x1.5 x 22 deep2 HOLES Ø4.2 THRU EQ SP ON Ø42", "4x Ø5 THRU 2x M6 - 6H THRU", "R0.5 MAX R3"]
)
def test_two_notes_in_a_row_are_never_one_that_is_sure(note):
    assert not any(o.sure for o in offers(sheet(run(note)), MM))


@pytest.mark.parametrize(
    "note",
    [
        "6x Ø18 THRU on Ø66 first at 30°",
        "Ø6.6 THRU cbore Ø12.5 x 4.6 deep",
        "4x 2 x 45°",
        "M16x1.5 - 6H 29 deep",
        "12° ±0.5°",
    ],
)
def test_a_long_note_is_still_one(note):
    assert only(run(note)).sure


@pytest.mark.parametrize(
    ("note", "sure"),
    [("G1/2 47 DEEP", True), ("G1/2.47 DEEP", False), ("M8 x 24 deep", True), ("M8.24 deep", False), ("M2.5 - 6H THRU", True),
     ("M12x1.5 - 6H 40 deep", True), ("15.00/14.98", True)],
)  # fmt: skip
def test_a_point_in_place_of_a_blank_is_never_sure(note, sure):
    found = [o.sure for o in offers(sheet(run(note)), MM)]
    assert found == [True] if sure else True not in found
