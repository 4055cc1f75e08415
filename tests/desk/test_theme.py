"""Both schemes can be read, every icon is there, nothing is named twice."""

from importlib import resources

import pytest
from PyQt6.QtGui import QColor

from lathed_solid.desk.theme.icons import pixmap
from lathed_solid.desk.theme.palette import DARK, LIGHT


def luminance(color: str) -> float:
    c = QColor(color)
    parts = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in (c.redF(), c.greenF(), c.blueF())]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a: str, b: str) -> float:
    """WCAG 2 contrast ratio."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize(
    ("ink", "ground"),
    [("ink", "panel"), ("ink", "paper"), ("ink", "raised"), ("ink", "brass_wash"), ("faint", "panel"), ("faint", "paper"),
     ("brass", "raised"), ("brass", "panel"), ("out", "panel"), ("good", "panel"), ("scribe", "plate_top"),
     ("scribe", "plate_bottom"), ("gold", "plate_top"), ("bar_ink", "bar"), ("gold", "bar")],
)  # fmt: skip
def test_text_can_be_read(palette, ink, ground):
    wanted = 3.0 if ink in ("good",) else 4.5
    assert contrast(getattr(palette, ink), getattr(palette, ground)) >= wanted


def test_every_icon_can_be_drawn(qapp):
    names = [p.name.removesuffix(".svg") for p in (resources.files("lathed_solid.desk.theme") / "icons").iterdir()]
    assert len(names) > 25
    for name in names:
        image = pixmap(name, "#ff0000", 24).toImage()
        assert any(image.pixelColor(x, y).alpha() > 100 for x in range(48) for y in range(48)), name


def test_every_action_has_its_icon(desk):
    names = {p.name.removesuffix(".svg") for p in (resources.files("lathed_solid.desk.theme") / "icons").iterdir()}
    assert {a.icon for a in desk.window.actions_ if a.icon} <= names


def test_text_scales_and_comes_back(desk, qapp):
    before = desk.window.read_side.crib.fontMetrics().height()
    for words, scale in (
        ("larger text", 1.1),
        ("larger text", 1.2),
        ("larger text", 1.2),
        ("smaller text", 1.1),
        ("smaller text", 1.0),
    ):
        desk.enter(words)
        assert qapp.property("textScale") == pytest.approx(scale)
    assert desk.window.read_side.crib.fontMetrics().height() == before


def test_actions_are_found_by_any_of_their_words(desk):
    found = [a.id for a in desk.window.actions_.search("section")]
    assert found[0] == "view.section"
    assert "job.step" in [a.id for a in desk.window.actions_.search("step write")]
    assert desk.window.actions_.search("zzz") == []
    with pytest.raises(ValueError, match="declared twice"):
        desk.window.actions_.add(desk.window.actions_.get("job.new"))
