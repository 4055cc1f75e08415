"""The command line, and its files read back by the bare kernel."""

import json
import os
import struct
import subprocess
import sys

import msgspec
import pytest
from click.testing import CliRunner

from lathed_solid.cli import main
from lathed_solid.core.drawing.dxf import DxfPaper
from lathed_solid.core.fit import edits as fit_edits
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.assembling.files import load_assembly, save_assembly
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Job
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.gauges import Diameter

from .conftest import EXAMPLES


def run(*arguments):
    return CliRunner().invoke(main, [str(a) for a in arguments])


@pytest.mark.parametrize(("name", "volume"), [("skp-01", 39_774.28), ("skp-02", 123_163.11)])
def test_shipped_examples_are_proved(name, volume):
    result = run("prove", EXAMPLES / f"{name}.lathed", "--json")
    assert result.exit_code == 0, result.output
    proof = json.loads(result.output)
    assert proof["all_in"]
    assert {line["mark"] for line in proof["lines"]} <= {"in", "near"}
    assert proof["mass"]["volume"] == pytest.approx(volume, rel=1e-4)


def without_solids(assembly):
    def rounded(value):
        if isinstance(value, float):
            return round(value, 5) + 0.0
        if isinstance(value, dict):
            return {k: rounded(v) for k, v in value.items() if k not in ("shape", "stamp")}
        return [rounded(v) for v in value] if isinstance(value, list | tuple) else value

    return rounded(msgspec.to_builtins(assembly))


def test_shipped_examples_are_what_the_scripts_write(tmp_path):
    import draw_flange
    import make

    make.write(tmp_path)
    ours, shipped = (
        load_assembly(folder / "skp-00.lathed", Store(tmp_path / "store")) for folder in (tmp_path, EXAMPLES)
    )
    # Solids are stored with triangles that may come in another order: their figures are compared.
    assert without_solids(ours.assembly) == without_solids(shipped.assembly)
    for name in ("skp-01", "skp-02", "skp-03", "skp-05"):
        again, shipped = (storage.load(f / f"{name}.lathed").job for f in (tmp_path, EXAMPLES))
        assert again == shipped, name
    # The order of a DXF's tables is the library's own business; what it shows must be the same.
    drawn, shipped = (DxfPaper(d, "") for d in (draw_flange.as_dxf(), (EXAMPLES / "skp-02.dxf").read_bytes()))
    assert (drawn.lines, drawn.texts) == (shipped.lines, shipped.texts)
    assert draw_flange.as_pdf() == (EXAMPLES / "skp-02.pdf").read_bytes()


@pytest.mark.parametrize(
    ("arguments", "words"),
    [(("6x dia 5.5 thru cbore 10 dp 5.4",), "six through holes Ø5.5, each with a counterbore Ø10 wide, 5.4 deep"),
     (("10-24 UNC-2B .38 deep", "--units", "in"), "#25 drill, 75 % thread"), (("M6 - 6H 14 deep drill Ø5.5 dp 12",), "! The")],
)  # fmt: skip
def test_a_note_is_read_without_a_window(arguments, words):
    result = run("note", *arguments)
    assert result.exit_code == 0
    assert words in result.output


def test_a_note_as_json_and_a_wrong_one_with_its_place():
    told = json.loads(run("note", "M6 14 deep", "--json").output)
    assert told["thread"] == "M6x1"
    assert {c["key"]: c["nominal"] for c in told["completed"]}["drill"] == 5.0
    wrong = run("note", "Ø20 H7 z")
    assert wrong.exit_code == 3
    assert "       ^" in wrong.output
    assert "does not fit here" in wrong.output
    assert json.loads(run("note", "Ø20 H7 z", "--json").output)["position"] == 7


def test_out_of_limits_is_exit_code_1(arbor, tmp_path):
    slip = edits.bind(edits.change_step(arbor, "s3", diameter="8"), Binding(20, "", Diameter("s3/0/side")))
    storage.save(Job(content=slip), tmp_path / "a.lathed")
    result = run("prove", tmp_path / "a.lathed")
    assert result.exit_code == 1
    assert "✗  20" in result.output
    assert "a radius typed as a diameter?" in result.output
    failing = edits.change_step(arbor, "s3", diameter="0")
    storage.save(Job(content=failing), tmp_path / "b.lathed")
    result = run("prove", tmp_path / "b.lathed")
    assert result.exit_code == 1
    assert "step “Cross hole” failed: Diameter must be above zero" in result.output


