"""Drawings without a window: what is refused, what can be read, outlines, attachments, completeness."""

import io
import math
import tracemalloc

import ezdxf
import msgspec
import pytest
from ezdxf.math import Vec2
from PIL import Image

from lathed_solid.core.callout import Ledger
from lathed_solid.core.drawing import dxf as dxf_reading
from lathed_solid.core.drawing.cutout import cut_out
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.outline import layers, take_outline
from lathed_solid.core.drawing.paper import CannotRead
from lathed_solid.core.drawing.proposals import cleaned, near, proposals
from lathed_solid.core.job import attachments, damaged, edits, reading, storage
from lathed_solid.core.job.attachments import NoAttachment, Store
from lathed_solid.core.job.complete import likely_chains, look
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import FORMAT, Chain, Content, Job
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.model import Arc, Circle, Dimension, Line, Plane, Sketch, Station
from lathed_solid.core.sketch.region import find_regions

from ..conftest import EXAMPLES


def dxf(draw, units=4):
    """A DXF's bytes, drawn by ``draw(modelspace)``."""
    document = ezdxf.new("R2010", setup=True)
    document.units = units
    draw(document.modelspace())
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def png(width, height, mode="L"):
    out = io.BytesIO()
    Image.new(mode, (width, height), "white").save(out, "PNG")
    return out.getvalue()


# --- opening
def test_a_picture_is_one_sheet_and_a_tiff_may_be_several():
    paper = open_paper(png(300, 200), "scan.png")
    assert (paper.kind, paper.sheets, paper.size(1)) == ("picture", 1, (300.0, 200.0))
    out = io.BytesIO()
    frames = [Image.new("L", (80, 60), shade) for shade in (0, 128, 255)]
    frames[0].save(out, "TIFF", save_all=True, append_images=frames[1:])
    tiff = open_paper(out.getvalue(), "scan.tif")
    assert tiff.sheets == 3
    middle = [tiff.render(n, (0.4, 0.4, 0.6, 0.6), 10).rgb[0] for n in (1, 2, 3)]
    assert middle == [0, 128, 255]
    beyond = paper.render(1, (-0.5, 0, 0.5, 1), 100)
    assert (beyond.width, len(beyond.rgb)) == (100, 100 * beyond.height * 3)


def test_the_same_place_is_shown_in_pdf_and_picture():
    paper = open_paper((EXAMPLES / "skp-02.pdf").read_bytes(), "skp-02.pdf")
    whole = paper.render(1, (0, 0, 1, 1), 1190)
    image = Image.frombytes("RGB", (whole.width, whole.height), whole.rgb)
    out = io.BytesIO()
    image.save(out, "PNG")
    picture = open_paper(out.getvalue(), "scan.png")
    box = (0.15, 0.2, 0.35, 0.6)
    a, b = (p.render(1, box, 238) for p in (paper, picture))
    assert (a.width, a.height) == (b.width, b.height)
    different = sum(abs(x - y) > 128 for x, y in zip(a.rgb[::3], b.rgb[::3], strict=True))
    assert different < 0.03 * len(a.rgb) / 3


def encrypted_pdf():
    from reportlab.lib.pdfencrypt import StandardEncryption
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    sheet = Canvas(out, encrypt=StandardEncryption("secret", strength=128))
    sheet.drawString(100, 100, "22")
    sheet.save()
    return out.getvalue()


