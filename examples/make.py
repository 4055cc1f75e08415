"""Writes the example jobs of the tide recorder, through the same edits the window makes.

Run from the project root: ``python examples/make.py``. All data is made up.
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal

import msgspec
from draw_base_plate import base_plate, with_routes
from draw_bracket import bracket
from draw_clamp import clamp
from draw_drum import drum
from draw_foot import foot as foot_route
from pictured import preview, together
from put_together import chart_drum
from scripted import with_callouts

from lathed_solid.core.caliper.instrument import CALIPER
from lathed_solid.core.caliper.logbook import LogEntry
from lathed_solid.core.caliper.nominal import suggest
from lathed_solid.core.caliper.practice import LEVELLING_FOOT
from lathed_solid.core.caliper.protocol import Read, parse_line
from lathed_solid.core.caliper.simulated import SimulatedInstrument
from lathed_solid.core.caliper.statistics import summarise
from lathed_solid.core.callout import Place
from lathed_solid.core.drawing.cutout import cut_out
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.proposals import proposals
from lathed_solid.core.issue.assemblies import write as write_assembly
from lathed_solid.core.issue.drawing.propose import proposed as laid_out
from lathed_solid.core.issue.drawing.writing import write_sheets
from lathed_solid.core.job import edits, reading, sheeting
from lathed_solid.core.job.assembling.files import load_assembly, save_assembly
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content, Header, Job, StatedFigures
from lathed_solid.core.job.operating import built_of, faces_of, set_sheet
from lathed_solid.core.job.planning import set_blank
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.job.storage import load, save
from lathed_solid.core.job.surveying import surveyed
from lathed_solid.core.plan.blank import Form, worked_out
from lathed_solid.core.plan.choosing import chosen
from lathed_solid.core.plan.finished import finished
from lathed_solid.core.plan.first_step import stock_fields
from lathed_solid.core.plan.sheet.finding import operations
from lathed_solid.core.plan.sheet.model import OperationSheet
from lathed_solid.core.plan.sheet.order import complete, proposed
from lathed_solid.core.plan.shop import Shop, stock_lists
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.sketch.model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Circle,
    Dimension,
    Line,
    Plane,
    Point,
    Relation,
    Station,
)
from lathed_solid.core.standards.materials import material

FOLDER = Path(__file__).parent
REMARKS = "Made-up demo data: rebuilding a float-driven tide recorder, Skerry Point Harbour Museum (invented)."


def turned(content: Content, name: str, stations: list[Station]) -> Content:
    content, sketch = edits.add_sketch(content, "Turned profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, name=name, sketch=sketch)
    return set_stations(content, sketch, tuple(stations))


def arbor() -> Job:
    """SKP-01: chart-drum arbor."""
    content = Content(
        header=Header(
            name="Chart-drum arbor",
            number="SKP-01",
            revision="B",
            material=material("Free-cutting steel"),
            stated=StatedFigures(volume=39_774.28, mass=312.23, tolerance=1e-4),
            remarks=REMARKS,
        )
    )
    content = with_callouts(
        content,
        [
            ("Ø12 h6", "journal"),
            ("22", "to relief"),
            ("1 x 45°", "left end"),
            ("Ø11.2", "relief groove"),
            ("24", "relief end"),
            ("Ø20", "drum seat"),
            ("92", "to collar"),
            ("R1", "at collar"),
            ("Ø34", "collar"),
            ("100", "collar face"),
            ("2x 0.5 x 45°", "collar edges"),
            ("Ø18", "taper, large end"),
            ("Ø14", "taper, small end"),
            ("140", "taper end"),
            ("Ø10", "thread blank"),
            ("156", "overall"),
            ("1 x 45°", "right end"),
            ("M10x1.5 - 6g 14 long", "right end"),
            ("M6x1 - 6H 14 deep drill Ø5 dp 18 csk Ø6.6 x 90°", "left end"),
            ("Ø4 THRU at 70", "cross hole"),
            ("1.5", "flat, depth"),
            ("30", "flat, from"),
            ("50", "flat, to"),
            ("90°", "flat to cross hole"),
        ],
    )
    content = turned(
        content,
        "Turn profile",
        [
            Station(id="a", to="#2", diameter="#1", left="#3"),
            Station(id="b", to="#5", diameter="#4"),
            Station(id="c", to="#7", diameter="#6", right="#8"),
            Station(id="d", to="#10", diameter="#9", left="#11", right="#11"),
            Station(id="e", to="#14", diameter="#12", diameter2="#13"),
            Station(id="f", to="#16", diameter="#15", right="#17", thread="#18"),
        ],
    )
    zero = FaceRef("s1/start/side", "left end, Z 0")
    content, _ = edits.with_step(
        content,
        Hole,
        name="Tapped hole",
        face=zero,
        placement="axis",
        thread="#19",
        thread_depth="#19.depth",
        diameter="#19.drill",
        extent="depth",
        depth="#19.drill_depth",
        seat="countersink",
        seat_diameter="#19.seat",
        seat_angle="#19.seat_angle",
    )
    content, _ = edits.with_step(
        content,
        Hole,
        name="Cross hole",
        face=FaceRef("s1/c.od/side", "round face Ø20, on the axis"),
        placement="radial",
        along="#20.at",
        datum=zero,
        diameter="#20",
        extent="through",
    )
    content, sketch = edits.add_sketch(content, "Flat", Plane("side", angle="#24", datum="s1/start/side"))
    content = edits.set_sketch(content, flat_sketch(content, sketch))
    content, _ = edits.with_step(content, Extrude, name="Flat", sketch=sketch)
    return Job(content=planned(settle(content).content, "round", "36", "z", quantity="2")[0])


def box(x0: float, y0: float, x1: float, y1: float) -> tuple[list[Point | Line], list[Relation]]:
    """Four lines ``floor``, ``right``, ``top``, ``left`` with their level and upright relations."""
    corners = [Point("p1", x0, y0), Point("p2", x1, y0), Point("p3", x1, y1), Point("p4", x0, y1)]
    lines = [
        Line("floor", "p1", "p2"),
        Line("right", "p2", "p3"),
        Line("top", "p3", "p4"),
        Line("left", "p4", "p1"),
    ]
    relations = [
        Relation("h1", "horizontal", ("floor",)),
        Relation("v1", "vertical", ("right",)),
        Relation("h2", "horizontal", ("top",)),
        Relation("v2", "vertical", ("left",)),
    ]
    return [*corners, *lines], relations


def flat_sketch(content: Content, id_: str):  # type: ignore[no-untyped-def]
    """A flat milled into the Ø20: its depth is from the round face, its ends from zero."""
    entities, relations = box(30, 8.5, 50, 12)
    surface = [Point("q1", 24, 10), Point("q2", 92, 10), Line("surface", "q1", "q2", True, "s1/c.od/side")]
    relations += [
        Relation("h3", "horizontal", ("surface",)),
        Relation("e1", "on", ("q1", "left")),
        Relation("e2", "on", ("q2", "right")),
    ]
    dimensions = [
        Dimension(id="blank", kind="diameter", of=("surface",), text="#6"),
        Dimension(id="depth", kind="distance", of=("surface", "floor"), text="#21", sense=-1),
        Dimension(id="from", kind="along", of=(ORIGIN, "left"), text="#22"),
        Dimension(id="to", kind="along", of=(ORIGIN, "right"), text="#23"),
        Dimension(id="clear", kind="distance", of=("surface", "top"), text="2"),
    ]
    sketch = content.sketch(id_)
    return msgspec.structs.replace(
        sketch, entities=(*entities, *surface), relations=tuple(relations), dimensions=tuple(dimensions)
    )


def flange() -> Job:
    """SKP-02: drum end flange."""
    content = Content(
        header=Header(
            name="Drum end flange",
            number="SKP-02",
            revision="A",
            material=material("Aluminium"),
            stated=StatedFigures(volume=123_163.11, mass=332.54, tolerance=1e-4),
            remarks=REMARKS,
        )
    )
    content = with_callouts(
        content,
        [
            ("Ø118", "rim"),
            ("9", "rim, back face"),
            ("Ø108", "spigot"),
            ("13", "spigot face"),
            ("Ø42", "hub"),
            ("28", "overall"),
            ("R2", "hub foot"),
            ("Ø20 H7 THRU", "bore"),
            ("2x 0.8 x 45°", "bore ends"),
            ("6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98 first at 0°", "screws"),
            ("6x Ø18 THRU on Ø66 first at 30°", "lightening holes"),
            ("M5 - 6H THRU drill Ø4.2 at 21", "set screw, one wall"),
            ("180°", "set screw from keyway"),
            ("5", "keyway, width"),
            ("22.3", "keyway floor to far side of bore"),
        ],
    )
    content = turned(
        content,
        "Turn profile",
        [
            Station(id="a", to="#2", diameter="#1"),
            Station(id="b", to="#4", diameter="#3"),
            Station(id="c", to="#6", diameter="#5"),
        ],
    )
    zero = FaceRef("s1/start/side", "left end, Z 0")
    content, bore = edits.with_step(
        content, Hole, name="Bore", face=zero, placement="axis", diameter="#8", extent="through"
    )
    wall = f"{bore}/0/side"
    ends = (EdgeRef("s1/start/side", wall, "bore edge at Z 0"), EdgeRef("s1/c.end/side", wall, "bore edge at Z 28"))
    content, _ = edits.with_step(content, Chamfer, name="Bore ends", edges=ends, size="#9", angle="#9.angle")
    foot = (EdgeRef("s1/c.od/side", "s1/b.end/side", "hub foot, Ø42"),)
    content, _ = edits.with_step(content, Fillet, name="Hub foot", edges=foot, radius="#7")
    content, screws = edits.with_step(
        content,
        Hole,
        name="Screw hole",
        face=zero,
        placement="circle",
        circle="#10.circle",
        angle="#10.angle",
        diameter="#10",
        extent="through",
        seat="counterbore",
        seat_diameter="#10.seat",
        seat_depth="#10.seat_depth",
    )
    content, _ = edits.with_step(content, Ring, name="Screw holes", of=(screws,), count="#10.count")
    content, light = edits.with_step(
        content,
        Hole,
        name="Lightening hole",
        face=zero,
        placement="circle",
        circle="#11.circle",
        angle="#11.angle",
        diameter="#11",
        extent="through",
    )
    content, _ = edits.with_step(content, Ring, name="Lightening holes", of=(light,), count="#11.count")
    content, _ = edits.with_step(
        content,
        Hole,
        name="Set screw",
        face=FaceRef("s1/c.od/side", "round face Ø42, on the axis"),
        placement="radial",
        along="#12.at",
        datum=zero,
        angle="#13",
        thread="#12",
        diameter="#12.drill",
        extent="wall",
    )
    content, sketch = edits.add_sketch(content, "Keyway", Plane("end"))
    content = edits.set_sketch(content, keyway_sketch(content, sketch, wall))
    content, _ = edits.with_step(content, Extrude, name="Keyway", sketch=sketch)
    return Job(content=planned(settle(content).content, "round", "120", "z", quantity="2")[0])


def keyway_sketch(content: Content, id_: str, bore: str):  # type: ignore[no-untyped-def]
    """A keyway whose depth is one dimension: from its floor across the bore to the far side."""
    entities, relations = box(0, -2.5, 12.3, 2.5)
    circle = [Point("c", 0, 0), Circle("bore", "c", 10, True, bore)]
    relations += [
        Relation("center", "coincident", ("c", ORIGIN)),
        Relation("start", "on", ("p1", ACROSS)),
        Relation("even", "symmetric", ("p2", "p3", ALONG)),
    ]
    dimensions = [
        Dimension(id="bore.d", kind="diameter", of=("bore",), text="#8"),
        Dimension(id="width", kind="distance", of=("floor", "top"), text="#14"),
        Dimension(id="depth", kind="distance", of=("right", "bore"), text="#15", far=True),
    ]
    sketch = content.sketch(id_)
    return msgspec.structs.replace(
        sketch, entities=(*entities, *circle), relations=tuple(relations), dimensions=tuple(dimensions)
    )


def under_the_glass(job: Job, store: Store) -> Job:
    """SKP-02 with its drawing: every callout's balloon stands at its number."""
    data = (FOLDER / "skp-02.pdf").read_bytes()
    paper, content = open_paper(data, "skp-02.pdf"), job.content
    content, id_ = reading.add_drawing(content, "skp-02.pdf", paper.kind, store.put(data), paper.sheets)
    content = reading.set_scale(content, id_, 1, 25.4 / 72)  # drawn one to one
    places = {" ".join(p.note.split()): p for p in proposals(paper, 1, content.ledger())}
    for callout in content.callouts:
        at = places[callout.note]
        cutout = store.put(cut_out(paper, 1, at.x, at.y))
        content = reading.place_callout(content, callout.number, Place(id_, 1, at.x, at.y, cutout))
    return msgspec.structs.replace(job, content=content)


