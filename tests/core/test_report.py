"""The inspection report: the same rows in every form, every balloon once, nothing cut or on top of something else."""

import csv
import io
import itertools
import json
import math
from html.parser import HTMLParser

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.caliper.logbook import LogEntry
from lathed_solid.core.drafting.columns import spread
from lathed_solid.core.issue.report.balloons import ROUND, SIZE, ballooned
from lathed_solid.core.issue.report.writing import Asked, built_report, pages, views_of, write_report, written
from lathed_solid.core.job import edits, reading
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import Content, StatedFigures
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.kernel.measure.triangles import triangles
from lathed_solid.core.route.rebuild import Cache

from .strangers import milled
from .strangers.bench import Bench


@pytest.fixture(scope="module")
def measured(flange):
    """The flange, some of it measured in hand."""
    content = flange
    for number, key, way, values in (
        (1, "", "outside", (118.02, 118.01, 118.03)), (6, "", "step", (28.35,)), (8, "", "inside", (20.01,)),
        (10, "seat_depth", "depth", (5.41,)),
    ):  # fmt: skip
        made = LogEntry(id="", when="2026-11-29T09:00:00", instrument="Digital caliper 150", way=way, values=values,
                        callout=number, key=key, piece="7")  # fmt: skip
        content = reading.log(content, made)
    weighed = LogEntry(
        id="", when="2026-11-29T09:30:00", instrument="Bench scale", way="weight", values=(331.9,), piece="7"
    )
    return reading.log(content, weighed)


ASKED = Asked("7", "2026-11-29")


@pytest.fixture(scope="module")
def cache():
    return Cache()


def test_the_rows_are_the_same_in_every_form(measured, cache):
    report, _, proof = built_report(measured, ASKED, cache)
    assert [(r.model.number, r.model.mark) for r in report.rows] == [(x.number, x.mark) for x in proof.lines]
    verdicts = {(r.model.number, r.model.what): r.verdict for r in report.rows if r.reading}
    assert verdicts == {
        (1, "diameter"): "good", (6, "length"): "bad", (8, "diameter"): "unsure", (10, "seat depth"): "good",
    }  # fmt: skip
    assert "4 measured, 2 within limits, 1 outside, 1 too near a limit to tell" in report.summary
    assert all(r.method for r in report.rows)
    assert any(label == "Weighed" and "from the solid" in text for label, text in report.mass)
    table = list(csv.DictReader(io.StringIO(written(measured, ".csv", ASKED, cache)[0].decode())))
    data = json.loads(written(measured, ".json", ASKED, cache)[0])
    sized = [row for row in table if row["balloon"] and row["mark"] != "not proved"]
    assert [(row["balloon"], row["size"], row["model"], row["part"]) for row in sized] == [
        (row["balloon"], row["size"], row["model"], row["part"]) for row in data["sizes"]
    ]
    assert len(sized) == len(report.rows)

    class Cells(HTMLParser):
        found: list[str] = []

        def handle_data(self, text):
            self.found.append(text)

    parser = Cells()
    parser.feed(written(measured, ".html", ASKED, cache)[0].decode())
    for row in report.rows:
        assert row.method in parser.found
        assert row.model.measured in parser.found


def test_every_balloon_points_at_a_face_of_its_callout_once(measured, cache):
    report, result, proof = built_report(measured, ASKED, cache)
    views = views_of(report, result)
    balloons = [b for v in views for b in v.balloons]
    assert sorted(b.number for b in balloons) == sorted({x.number for x in proof.lines if x.faces})
    for view in views:
        for a, b in itertools.combinations(view.balloons, 2):
            assert math.dist(a.middle, b.middle) >= ROUND, (view.title, a.number, b.number)
        for b in view.balloons:
            assert ROUND / 2 <= b.middle[0] <= SIZE[0] - ROUND / 2
            assert ROUND / 2 <= b.middle[1] <= SIZE[1] - ROUND / 2
            assert 0 <= b.at[0] <= SIZE[0]
            assert 0 <= b.at[1] <= SIZE[1]