@pytest.mark.parametrize("name", ["skp-01", "skp-02", "skp-03"])
def test_step_files_hold_one_valid_solid_of_the_same_volume(name, tmp_path):
    assert run("build", EXAMPLES / f"{name}.lathed", "-o", tmp_path / "a.step").exit_code == 0
    text = (tmp_path / "a.step").read_text("latin-1")
    assert "AP242" in text
    assert name.upper() in text
    assert "COLOUR_RGB" in text
    assert ".MILLI.,.METRE." in text

    from OCP.BRepCheck import BRepCheck_Analyzer
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps
    from OCP.IFSelect import IFSelect_ReturnStatus
    from OCP.STEPControl import STEPControl_Reader
    from OCP.TopAbs import TopAbs_ShapeEnum
    from OCP.TopExp import TopExp_Explorer

    reader = STEPControl_Reader()
    assert reader.ReadFile(str(tmp_path / "a.step")) == IFSelect_ReturnStatus.IFSelect_RetDone
    reader.TransferRoots()
    shape = reader.OneShape()
    walk, solids = TopExp_Explorer(shape, TopAbs_ShapeEnum.TopAbs_SOLID), 0
    while walk.More():
        solids += 1
        walk.Next()
    assert solids == 1
    assert BRepCheck_Analyzer(shape).IsValid()
    mass = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, mass, 1e-7)
    stated = storage.load(EXAMPLES / f"{name}.lathed").job.content.header.stated.volume
    assert mass.Mass() == pytest.approx(stated, rel=1e-6)


def test_another_route_is_built_by_its_name_and_compared(arbor, tmp_path):
    two = edits.copy_route(arbor)
    storage.save(Job(content=edits.take_route(two, 0)), tmp_path / "alike.lathed")
    alike = run("routes", tmp_path / "alike.lathed")
    assert alike.exit_code == 0, alike.output
    assert "All routes make the same part" in alike.output
    slip = edits.set_header(edits.take_route(edits.change_step(two, "s3", diameter="8"), 0), shown="in")
    storage.save(Job(content=slip), tmp_path / "a.lathed")
    told = run("routes", tmp_path / "a.lathed")
    assert told.exit_code == 1
    assert "Route B has" in told.output
    assert "in³ less material than route A" in told.output
    assert "Callout 20 is in limits on route A, open on route B." in told.output
    table = run("prove", tmp_path / "a.lathed", "--route", "A").output
    assert "0.2362 in" in table
    assert "in³" in table
    first, second = tmp_path / "1.step", tmp_path / "2.step"
    for path, route in ((first, "a"), (second, "b")):
        assert run("build", tmp_path / "a.lathed", "-o", path, "--route", route).exit_code == 0
    assert first.read_text("latin-1") != second.read_text("latin-1")
    wrong = run("prove", tmp_path / "a.lathed", "--route", "C")
    assert wrong.exit_code == 3
    assert "There is no route C. The part has A, B." in wrong.output


def test_until_stops_at_the_step(tmp_path):
    assert run("build", EXAMPLES / "skp-01.lathed", "-o", tmp_path / "a.stl", "--until", "10").exit_code == 0
    data = (tmp_path / "a.stl").read_bytes()
    (count,) = struct.unpack_from("<I", data, 80)
    volume = 0.0
    for i in range(count):
        v = struct.unpack_from("<12f", data, 84 + 50 * i)[3:]
        a, b, c = v[0:3], v[3:6], v[6:9]
        cross = (b[1] * c[2] - b[2] * c[1], b[2] * c[0] - b[0] * c[2], b[0] * c[1] - b[1] * c[0])
        volume += sum(x * y for x, y in zip(a, cross, strict=True)) / 6
    assert volume == pytest.approx(40_607.26, rel=2e-3)
    result = run("build", EXAMPLES / "skp-01.lathed", "-o", tmp_path / "b.stl", "--until", "75")
    assert result.exit_code == 3
    assert "There is no step 75. The route has steps 10 to 50." in result.output