def foot() -> Job:
    """SKP-05: levelling foot, no drawing; every size read by simulated caliper, then built."""
    header = Header(
        name="Levelling foot",
        number="SKP-05",
        material=material("Brass, free-cutting"),
        remarks=f"{REMARKS} Measured.",
    )
    content, caliper = Content(header=header), SimulatedInstrument(seed=5)
    for minute, (feature, way, what, size, pitch) in enumerate(LEVELLING_FOOT):
        caliper.size = size
        lines = [parse_line(caliper.line()) for _ in range(5)]
        values = tuple(line.value for line in lines if isinstance(line, Read))
        summary = summarise(values, CALIPER, way)
        best = suggest(summary, way, what, "mm", pitch)[0]
        source = f"{len(summary.kept)} readings, mean {summary.mean:.3f} ± {summary.U:.3f}, {way}"
        content, number = edits.add_callout(content, best.note, feature, "calipers", None, source)
        entry = LogEntry(
            id="", when=f"2026-11-23T10:{minute:02d}:00", instrument="Simulated caliper", way=way,
            values=values, operator="A.T.", feature=feature, conclusion=best.note, callout=number,
        )  # fmt: skip
        content = reading.log(content, entry)
    caliper.unplug()
    return Job(content=foot_route(content))


def plate() -> Job:
    """SKP-03: recorder base plate."""
    header = Header(
        name="Recorder base plate",
        number="SKP-03",
        revision="A",
        units="in",
        decimals=4,
        material=material("Aluminium"),
        stated=StatedFigures(volume=19.7770 * 25.4**3, mass=875.03, tolerance=1e-4),
        remarks=REMARKS,
    )
    content, blank = planned(base_plate(Content(header=header)), "flat", "3/4 x 5", "x", quantity="4")
    return Job(content=with_routes(content, blank))


