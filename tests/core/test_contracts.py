"""What every step kind, gauge and message must be able to do, whatever it is."""

import csv
import io
import itertools
import subprocess
import sys
from importlib import resources
from typing import Literal, get_args, get_origin

import msgspec
import pytest

from lathed_solid.core.callout import Callout, Ledger
from lathed_solid.core.drafting.sheet.model import Cut, Label, Level, Sheet, SheetView
from lathed_solid.core.formulas import formula_fields, structs_in
from lathed_solid.core.issue.formats import FORMATS, format_of, issue
from lathed_solid.core.job import edits, sheeting, walk
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import Cell, Content, FamilyTable, Job, Member
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.plan.blank import Allowances, Blank
from lathed_solid.core.plan.zero import Mark, Zero
from lathed_solid.core.prove.measure import _WAYS, read
from lathed_solid.core.prove.plate import SurfacePlate, Unmeasurable
from lathed_solid.core.prove.tabular import in_style, row_of, to_csv
from lathed_solid.core.route import gauges
from lathed_solid.core.route.gauges import AnyGauge, Claim, Count, claim
from lathed_solid.core.route.kinds import RouteView
from lathed_solid.core.route.making import maker_of
from lathed_solid.core.route.model import EdgeRef, FaceRef, StepFailure
from lathed_solid.core.route.registry import KINDS, kind_of
from lathed_solid.core.route.workshop import Workshop
from lathed_solid.core.sketch.model import Dimension, Plane, Repeat, Sketch, Station
from lathed_solid.worker import protocol

ICONS = {p.name for p in (resources.files("lathed_solid.desk.theme") / "icons").iterdir()}
EMPTY = Ledger([])


@pytest.mark.parametrize("kind", KINDS.values(), ids=lambda k: k.title)
class TestEveryStepKind:
    def test_its_fields_are_those_of_its_struct(self, kind):
        fields = set(kind.struct.__struct_fields__)
        assert {p.field for p in kind.params} <= fields
        assert fields - {p.field for p in kind.params} <= {"id", "name", "suppressed", "body", "group", "file"}
        assert all(p.when.keys() <= fields for p in kind.params)

    def test_its_choices_are_what_the_struct_takes(self, kind):
        for param in kind.params:
            for value, words in param.choices:
                assert words
                made = kind.struct(id="s1", **{param.field: value})
                assert msgspec.json.decode(msgspec.json.encode(made), type=kind.struct) == made

    def test_all_the_struct_takes_is_offered_once(self, kind):
        taken = {f.name: get_args(f.type) for f in msgspec.structs.fields(kind.struct) if get_origin(f.type) is Literal}
        offered = {p.field: tuple(value for value, _ in p.choices) for p in kind.params if p.want == "choice"}
        assert {f: sorted(v) for f, v in offered.items()} == {f: sorted(v) for f, v in taken.items()}

    def test_it_has_an_icon_and_a_title(self, kind):
        assert f"{kind.icon}.svg" in ICONS
        assert kind.title

    def test_an_empty_one_fails_in_words_and_claims_nothing(self, kind):
        step = kind.struct(id="s1")
        with pytest.raises(StepFailure) as caught:
            maker_of(step).build(step, Workshop(EMPTY, {}))
        assert str(caught.value)[0].isupper()
        assert " " in str(caught.value)
        view = RouteView(EMPTY, {}, {"s1": step}, kind_of)
        assert kind.claims(step, view) == []
        assert isinstance(kind.summary(step, view), str)

    def test_it_survives_saving(self, kind):
        content = Content(routes=(msgspec.structs.replace(Content().routes[0], steps=(kind.struct(id="s1"),)),))
        assert msgspec.json.decode(msgspec.json.encode(Job(content=content)), type=Job).content == content


# --- formulas
def marked(struct, numbers, **fields):
    """A struct whose formulas all name a callout of their own."""
    return struct(**fields, **{f: f"#{next(numbers)}" for f in formula_fields(struct)})


def test_what_is_declared_a_formula_is_what_the_editor_shows_as_one():
    for kind in KINDS.values():
        shown = {p.field for p in kind.params if p.is_formula or p.formulas}
        assert set(formula_fields(kind.struct)) == shown, kind.title