def test_more_callouts_than_have_room_beside_one_picture_get_another():
    b = Bench("60", "40", "12")
    b.block("rect #1 x #2", depth="#3")
    body = build_and_prove(b.content).result.body
    views = ballooned(triangles(body.shape), {n: [1 + n % 6] for n in range(1, 131)}, False)
    assert sorted(x.number for v in views for x in v.balloons) == list(range(1, 131))
    for view in views:
        assert all(math.dist(a.middle, c.middle) >= ROUND for a, c in itertools.combinations(view.balloons, 2))


def boxes(page):
    """The words of a page with the boxes they take (left, bottom, right, top)."""
    text = page.get_textpage()
    return [(text.get_text_bounded(*(r := text.get_rect(k))).strip(), r) for k in range(text.count_rects())]


def test_the_paper_read_back(measured, cache):
    paper = pypdfium2.PdfDocument(written(measured, ".pdf", ASKED, cache)[0])
    assert len(paper) > 1
    numbers = []
    for at, page in enumerate(paper, 1):
        wide, high = page.get_size()
        found = boxes(page)
        assert any(words == f"page {at}" for words, _ in found)
        for words, (left, bottom, right, top) in found:
            assert 0 < left < right < wide, words
            assert 0 < bottom < top < high, words
        for (a, first), (b, second) in itertools.combinations(found, 2):
            across = min(first[2], second[2]) - max(first[0], second[0])
            up = min(first[3], second[3]) - max(first[1], second[1])
            assert across < 0.6 or up < 1.5, (at, a, b)
        head = next(r for words, r in found if words == "No.")
        numbers += [words for words, r in found if abs(r[0] - head[0]) < 2 and words.isdigit() and r[1] < head[1]]
    assert numbers == [str(n) for n in range(1, 16)], "each balloon begins its rows once, in order"
    whole = " ".join(p.get_textpage().get_text_range() for p in paper)
    for words in ("SKP-02 Drum end flange", "Ø20 H7 THRU", "too near a limit to tell", "Measured by", "ISO 14253-1"):
        assert words in " ".join(whole.split()), words
    assert "�" not in whole
    assert written(measured, ".pdf", ASKED, cache)[0] == written(measured, ".pdf", ASKED, cache)[0]
    assert len(pages(measured, ASKED, cache)) == len(paper)


def test_what_is_not_proved_is_listed_and_a_gap_is_told():
    b, _ = milled.bolt_ring_cover()
    content, _ = edits.add_callout(b.content, "Ra 1.6")
    content = edits.set_header(content, stated=StatedFigures(volume=99_999.0))
    report, _, _ = built_report(content, Asked())
    assert [(n.note, "judged on the part" in n.why) for n in report.not_proved] == [("Ra 1.6", True)]
    assert any("too much" in words or "too little" in words for words in report.gap)
    assert report.stated[0].mark == "out"


def test_an_inch_part_is_told_in_inches_on_its_own_paper():
    b, _ = milled.inch_clamp_bar()
    report, _, _ = built_report(b.content, Asked())
    assert report.rows[0].model.nominal == "4.5000"
    page = pypdfium2.PdfDocument(written(b.content, ".pdf", Asked())[0])[0]
    assert page.get_size() == (792, 612), "letter, lying"


def test_a_report_needs_a_whole_part_and_a_known_ending(tmp_path):
    with pytest.raises(CannotWrite, match="no solid"):
        write_report(Content(), tmp_path / "a.pdf", Asked())
    b = Bench("60", "40", "12")
    b.block("rect #1 x #2", depth="#3")
    with pytest.raises(CannotWrite, match="ends in"):
        write_report(b.content, tmp_path / "a.txt", Asked())
    assert list(tmp_path.iterdir()) == []
    assert write_report(b.content, tmp_path / "a.csv", Asked()).all_in


@given(st.lists(st.floats(-50, 400), max_size=12).map(sorted))
def test_labels_in_a_column_stand_apart_and_move_no_more_than_they_must(wanted):
    found = spread(wanted, 25, 12, 318)
    step = min(25, 306 / (len(wanted) - 1)) if len(wanted) > 1 else 25
    assert all(b - a >= step - 1e-9 for a, b in itertools.pairwise(found))
    assert all(12 - 1e-9 <= y <= 318 + 1e-9 for y in found)
    apart = all(b - a >= 25 for a, b in itertools.pairwise(wanted))
    if apart and all(12 <= y <= 318 for y in wanted):
        assert found == pytest.approx(wanted)
