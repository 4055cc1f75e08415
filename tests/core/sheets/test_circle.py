"""The circle closed: a sheet of ours under the glass again offers the ledger it came from, and nothing else."""

from __future__ import annotations

import pytest

from lathed_solid.core.callout.normal import normal_note
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.proposals import proposals
from lathed_solid.core.issue.drawing.dxf import to_dxf
from lathed_solid.core.issue.drawing.pdf import to_pdf
from lathed_solid.core.job.model import Content, Header


@pytest.mark.parametrize("k", [1, 2, 3, 7])
def test_a_sheet_offers_back_the_ledger_it_came_from(laid, k):
    made = laid(k)
    content, scene = made.content, made.composed.scene
    unit = content.header.units
    empty = Content(header=Header(units=unit)).ledger()

    def normal(note: str) -> str:
        return normal_note(empty.try_note(note))

    wanted = sorted(normal(c.note) for c in content.callouts)
    for name, data in (("a.pdf", to_pdf([scene])), ("a.dxf", to_dxf(scene, unit))):
        offered = [normal(p.note) for p in proposals(open_paper(data, name), 1, empty)]
        assert sorted(offered) == wanted, name