def test_the_walk_finds_every_formula_of_a_job_and_changes_it():
    numbers = itertools.count(1)
    steps = tuple(marked(struct, numbers, id=f"s{k}") for k, struct in enumerate(KINDS))
    sketch = Sketch(
        id="k1",
        name="#999",
        plane=marked(Plane, numbers),
        dimensions=(marked(Dimension, numbers, id="d1", kind="distance", of=("p1", "p2")),),
        repeats=(marked(Repeat, numbers, id="q1", kind="row", of=("c1",)),),
        stations=(marked(Station, numbers, id="a"),),
    )
    note = Callout(number=1, note=f"#{next(numbers)}")
    member = Member(name="#998", cells=(marked(Cell, numbers, number=1),))
    blank = marked(Blank, numbers, allowances=marked(Allowances, numbers))
    zero = Zero(**{axis: marked(Mark, numbers) for axis in "xyz"})
    every = set(range(1, next(numbers)))
    content = Content(
        callouts=(note,),
        sketches=(sketch,),
        routes=(msgspec.structs.replace(Content().routes[0], steps=steps),),
        family=FamilyTable(columns=(1,), members=(member,)),
        blank=blank,
        zero=zero,
    )
    found = [text for _, text in walk.formulas(content)]
    assert {int(text[1:]) for text in found} == every and len(found) == len(every)
    changed = walk.rewritten(content, lambda text: f"{text}0")
    assert [text for _, text in walk.formulas(changed)] == [f"{text}0" for text in found]
    assert changed.sketches[0].name == "#999", "names are no formulas"
    assert walk.rewritten(content, lambda text: text) is content


def test_no_struct_of_a_job_holds_formulas_that_the_walk_does_not_reach():
    known = {Allowances, Blank, Mark, Callout, Cell, Plane, Dimension, Repeat, Station, Cut, Level}
    known |= set(filter(formula_fields, KINDS))
    seen, todo = set(), [Content]
    while todo:
        struct = todo.pop()
        if struct not in seen:
            seen.add(struct)
            todo += [s for f in msgspec.structs.fields(struct) for s in structs_in(f.type)]
    assert {s for s in seen if formula_fields(s)} == known


def test_a_section_that_goes_by_a_callout_follows_its_number():
    content, _ = edits.add_callout(edits.add_callout(Content(), "12")[0], "30")
    view = SheetView(id="v", cut=Cut(levels=(Level(at="#2/2"),)))
    content = sheeting.with_sheet(content, Sheet(id="d1", views=(view,), labels=(Label(number=2, view="v"),)))
    assert walk.where_used(content, 2) == ["the section on drawing sheet 1"]
    turned = edits.renumber_callouts(edits.move_callout(content, 2, 0))
    sheet = turned.sheets[0]
    assert sheet.views[0].cut.levels[0].at == "#1/2" and sheet.labels[0].number == 1


GAUGES = [
    g for g in vars(gauges).values() if isinstance(g, type) and issubclass(g, gauges.Gauge) and g is not gauges.Gauge
]


def made(gauge, name="s9/gone"):
    fields = {f: name for f in gauge.__struct_fields__ if f in ("face", "other")}
    if "way" in gauge.__struct_fields__:
        fields["way"] = "x"
    if gauge is gauges.Drawn:
        site = gauges.Site("edge", name)
        fields |= {"frame": f"{name}/frame", "what": "distance", "sites": (site, gauges.Site("centre", of=(site,)))}
    if gauge is gauges.LetterHeight:
        fields |= {"frame": f"{name}/frame", "up": (0.0, 1.0)}
    return gauge(**fields)


@pytest.mark.parametrize("gauge", GAUGES, ids=lambda g: g.__name__)
def test_every_gauge_has_a_reader_and_says_when_its_face_is_gone(gauge, arbor):
    from lathed_solid.core.route.rebuild import rebuild

    assert gauge in _WAYS
    assert msgspec.json.decode(msgspec.json.encode(made(gauge)), type=AnyGauge) == made(gauge)
    plate = SurfacePlate(rebuild(arbor.plan(), until="s1").body)
    if gauge is Count:
        assert read(plate, made(gauge)).values == (0.0,)
        return
    with pytest.raises(Unmeasurable):
        read(plate, made(gauge))


@pytest.mark.parametrize("gauge", GAUGES, ids=lambda g: g.__name__)
def test_every_gauge_follows_a_copy(gauge):
    moved = Claim(1, "", made(gauge, "s2/0/side"), ("s2/0/tip", "s1/a")).retagged([("s2/", "s5/1/s2/")])
    assert moved.gauge.face == "s5/1/s2/0/side"
    assert moved.explains == ("s5/1/s2/0/tip", "s1/a")


def test_a_number_is_no_claim():
    gauge = gauges.Diameter("s1/a")
    assert [c.number for c in claim(" #12 ", gauge)] == [12]
    assert claim("#12.seat_depth", gauge)[0].key == "seat_depth"
    assert claim("12", gauge) == claim("", gauge) == []


def test_a_formula_stands_for_each_callout_in_it():
    found = claim("#12.seat / 2 - #3", gauges.Diameter("s1/a"))
    assert [(c.number, c.key, c.formula) for c in found] == [
        (12, "seat", "#12.seat / 2 - #3"),
        (3, "", "#12.seat / 2 - #3"),
    ]