def planned(
    content: Content, form: Form, size: str, along: Literal["x", "y", "z"], store: Store | None = None, **fields: str
) -> tuple[Content, dict[str, Any]]:
    """The part with its blank chosen, and that blank as a first step."""
    content = set_blank(content, form=form, size=size, along=along, **fields)
    solid, ledger = surveyed(content, store=store), content.ledger()
    assert solid is not None
    part = finished(content.planned, ledger, solid, content.turned)
    lists = stock_lists(Shop(), content.header.units)
    way = chosen(part, worked_out(content.planned, ledger), lists, (form, size, along))
    return content, stock_fields(way, part, content.planned, content.header.units)


def sheeted(content: Content, store: Store | None = None, **notes: str) -> Content:
    """The part with its operation sheet as proposed, in the job's own hand; a note for set-ups by their ids."""
    shown = build_and_prove(content, store=store)
    assert shown.result.body is not None
    built = built_of(content, faces_of(shown.result.body), shown.result.marks, shown.result.reports, shown.proof)
    own = complete(proposed(operations(built), built), built)
    setups = tuple(msgspec.structs.replace(s, note=notes.get(s.id, "")) for s in own.setups)
    return set_sheet(content, OperationSheet(setups=setups))


def made_up(number: str, name: str, of: str, build: Callable[[Content], Content]) -> Job:
    """A part whose sizes are the project's own; its figures are stated as first built and proved."""
    header = Header(name=name, number=number, material=material(of), remarks=REMARKS)
    content = build(Content(header=header))
    mass = build_and_prove(content).proof
    assert mass is not None
    stated = StatedFigures(volume=round(mass.mass.volume, 2), mass=round(mass.grams, 2), tolerance=1e-4)
    return Job(content=edits.set_header(content, stated=stated))