def bomb_of_blocks():
    """Blocks in blocks: ten to the sixth lines in a file of a few kilobytes."""
    document = ezdxf.new("R2010")
    inner = document.blocks.new("B0")
    inner.add_line((0, 0), (1, 1))
    for level in range(1, 7):
        block = document.blocks.new(f"B{level}")
        for k in range(10):
            block.add_blockref(f"B{level - 1}", (k, level))
    document.modelspace().add_blockref("B6", (0, 0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def block_in_itself():
    document = ezdxf.new("R2010")
    for name, other in (("A", "B"), ("B", "A")):
        document.blocks.new(name).add_blockref(other, (0, 0))
    document.modelspace().add_blockref("A", (0, 0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def block_in_rows():
    """A million of one line, without a block in a block."""
    document = ezdxf.new("R2010")
    document.blocks.new("A").add_line((0, 0), (1, 1))
    rows = {"row_count": 1000, "column_count": 1000, "row_spacing": 1, "column_spacing": 1}
    document.modelspace().add_blockref("A", (0, 0), rows)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def nonsense_dxf():
    good = dxf(lambda space: space.add_circle((0, 0), 5)).decode()
    return good.replace(" 40\n5.0", " 40\nbanana").encode()


HOSTILE = {
    "locked.pdf": (encrypted_pdf, "password"),
    "cut.pdf": (lambda: (EXAMPLES / "skp-02.pdf").read_bytes()[:900], "damaged"),
    "vast.png": (lambda: png(20_000, 20_000, "1"), "pixels"),
    "vaster.png": (lambda: png(30_000, 30_000, "1"), "pixels"),
    "torn.png": (lambda: png(2000, 2000)[:40], "damaged"),
    "blocks.dxf": (bomb_of_blocks, "more than 100000 entities"),
    "rows.dxf": (block_in_rows, "more than 100000 entities"),
    "round.dxf": (block_in_itself, "holds itself"),
    "nothing.dxf": (lambda: dxf(lambda space: None), "shows nothing"),
    "noise.dxf": (lambda: b"  0\nSECTION\n" + bytes(range(256)) * 20, "no DXF"),
    "note.txt": (lambda: b"hello", "no PDF, PNG, JPEG, TIFF or DXF"),
    "none.pdf": (lambda: b"", "is empty"),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_files_are_refused_with_a_reason_and_bounded_memory(name):
    make, words = HOSTILE[name]
    data = make()
    tracemalloc.start()
    try:
        with pytest.raises(CannotRead, match=words) as caught:
            open_paper(data, name)
        _, peak = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    assert str(caught.value).endswith(".")
    assert peak < 250e6


def test_nonsense_geometry_is_refused_or_left_out():
    try:
        paper = open_paper(nonsense_dxf(), "bad.dxf")
    except CannotRead as error:
        assert str(error).endswith(".")
    else:
        assert paper.sheets == 1
    huge = dxf(lambda space: (space.add_line((0, 0), (1e300, 1)), space.add_line((0, 0), (10, 10))))
    assert max(open_paper(huge, "far.dxf").size(1)) < 1e6


def test_a_million_letters_are_read_as_far_as_a_note_goes(monkeypatch):
    read, whole = [], dxf_reading.plain_text
    monkeypatch.setattr(dxf_reading, "plain_text", lambda text: read.append(len(text)) or whole(text))
    data = dxf(lambda space: (space.add_text("X" * 1_000_000), space.add_mtext("Y" * 1_000_000)))
    assert sorted(len(w.text) for w in open_paper(data, "long.dxf").words(1)) == [400, 400]
    assert max(read) <= 4000, "the library takes a minute for the whole"


def test_a_vast_circle_does_not_fill_the_memory():
    """Measured in a process of its own: what libraries in C take counts too."""
    import subprocess
    import sys

    program = (
        "import io, re, ezdxf\n"
        "from lathed_solid.core.drawing.opening import open_paper\n"
        "d = ezdxf.new('R2010'); m = d.modelspace()\n"
        "m.add_circle((0, 0), 1e12); m.add_line((0, 0), (9, 9))\n"
        "o = io.StringIO(); d.write(o)\n"
        "assert max(open_paper(o.getvalue().encode(), 'x.dxf').size(1)) < 20\n"
        "print(re.search(r'VmHWM:\\s+(\\d+)', open('/proc/self/status').read())[1])\n"
    )
    told = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, timeout=60, check=True)
    assert int(told.stdout) < 300_000, "kB"


# --- what can be read
@pytest.mark.parametrize("name", ["skp-02.pdf", "skp-02.dxf"])
def test_everything_on_the_demo_drawing_is_offered_and_nothing_else(name, flange):
    paper = open_paper((EXAMPLES / name).read_bytes(), name)
    offered = [" ".join(p.note.split()) for p in proposals(paper, 1, Ledger([]))]
    assert sorted(offered) == sorted(c.note for c in flange.callouts)
    assert near(paper, 1, 0.5, 0.02, Ledger([])) == ""


def test_dxf_dimensions_become_notes_with_their_tolerances():
    def draw(space):
        plain = {"dimlfac": 1.0, "dimdec": 2}
        space.add_linear_dim((0, 10), (0, 0), (40, 0), dimstyle="Standard", override=plain).render()
        toleranced = {**plain, "dimtol": 1, "dimtp": 0.2, "dimtm": 0.1}
        space.add_linear_dim((0, 20), (0, 0), (30, 0), dimstyle="Standard", override=toleranced).render()
        space.add_radius_dim((50, 0), radius=6, angle=45, dimstyle="Standard", override=plain).render()
        space.add_diameter_dim((80, 0), radius=6, angle=45, dimstyle="Standard", override=plain).render()
        angle = space.add_angular_dim_2l(
            (0, 40), line1=((0, 30), (20, 30)), line2=((0, 30), (20, 50)), dimstyle="Standard"
        )
        angle.render()
        space.add_linear_dim((0, 60), (0, 0), (25, 0), text="4x <>", dimstyle="Standard", override=plain).render()
        space.add_linear_dim((0, 70), (0, 0), (25, 0), text="see note", dimstyle="Standard").render()

    paper = open_paper(dxf(draw), "sizes.dxf")
    notes = {p.note for p in proposals(paper, 1, Ledger([])) if p.source.startswith("dimension")}
    assert notes == {"40", "30 +0.2/-0.1", "R6", "Ø12", "45°", "4x 25"}


def test_control_codes_become_symbols():
    assert cleaned("%%c12  %%p0.1 45%%d") == "Ø12 ±0.1 45°"


def test_a_cutout_shows_the_place():
    paper = open_paper((EXAMPLES / "skp-02.pdf").read_bytes(), "skp-02.pdf")
    flat, turned = (Image.open(io.BytesIO(cut_out(paper, 1, 0.2, 0.5, t))) for t in (0, 1))
    assert flat.width > 2 * flat.height and turned.width > 2 * turned.height
    assert min(flat.convert("L").tobytes()) < 60
    assert len(cut_out(paper, 1, 0.2, 0.5)) < 40_000


# --- outlines
def test_an_outline_is_joined_and_its_relations_proposed():
    def draw(space):
        # A slot: two lines and two arcs, with ends a hair apart; a square as a polyline with a round corner.
        space.add_line((0, 0), (40, 0))
        space.add_arc((40, 5), 5, -90, 90)
        space.add_line((40.004, 10.003), (0, 10))
        space.add_arc((0, 5), 5, 90, 270)
        space.add_lwpolyline(
            [(60, 0, 0), (80, 0, 0), (80, 15, math.tan(math.pi / 8)), (75, 20, 0), (60, 20, 0)],
            format="xyb",
            close=True,
        )
        space.add_circle((70, 10), 3)

    paper = open_paper(dxf(draw), "slot.dxf")
    taken = take_outline(paper, Sketch(id="k1", name="slot"))
    assert "ends were joined" in taken.remarks[0] and "0.0050 mm" in taken.remarks[0]
    assert taken.counts() == {"horizontal": 4, "vertical": 2, "tangent": 6, "equal": 2}
    sketch = taken.with_relations({"horizontal", "vertical", "tangent", "equal"})
    regions = find_regions(sketch)
    assert regions.gaps == ()
    assert len(regions.regions) >= 2
    settled = settle_sketch(sketch, Ledger([]))
    assert find_regions(settled).gaps == ()
    assert take_outline(paper, Sketch(id="k1", name="slot")).with_relations(set()).relations == ()


def test_inches_ellipses_and_layers():
    def draw(space):
        space.doc.layers.add("CUT")
        space.add_line((0, 0), (2, 0), dxfattribs={"layer": "CUT"})
        space.add_ellipse((0, 0), (1.5, 0), ratio=0.5)

    paper = open_paper(dxf(draw, units=1), "in.dxf")
    assert set(layers(paper)) == {"CUT", "0"}
    cut = take_outline(paper, Sketch(id="k", name="c"), layer="CUT").sketch
    line = next(e for e in cut.entities if isinstance(e, Line))
    points = cut.points()
    assert points[line.b].x - points[line.a].x == pytest.approx(50.8)
    oval = take_outline(paper, Sketch(id="k", name="c"), layer="0")
    assert "ellipse" in oval.remarks[0]
    arcs = [e for e in oval.sketch.entities if isinstance(e, Arc)]
    (region,) = find_regions(oval.sketch).regions
    assert len(region.outer.curves) == len(arcs) <= 64
    at = oval.sketch.points()
    for arc in arcs:
        c, a, b = at[arc.center], at[arc.a], at[arc.b]
        turn = math.atan2(b.y - c.y, b.x - c.x) - math.atan2(a.y - c.y, a.x - c.x)
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            angle = math.atan2(a.y - c.y, a.x - c.x) + share * (turn % (2 * math.pi))
            r = math.dist((c.x, c.y), (a.x, a.y))
            x, y = c.x + r * math.cos(angle) - 38.1, c.y + r * math.sin(angle) - 19.05
            off = (math.hypot(x / 38.1, y / 19.05) - 1) * math.hypot(x, y)
            assert abs(off) < 0.003


def test_splines_and_empty_layers_are_refused_with_a_reason():
    spline = open_paper(dxf(lambda s: s.add_spline([(0, 0), (10, 5), (20, 0)])), "s.dxf")
    with pytest.raises(CannotRead, match="no radius or centre"):
        take_outline(spline, Sketch(id="k", name="s"))
    text = open_paper(dxf(lambda s: s.add_text("22", height=3).set_placement(Vec2(0, 0))), "t.dxf")
    with pytest.raises(CannotRead, match="no lines, arcs or circles"):
        take_outline(text, Sketch(id="k", name="s"))


def test_circles_of_the_demo_drawing_are_taken():
    paper = open_paper((EXAMPLES / "skp-02.dxf").read_bytes(), "skp-02.dxf")
    taken = take_outline(paper, Sketch(id="k1", name="x"), "OUTLINE")
    radii = sorted(e.radius for e in taken.sketch.entities if isinstance(e, Circle))
    assert radii.count(pytest.approx(9)) == 6 and radii[-1] == pytest.approx(59)


# --- in the job
def test_attachments_go_with_the_job_and_damage_is_told(tmp_path):
    store = Store(tmp_path / "a")
    data = (EXAMPLES / "skp-02.pdf").read_bytes()
    content, _ = reading.add_drawing(Content(), "skp-02.pdf", "pdf", store.put(data), 1)
    with pytest.raises(edits.EditRefused, match="already"):
        reading.add_drawing(content, "again.pdf", "pdf", store.put(data), 1)
    job, path = Job(content=content), tmp_path / "a.lathed"
    storage.save(job, path, store)
    assert storage.load(path, Store(tmp_path / "b")) == (job, ())
    with pytest.raises(CannotWrite, match="drawings are not at hand"):
        storage.save(job, tmp_path / "b.lathed")
    (store.folder / content.drawings[0].blob).unlink()
    with pytest.raises(CannotWrite, match="no longer there"):
        storage.save(job, tmp_path / "c.lathed", store)
    assert not (tmp_path / "c.lathed").exists()
    # A file whose attachment was swapped for another opens, and says so.
    import zipfile

    with zipfile.ZipFile(path) as archive:
        text = archive.read("job.json")
    with zipfile.ZipFile(tmp_path / "d.lathed", "w") as archive:
        archive.writestr("job.json", text)
        archive.writestr("attachments/" + content.drawings[0].blob, b"%PDF something else")
    assert storage.load(tmp_path / "d.lathed", Store(tmp_path / "e")).lost == ("a drawing or cut-out",)
    with pytest.raises(NoAttachment, match="no attachment"):
        store.get("../../etc/passwd")


def test_zip_bombs_are_not_unpacked(tmp_path, monkeypatch):
    import zipfile

    store = Store(tmp_path / "a")
    big = b"\x89PNG" + bytes(3_000_000)
    content, _ = reading.add_drawing(Content(), "x.png", "picture", store.put(big), 1)
    storage.save(Job(content=content), tmp_path / "a.lathed", store)
    assert (tmp_path / "a.lathed").stat().st_size < 20_000, "it packs like a bomb"
    monkeypatch.setattr(attachments, "MAX_ALL", 1_000_000)
    assert storage.load(tmp_path / "a.lathed", Store(tmp_path / "b")).lost == ("a drawing or cut-out",)
    assert not (tmp_path / "b").exists()
    with zipfile.ZipFile(tmp_path / "bomb.lathed", "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", b" " * (damaged.MAX_JSON + 10))
    with pytest.raises(damaged.CannotOpen, match="more than a Lathed Solid job can"):
        storage.load(tmp_path / "bomb.lathed")


def test_jobs_of_the_first_format_still_open():
    old = msgspec.json.decode(storage.to_json(Job()))
    old["format"] = 1
    for field in ("drawings", "chains", "logbook"):
        del old["content"][field]
    del old["content"]["header"]["places"]
    opened = storage.decode(msgspec.json.encode(old), "old.lathed")
    assert opened.lost == ()
    assert opened.job == Job() and opened.job.format == FORMAT == 17


# --- completeness
def with_notes(*rows):
    content = Content()
    for note, label in rows:
        content, _ = edits.add_callout(content, note, label)
    return content


def sorts(content):
    return [f.sort for f in look(content)]


def test_repeats_and_contradictions():
    assert sorts(with_notes(("Ø12", "journal"), ("Ø12", "journal"))) == ["repeat"]
    assert sorts(with_notes(("Ø12", "journal"), ("Ø12.5", "Journal "))) == ["contradiction"]
    assert sorts(with_notes(("Ø12 h6", "journal"), ("Ø12", "journal"))) == ["contradiction"]
    assert sorts(with_notes(("Ø12", "journal"), ("12", "journal"))) == []


def test_chains_are_found_watched_and_judged():
    content = with_notes(("22", ""), ("2", ""), ("68", ""), ("(92)", ""))
    (chain,) = likely_chains(content)
    assert chain == Chain(overall=4, parts=(1, 2, 3))
    content = reading.add_chain(content, chain)
    assert look(content) == () and likely_chains(content) == ()
    apart = with_notes(("4.75", ""), ("Ø3", ""), ("7", ""), ("10", ""), ("5", ""), ("12", ""), (".25", ""))
    assert likely_chains(apart) == (Chain(overall=5, parts=(1, 7)),)  # and not 7 + 5 = 12: round figures meet by chance
    wrong = edits.edit_callout(content, 2, "3")
    (finding,) = look(wrong)
    assert finding.words == "1 + 2 + 3 make 93, but 4 says 92: 1 too much."
    stated = edits.edit_callout(content, 4, "92 ±0.1")
    assert sorts(stated) == ["surplus"]
    assert sorts(edits.delete_callout(content, 2)) == []
    with pytest.raises(edits.EditRefused, match="two parts"):
        reading.add_chain(content, Chain(overall=1, parts=(1, 2)))


def test_a_turned_profile_says_which_size_is_missing_or_surplus():
    content, id_ = edits.add_sketch(Content(), "Turned profile", Plane("turning"))
    rows = (Station(id="a", to="22", diameter="12"), Station(id="b", length="10"), Station(id="c", diameter="20"))
    sketch = msgspec.structs.replace(content.sketch(id_), stations=rows)
    words = [f.words for f in look(edits.set_sketch(content, sketch))]
    assert words == [
        "“Turned profile”, row 2: the diameter is missing.",
        "“Turned profile”, row 3: neither its end nor its length is stated.",
    ]
    both = (Station(id="a", to="22", diameter="12"), Station(id="b", to="30", length="8", diameter="10"))
    sketch = msgspec.structs.replace(sketch, stations=both)
    assert sorts(edits.set_sketch(content, sketch)) == ["surplus"]
    sketch = msgspec.structs.replace(sketch, stations=(both[0], Station(id="b", to="30", length="9", diameter="10")))
    assert sorts(edits.set_sketch(content, sketch)) == ["contradiction"]


def test_a_plate_outline_says_what_is_missing_or_surplus():
    from lathed_solid.core.sketch.make.draw import Spot, add_rectangle

    content, id_ = edits.add_sketch(Content(), "Plate", Plane("end"))
    sketch = add_rectangle(content.sketch(id_), Spot(0, 0, "origin"), Spot(40, 20))
    content = edits.set_sketch(content, sketch)
    (finding,) = look(content)
    assert finding.words == ("“Plate”: 2 sizes missing; the upright line at 40, the level line at 20 can still move.")
    lines = [e.id for e in sketch.entities if isinstance(e, Line)]
    sized = msgspec.structs.replace(
        sketch,
        dimensions=(
            Dimension(id="w", kind="distance", of=(lines[1], lines[3]), text="40"),
            Dimension(id="h", kind="distance", of=(lines[0], lines[2]), text="20"),
        ),
    )
    assert look(edits.set_sketch(content, settle_sketch(sized, Ledger([])))) == ()
    twice = msgspec.structs.replace(
        sized, dimensions=(*sized.dimensions, Dimension(id="x", kind="along", of=("origin", lines[1]), text="40"))
    )
    found = look(edits.set_sketch(content, twice))
    assert {f.sort for f in found} == {"surplus"}
    assert any("already determined by 40" in f.words for f in found)


def test_a_sheet_without_balloons_is_named(flange):
    content, _ = reading.add_drawing(flange, "skp-02.pdf", "pdf", "0" * 32 + ".pdf", 2)
    assert [f.words for f in look(content)] == [
        f"skp-02.pdf, sheet {n}: no balloon has been placed on it yet." for n in (1, 2)
    ]


def test_a_damaged_page_is_refused_in_words(monkeypatch):
    import pypdfium2 as pdfium

    paper = open_paper((EXAMPLES / "skp-02.pdf").read_bytes(), "flange.pdf")

    def broken(self, at):
        raise pdfium.PdfiumError("Failed to load page.")

    monkeypatch.setattr(pdfium.PdfDocument, "__getitem__", broken)
    for work in (lambda: paper.words(1), lambda: paper.render(1, (0.0, 0.0, 1.0, 1.0), 100)):
        with pytest.raises(CannotRead, match=r"Sheet 1 of flange\.pdf is damaged"):
            work()


@pytest.mark.timeout(30)
def test_a_curve_far_above_the_sheet_does_not_take_for_ever(tmp_path):
    document = ezdxf.new()
    space = document.modelspace()
    space.add_line((0, 0), (40, 0))
    space.add_open_spline([(0, 0, 0), (10, 5, 1e30), (20, -5, -1e30), (30, 0, 0)])
    document.saveas(tmp_path / "far.dxf")
    paper = open_paper((tmp_path / "far.dxf").read_bytes(), "far.dxf")
    assert len(paper.lines) == 1, "the line is there, the curve is no part of the sheet"


def test_halves_of_characters_in_a_damaged_dxf_are_no_text_that_cannot_be_written():
    data = (EXAMPLES / "skp-02.dxf").read_bytes().replace(b"OUTLINE", b"OUTL\xf9NE").replace(b"M6", b"M\xd86")
    paper = open_paper(data, "a.dxf")
    for text in (*(w.text for w in paper.words(1)), *(n for n, _, _ in paper.dimensions(1)), *layers(paper)):
        assert text.encode()
    damaged = next(name for name in layers(paper) if name.startswith("OUTL"))
    assert take_outline(paper, Sketch(id="k1", name="x"), damaged).sketch.curves()


def test_lines_with_numbers_that_are_none_are_left_out_of_an_outline():
    document = ezdxf.new()
    document.modelspace().add_lwpolyline([(0, 0), (10, 0), (10, 5)], close=True)
    document.modelspace().add_line((float("nan"), 0), (3, 4))
    document.modelspace().add_line((0, 0), (1e300, 4))
    out = io.StringIO()
    document.write(out)
    paper = open_paper(out.getvalue().encode(), "a.dxf")
    assert len(take_outline(paper, Sketch(id="k1", name="x")).sketch.curves()) == 3
