"""Numbers that are no sizes: in balloons and in tables; and sizes that only stand where a table might."""

from __future__ import annotations

import ezdxf
import pytest

from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.proposals import proposals
from lathed_solid.core.job.model import Content, Header


def _offered(draw, tmp_path):
    document = ezdxf.new("R2010", units=4)
    draw(document.modelspace())
    document.saveas(tmp_path / "d.dxf")
    paper = open_paper((tmp_path / "d.dxf").read_bytes(), "d.dxf")
    return sorted(p.note for p in proposals(paper, 1, Content(header=Header(units="mm")).ledger()))


def _text(space, words, x, y, height=2.5):
    space.add_text(words, height=height).set_placement((x, y))


def _grid(space, xs, ys):
    for y in ys:
        space.add_line((xs[0], y), (xs[-1], y))
    for x in xs:
        space.add_line((x, ys[0]), (x, ys[-1]))


def test_a_table_is_passed_over_and_the_sizes_beside_it_are_not(tmp_path):
    def draw(space):
        _grid(space, (0, 15, 35, 55), (0, 6, 12, 18))
        for row in range(3):
            for column, x in enumerate((2, 17, 37)):
                _text(space, f"{10 * row + column + 1}.5", x, 2 + 6 * row)
        _text(space, "Ø22 H7", 80, 40)
        _text(space, "48", 80, 60)

    assert _offered(draw, tmp_path) == ["48", "Ø22 H7"]


@pytest.mark.parametrize("scale", [1.0, 0.3])
def test_a_stepped_block_is_no_table_although_its_lines_rule_it(tmp_path, scale):
    """Three level lines of one length, closed by the sides, parted by a groove: sizes within it are sizes."""

    def draw(space):
        _grid(space, tuple(scale * x for x in (0, 40, 60, 100)), tuple(scale * y for y in (0, 30, 60)))
        _text(space, "40", 12 * scale, 12 * scale)
        _text(space, "20", 46 * scale, 40 * scale)

    assert _offered(draw, tmp_path) == ["20", "40"]


def test_a_number_in_a_balloon_is_none_and_one_beside_a_hole_is(tmp_path):
    def draw(space):
        space.add_circle((0, 0), 4.2)
        _text(space, "12", -1.9, -1.2)
        space.add_circle((60, 0), 30)  # a hole drawn large, its size within it
        _text(space, "30", 58, -1.2)
        space.add_circle((0, 40), 4.2)
        _text(space, "Ø6", -2.4, 38.8)  # a size in a small circle, told by its sign

    assert _offered(draw, tmp_path) == ["30", "Ø6"]
