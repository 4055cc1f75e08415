"""The circle closed: a sheet of ours under the glass again offers the ledger it came from, and nothing else."""

from __future__ import annotations

import io

import ezdxf
import msgspec
import pytest

from lathed_solid.core.callout.normal import normal_note
from lathed_solid.core.drafting.sheet.scene import Round, Sized
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.proposals import proposals
from lathed_solid.core.issue.drawing.dxf import to_dxf
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.pdf import to_pdf
from lathed_solid.core.issue.drawing.propose import proposed
from lathed_solid.core.job.model import Content, Header
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.sheeting import with_sheet

from ..strangers.test_strangers import PARTS


@pytest.mark.parametrize("more", [False, True])
@pytest.mark.parametrize("k", [1, 2, 3, 7])
def test_a_sheet_offers_back_the_ledger_it_came_from(laid, k, more):
    """Also with balloons and a table of holes on it, whose numbers are no sizes."""
    made = laid(k)
    content, scene = made.content, made.composed.scene
    if more:
        sheet = msgspec.structs.replace(made.sheet, balloons=True, holes=(25.0, 15.0))
        content = msgspec.structs.replace(content, sheets=(sheet,))
        scene = drawn_sheet(content, sheet.id, made.seen, None, (), 1).scene
        marks = [n for m in scene.marks for n in (m.marks if isinstance(m, Sized) else (m,))]
        assert sum(isinstance(m, Round) and m.of.startswith("label:") for m in marks) > 5
    unit = content.header.units
    empty = Content(header=Header(units=unit)).ledger()

    def normal(note: str) -> str:
        return normal_note(empty.try_note(note))

    wanted = sorted(normal(c.note) for c in content.callouts)
    for name, data in (("a.pdf", to_pdf([scene])), ("a.dxf", to_dxf(scene, unit))):
        offered = [normal(p.note) for p in proposals(open_paper(data, name), 1, empty)]
        assert sorted(offered) == wanted, name


def test_slanted_lengths_are_dimensions_of_their_own():
    """A block moved and turned by 30°: its sides run slanted in the view, and are read back as they measure."""
    content = settle(PARTS["moved_body"]()[0].content).content
    sheet, seen = proposed(content, "d1")
    content = with_sheet(content, sheet)
    scene = drawn_sheet(content, "d1", seen, None, (), 1).scene
    data = to_dxf(scene)
    document = ezdxf.read(io.StringIO(data.decode()))
    audit = document.audit()
    assert not audit.errors and not audit.fixes
    slanted = {
        round(d.dxf.angle): (d.dxf.text, d.get_measurement() * d.override().get("dimlfac", 1.0))
        for d in document.modelspace().query("DIMENSION")
        if 1.0 < d.dxf.angle % 90.0 < 89.0
    }
    assert {turn: (text, pytest.approx(size, abs=1e-6)) for turn, (text, size) in slanted.items()} == {
        30: ("60", 60.0), 120: ("20", 20.0)
    }  # fmt: skip
    empty = Content(header=Header()).ledger()
    for name, made in (("a.pdf", to_pdf([scene])), ("a.dxf", data)):
        offered = {p.note for p in proposals(open_paper(made, name), 1, empty)}
        assert {"60", "20"} <= offered, name