def test_a_copy_keeps_no_reading_of_faces_it_does_not_face():
    deep = claim("#1", gauges.Depth("s2/0/side", "s2/0/from"), or_else=(gauges.Depth("s2/0/side", "s1/end"),))[0]
    turned_over = deep.retagged([("s2/", "s5/m/s2/")], foreign=False)
    assert turned_over.gauge.other == "s5/m/s2/0/from" and turned_over.or_else == ()


def test_every_message_survives_the_pipe(arbor):
    report = protocol.StepReport("s1", "done", "", 0.1, 2.0)
    requests = [
        protocol.Build(1, arbor, "s2", {"s3": "fell"}),
        protocol.Export(2, arbor, "/x", "step"),
        protocol.Hatch(3, 1, (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    ]
    replies = [
        protocol.Started(1, "s1"),
        protocol.Ended(1, report),
        protocol.BuiltPart(1, (report,), b"xyz", (("a", "b"),), ("a",), (), (), 0.5),
        protocol.Proved(1, None),
        protocol.Exported(2, "/x"),
        protocol.Hatched(3, 1, b"abc"),
        protocol.Failed(4, "no"),
    ]
    for message in requests:
        assert protocol.decode_message(protocol.encode(message)) == message
    for message in replies:
        assert protocol.decode_reply(protocol.encode(message)) == message


def test_references_default_to_nothing():
    assert FaceRef("").was == ""
    assert EdgeRef("a", "b").was == ""
    assert Callout(number=1, note="22").origin == "drawing"


class TestEveryKindOnTheSketch:
    """What is chosen, drawn and solved by kind has a place for every kind there is."""

    def test_relations_have_their_record_and_their_rows(self):
        from lathed_solid.core.sketch.kinds import RELATIONS
        from lathed_solid.core.sketch.model import RelationKind
        from lathed_solid.core.sketch.solver.relations import ROWS

        assert set(get_args(RelationKind)) == set(RELATIONS) == set(ROWS)
        assert len({spec.sign for spec in RELATIONS.values()}) == len(RELATIONS), "each has a sign of its own"

    def test_dimensions_have_their_rows(self):
        from lathed_solid.core.sketch.model import DimensionKind
        from lathed_solid.core.sketch.solver.dimensions import DIMENSIONS

        assert set(get_args(DimensionKind)) == set(DIMENSIONS)


class TestEveryFormat:
    @pytest.mark.parametrize("form", FORMATS.values(), ids=lambda f: f.id)
    def test_it_is_found_by_its_endings_and_writes_a_whole_file(self, form, arbor, tmp_path):
        for ending in form.endings:
            assert format_of(tmp_path / f"part{ending.upper()}") is form
        out = tmp_path / f"part{form.endings[0]}"
        issue(arbor, out, form)
        assert out.stat().st_size > 1000
        assert [p.name for p in tmp_path.iterdir()] == [out.name], "nothing of the making is left behind"

    def test_an_unknown_ending_is_refused_in_words(self, tmp_path):
        with pytest.raises(CannotWrite, match=r"ending must be one of \.step"):
            format_of(tmp_path / "part.xyz")

    def test_a_link_laid_for_it_is_not_followed(self, arbor, tmp_path):
        victim = tmp_path / "victim"
        victim.write_text("mine")
        for name in (".out.step.part", ".out.step"):
            (tmp_path / name).symlink_to(victim)
        issue(arbor, tmp_path / "out.step", FORMATS["step"])
        assert victim.read_text() == "mine"


class TestTheProofTold:
    def test_a_note_that_a_spreadsheet_would_run_is_written_as_text(self, arbor):
        shown = build_and_prove(arbor)
        line = msgspec.structs.replace(shown.proof.lines[0], note="=HYPERLINK(1)", message="+1 too much")
        proof = msgspec.structs.replace(shown.proof, lines=(line,))
        row = list(csv.reader(io.StringIO(to_csv(proof))))[1]
        assert row[1] == "'=HYPERLINK(1)"
        assert row[-1] == "'+1 too much"
        assert float(row[9]) == pytest.approx(line.measured - line.nominal, abs=1e-6), "a deviation stays a number"

    def test_table_and_csv_say_the_same(self, arbor):
        proof = build_and_prove(arbor).proof
        cells = list(csv.reader(io.StringIO(to_csv(proof))))[1:]
        style = arbor.header.style
        for line, cell in zip(proof.lines, cells, strict=False):
            row = row_of(line, in_style(style))
            assert (str(row.number), row.note, row.what, row.mark) == (cell[0], cell[1], cell[2], cell[11])


def test_what_steps_say_needs_no_kernel():
    """The registry, and with it every struct, field, claim and summary, loads without the kernel."""
    code = "import sys, lathed_solid.core.route.registry; sys.exit('OCP' in sys.modules or 'scipy' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