def planned_plate() -> Job:
    """SKP-03 with a sheet for each of its routes."""
    job = plate()
    content = job.content
    for at in range(len(content.routes)):
        content = sheeted(
            edits.take_route(content, at), u1="all six sides, in turn", u2="stop on the left, on parallels"
        )
    return msgspec.structs.replace(job, content=edits.take_route(content, 0))


def with_sheet(job: Job, store: Store | None = None, **notes: str) -> Job:
    return msgspec.structs.replace(job, content=sheeted(job.content, store, **notes))


def drawn(job: Job, store: Store | None = None) -> Job:
    """The job with a drawing sheet, laid out by itself."""
    return msgspec.structs.replace(
        job, content=sheeting.with_sheet(job.content, laid_out(job.content, "d1", store=store)[0])
    )


def keep(job: Job, path: Path, store: Store | None = None) -> None:
    """Save a job with its picture."""
    save(job, path, store, preview(job.content, store))


def write(folder: Path) -> None:
    """All example jobs into ``folder``."""
    with tempfile.TemporaryDirectory() as scratch:
        store = Store(Path(scratch))
        keep(drawn(with_sheet(arbor(), u2="soft jaws on the Ø20; centre in the M6 end")), folder / "skp-01.lathed")
        glass = with_sheet(under_the_glass(flange(), store), store, u2="soft jaws on the hub, shim the bore")
        keep(drawn(glass, store), folder / "skp-02.lathed", store)
        keep(drawn(planned_plate()), folder / "skp-03.lathed")
        keep(made_up("SKP-04", "Pen-arm clamp", "Brass, free-cutting", clamp), folder / "skp-04.lathed")
        keep(foot(), folder / "skp-05.lathed")
        keep(made_up("SKP-06", "Float-line drum", "Aluminium", drum), folder / "skp-06.lathed")
        angle = made_up("SKP-07", "Chart-arm bracket", "Aluminium", bracket)
        cut_from = planned(angle.content, "plate", "50", "z")[0]
        angle = with_sheet(msgspec.structs.replace(angle, content=cut_from), u3="tilting vise, 60° from level")
        keep(drawn(angle), folder / "skp-07.lathed")
        drum_of_charts = chart_drum(folder, store)
        save_assembly(drum_of_charts, folder / "skp-00.lathed", store, preview=together(drum_of_charts, store))


def write_drawings(folder: Path) -> None:
    """The sheets of the examples that have some, and of the assembly, as PDF and DXF into ``folder``."""
    folder.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as scratch:
        store = Store(Path(scratch))
        assembly = load_assembly(FOLDER / "skp-00.lathed", store).assembly
        for ending in ("pdf", "dxf"):
            write_assembly(assembly, folder / f"skp-00.{ending}", store)
    for name in ("skp-01", "skp-02", "skp-03", "skp-07"):
        with tempfile.TemporaryDirectory() as scratch:
            store = Store(Path(scratch))
            job = load(FOLDER / f"{name}.lathed", store).job
            for ending in ("pdf", "dxf"):
                write_sheets(job.content, folder / f"{name}.{ending}", store=store)


if __name__ == "__main__":
    write(FOLDER)
    write_drawings(FOLDER / "sheets")
