"""STEP files we write, read as text by nobody of the kernel's: figures to check by, material, words of the drawing."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.edits import change_faces
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.files.step import write_step
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import Cache
from lathed_solid.core.route.steps.extrude import Extrude

from .steps.parts import built, route
from .test_integral import outline_integrals, wobbly

EXAMPLES = Path(__file__).parents[2] / "examples"


def _entities(path: Path) -> dict[str, str]:
    """Part 21 records by number, each on one line, in ASCII with its escapes."""
    text = path.read_bytes().decode("utf-8")
    body = text[text.index("DATA;") + 5 :]
    return {n: " ".join(t.split()) for n, t in re.findall(r"#(\d+)\s*=\s*(.*?);\s*\n", body, re.DOTALL)}


def _value(found: dict[str, str], measure: str) -> float:
    return float(next(re.search(rf"{measure}\(\s*([-+0-9.E]+)\)", t)[1] for t in found.values() if measure in t))


@pytest.mark.parametrize("name", ["skp-02", "skp-04"])
def test_a_step_file_tells_figures_material_and_callouts(tmp_path, name):
    store, cache = Store(tmp_path / "store"), Cache()
    content = load(EXAMPLES / f"{name}.lathed", store).job.content
    path = tmp_path / "a.step"
    issue(content, path, FORMATS["step"], cache, store=store)
    found = _entities(path)
    proof = build_and_prove(content, cache, store=store).proof
    assert _value(found, "VOLUME_MEASURE") == pytest.approx(proof.mass.volume, rel=1e-6)
    assert _value(found, "AREA_MEASURE") == pytest.approx(proof.mass.area, rel=1e-4)
    assert _value(found, "POSITIVE_RATIO_MEASURE") == pytest.approx(content.header.material.density)
    assert any(content.header.material.name in t for t in found.values() if "DESCRIPTIVE" in t)
    # The density's unit is gram over cubic centimetre.
    density = next(t for t in found.values() if "'density measure'" in t)
    unit = found[re.findall(r"#(\d+)", density)[-1]]
    powers = {}
    for element in re.findall(r"#(\d+)", unit):
        base, power = re.match(r"DERIVED_UNIT_ELEMENT\(#(\d+),([-0-9.]+)\)", found[element]).groups()
        powers["gram" if ".GRAM." in found[base] else "cm" if ".CENTI." in found[base] else found[base]] = float(power)
    assert powers == {"gram": 1.0, "cm": -3.0}
    said = [t for t in found.values() if t.startswith("DESCRIPTIVE_REPRESENTATION_ITEM('callout")]
    assert len([t for t in said if "limits" not in t.split(",")[0]]) == len(content.callouts)
    again = tmp_path / "b.step"
    issue(content, again, FORMATS["step"], cache, store=store)
    assert again.read_bytes() == path.read_bytes()


def test_figures_to_check_by_are_right_on_free_walls_and_in_the_axes_of_the_file(tmp_path):
    """The kernel's own sum is up to a sixth off there."""
    drawn = wobbly(2)
    step = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="25", direction="forward")
    body = built(route(step, sketches=(drawn,))).body
    turned = Frame((7.0, -3.0, 2.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    write_step(body, tmp_path / "a.step", "cam", (0.5, 0.5, 0.5), where=turned)
    found = _entities(tmp_path / "a.step")
    area, about_x, about_y = outline_integrals(drawn)
    assert _value(found, "VOLUME_MEASURE") == pytest.approx(25 * area, rel=1e-9)
    point = next(t for t in found.values() if "'centre point'" in t)
    x, y, z = about_y / area - 7.0, about_x / area + 3.0, 12.5 - 2.0
    told = [float(n) for n in re.search(r"\(([^()]*)\)\)$", point)[1].split(",")]
    assert told == pytest.approx([y, z, x], abs=1e-5)


@pytest.mark.parametrize("name", ["skp-02", "skp-05"])
def test_every_face_is_called_by_its_name_and_looks_as_it_was_said(tmp_path, name):
    """Round faces are told by the radius their surface has in the file."""
    store, cache = Store(tmp_path / "store"), Cache()
    content = load(EXAMPLES / f"{name}.lathed", store).job.content
    shown = build_and_prove(content, cache, store=store)
    body, figures = shown.result.body, measure_faces(shown.result.body)
    painted = next(s.index for s in figures if s.kind == "plane")
    content = change_faces(content, [FaceRef(body.name_of(painted))], finish="painted red")
    path = tmp_path / "a.step"
    issue(content, path, FORMATS["step"], cache, store=store)
    found = _entities(path)
    faces = {n: t for n, t in found.items() if t.startswith("ADVANCED_FACE")}
    names = [re.match(r"ADVANCED_FACE\('([^']*)'", t)[1] for t in faces.values()]
    assert sorted(names) == sorted(body.name_of(s.index) for s in figures)
    radius = {body.name_of(s.index): s.radius for s in figures if s.kind == "cylinder"}
    for text in faces.values():
        called, surface = re.match(r"ADVANCED_FACE\('([^']*)',.*#(\d+),", text).groups()
        if found[surface].startswith("CYLINDRICAL_SURFACE"):
            assert float(found[surface].rstrip(")").rpartition(",")[2]) == pytest.approx(radius[called])
    styled = [t for t in found.values() if t.startswith("OVER_RIDING_STYLED_ITEM")]
    own = [n for n, t in faces.items() if f"'{body.name_of(painted)}'" in t]
    assert len(styled) == 1 and f"#{own[0]}," in styled[0]
