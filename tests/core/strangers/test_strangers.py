"""Parts nobody has built here: every callout is proved by what the steps state, and a wrong number is noticed."""

import re

import msgspec
import pytest

from lathed_solid.core.callout import NoteError
from lathed_solid.core.job import edits
from lathed_solid.core.job.proving import prove_result

from .drilled import DRILLED
from .milled import MILLED
from .turned import TURNED

PARTS = MILLED | TURNED | DRILLED
#: Characteristics that stay open, each with its reason.
OPEN: dict[str, set[tuple[int, str]]] = {}
#: Faces made by plain numbers: no callout explains them, and none should.
LOOSE = {"slotted_screw": 3}


@pytest.fixture(scope="module", params=PARTS, ids=list(PARTS))
def part(request):
    bench, volume = PARTS[request.param]()
    return request.param, bench.content, volume, bench.proved()


def test_every_callout_is_proved_and_every_face_explained(part):
    name, _, volume, shown = part
    assert [(r.state, r.message) for r in shown.result.reports if r.state != "done"] == []
    proof = shown.proof
    assert [(line.number, line.key, line.measured, line.message) for line in proof.lines if line.mark == "out"] == []
    left = {(line.number, line.key) for line in proof.lines if line.mark == "open"}
    assert left == OPEN.get(name, set())
    assert proof.unused == ()
    assert len(proof.unexplained) == LOOSE.get(name, 0)
    if volume is not None:
        assert proof.mass.volume == pytest.approx(volume, rel=1e-9)


def test_a_solid_that_differs_from_its_drawing_is_found_out(part):
    """Each stated size in turn differs from what the solid was built to: its mark must be red."""
    _, content, _, shown = part
    tried = 0
    for callout in content.callouts:
        reading = content.ledger().reading(callout.number)
        if reading.main.kind not in ("length", "diameter", "radius", "angle"):
            continue
        note = _another_size(callout.note)
        wrong = msgspec.structs.replace(callout, note=note)
        stated = edits._with(content, callouts=tuple(wrong if c is callout else c for c in content.callouts))
        try:
            stated.ledger().reading(callout.number)
        except NoteError:
            continue
        proof = prove_result(stated, shown.result)
        line = next(x for x in proof.lines if (x.number, x.key) == (callout.number, ""))
        assert line.mark == "out", (callout.number, callout.note, note, line)
        tried += 1
    assert tried >= 2


def _another_size(note):
    """The first size of a note larger by a third; a count before it stays."""
    count = re.match(r"\d+x ", note)
    at = re.search(r"\d*\.\d+|\d+", note[count.end() if count else 0 :])
    start = (count.end() if count else 0) + at.start()
    return f"{note[:start]}{float(at[0]) * 4 / 3:.6g}{note[start + len(at[0]) :]}"