def test_csv_and_wrong_files(tmp_path):
    assert run("build", EXAMPLES / "skp-02.lathed", "-o", tmp_path / "proof.csv").exit_code == 0
    assert "22.3" in (tmp_path / "proof.csv").read_text()
    for arguments, words in (
        (("prove", tmp_path / "none.lathed"), "could not be read"),
        (("prove", __file__), "not a Lathed Solid job"),
        (("build", EXAMPLES / "skp-01.lathed", "-o", tmp_path / "a.xyz"), "the ending must be one of"),
        (("build", EXAMPLES / "skp-01.lathed", "-o", tmp_path / "no" / "a.step"), "could not be written"),
    ):
        result = run(*arguments)
        assert result.exit_code == 3, result.output
        assert words in result.output
        assert "Traceback" not in result.output


def test_a_file_cut_in_half_is_proved_as_far_as_it_goes(tmp_path):
    data = (EXAMPLES / "skp-01.lathed").read_bytes()
    (tmp_path / "half.lathed").write_bytes(data[: len(data) // 2])
    result = run("prove", tmp_path / "half.lathed")
    assert "lost:" in result.output
    assert "Traceback" not in result.output


def test_without_a_screen_the_window_says_so(monkeypatch):
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.setenv("QT_QPA_PLATFORM", "xcb")
    result = run("demo")
    assert result.exit_code == 2
    assert "There is no screen here" in result.output


def as_program(*args, **env):
    command = [sys.executable, "-m", "lathed_solid.cli", *map(str, args)]
    return subprocess.run(command, capture_output=True, text=True, check=False, env={**os.environ, **env})


def test_a_fall_of_the_kernel_is_told_with_its_own_exit_code(tmp_path):
    job = EXAMPLES / "skp-01.lathed"
    assert as_program("prove", job).returncode == 0
    fallen = as_program("prove", job, LATHED_SOLID_FAULT="command=crash")
    assert fallen.returncode == 4
    assert "the kernel fell (SIGKILL)" in fallen.stderr
    assert "Traceback" not in fallen.stderr
    assert as_program("prove").returncode == 2
    assert as_program("prove", tmp_path / "none.lathed").returncode == 3


def test_a_command_that_never_ends_is_ended():
    code = "import time; from lathed_solid.worker.aside import carried_out; print(carried_out(lambda: time.sleep(60), 0.5))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=20)
    assert "did not come to an end" in done.stdout


def test_the_operation_sheet_is_written(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    result = run("traveller", EXAMPLES / "skp-03.lathed", "-o", tmp_path / "sheet.csv", "--route", "cut", "--carbide")
    assert result.exit_code == 0, result.output
    text = (tmp_path / "sheet.csv").read_text()
    assert "mill outline" in text and "tap 6x 10-24 UNC-2B" in text and "stop on the left" in text
    wrong = run("traveller", EXAMPLES / "skp-03.lathed", "-o", tmp_path / "sheet.doc")
    assert wrong.exit_code == 3 and ".pdf or .csv" in wrong.output


def test_reports_are_written_of_one_file_and_of_several(tmp_path):
    one = run("prove", EXAMPLES / "skp-07.lathed", "--report", tmp_path / "a.json", "--piece", "9")
    assert one.exit_code == 0 and json.loads((tmp_path / "a.json").read_text())["title"]["Piece"] == "9"
    bad = tmp_path / "bad.lathed"
    bad.write_bytes(b"no job")
    found = run("prove", EXAMPLES / "skp-01.lathed", bad, EXAMPLES / "skp-07.lathed", "--report", tmp_path / "out")
    assert found.exit_code == 3, "the worst of them"
    assert "3 files: 2 proved, 0 out of limits or failed, 1 not to be proved." in found.output
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == ["skp-01-inspection.pdf", "skp-07-inspection.pdf"]
    assert run("prove", EXAMPLES / "skp-01.lathed", bad, "--report", tmp_path / "b.pdf").exit_code == 2
    wrong = run("prove", EXAMPLES / "skp-07.lathed", "--report", tmp_path / "b.txt")
    assert wrong.exit_code == 3 and "ends in" in wrong.output


def test_a_figure_that_does_not_agree_is_explained(tmp_path):
    agrees = run("why", EXAMPLES / "skp-07.lathed")
    assert agrees.exit_code == 0 and "agree within the rounding" in agrees.output
    content = storage.load(EXAMPLES / "skp-07.lathed").job.content
    wrong = tmp_path / "wrong.lathed"
    storage.save(Job(content=edits.edit_callout(content, 5, "12")), wrong)
    told = run("why", wrong)
    assert told.exit_code == 1, told.output
    first = told.output.splitlines()[1]
    assert "Callout 5, 12 as 6" in first and "46 787.17 mm³" in first
    found = json.loads(run("why", wrong, "--json").output)
    assert found["suspects"][0]["closes"] and found["missing"] == pytest.approx(-1716.41, abs=0.01)


def test_a_family_is_built_by_its_table(tmp_path):
    table, out = tmp_path / "t.csv", tmp_path / "out"
    table.write_text("name,#1\nsmall,116\nlarge,120\n")
    job = EXAMPLES / "skp-02.lathed"
    made = as_program("family", job, "--table", table, "-o", out)
    assert made.returncode == 0, made.stderr
    assert "2 of 2 proved" in made.stdout
    assert (out / "family.csv").read_text().count("proved") == 2
    assert "as before" in as_program("family", job, "--table", table, "-o", out).stdout
    table.write_text("name,#1\nsmall,20\n")
    assert as_program("family", job, "--table", table, "-o", out).returncode == 1
    table.write_text("nothing")
    assert as_program("family", job, "--table", table, "-o", out).returncode == 3


def test_an_assembly_is_judged_without_a_window(tmp_path):
    result = run("fit", EXAMPLES / "skp-00.lathed", "--json")
    assert result.exit_code == 0, result.output
    told = json.loads(result.output)
    assert told["met"] and told["looked_at"] == 465
    assert {p["state"] for p in told["pairs"]} == {"touching", "in thread"}
    assert "not an assembly" in run("fit", EXAMPLES / "skp-01.lathed").output
    store = Store(tmp_path / "store")
    drum = load_assembly(EXAMPLES / "skp-00.lathed", store).assembly
    seat = next(r for r in drum.relations if r.value == "0.3")
    pushed = fit_edits.change_relation(drum, seat.id, value="-1")
    save_assembly(solved(pushed).assembly, tmp_path / "pushed.lathed", store)
    result = run("fit", tmp_path / "pushed.lathed")
    assert result.exit_code == 1 and "SKP-01 – SKP-02, 2: overlap, 1 mm deep" in result.output


def test_a_drawing_is_read_without_a_window(tmp_path, monkeypatch):
    """What a DXF states, and what the same drawing's picture shows, with how sure that is."""
    from .desk.scans import picture_only

    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    stated = json.loads(run("read", EXAMPLES / "skp-02.dxf", "--json").stdout)
    assert len(stated) == 15 and all(o["sure"] and o["source"] != "read from the picture" for o in stated)
    path = tmp_path / "flange.pdf"
    path.write_bytes(picture_only((EXAMPLES / "skp-02.pdf").read_bytes()))
    seen = json.loads(run("read", path, "--json").stdout)
    assert {"Ø118", "22.3"} <= {o["note"] for o in seen if o["sure"]} and "R2" in {o["note"] for o in seen}
    assert all(o["doubts"] for o in seen if not o["sure"]) and all(len(o["box"]) == 4 for o in seen)
    listed = run("read", path)
    assert listed.exit_code == 0 and "sizes read" in listed.stderr and "look" in listed.stdout
    assert run("read", path, "--sheet", 3).exit_code == 3
    (tmp_path / "bad.png").write_bytes(b"\x89PNG\r\n\x1a\nxxxx")
    assert "damaged" in run("read", tmp_path / "bad.png").output
