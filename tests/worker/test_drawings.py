"""The process that reads drawings: it may fall or hang, and the drawing is there again for the next request."""

import os
import signal

import pytest

from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.paper import CannotRead
from lathed_solid.worker import faults
from lathed_solid.worker.drawings import DrawingReader, Fell

from ..conftest import EXAMPLES


@pytest.fixture
def reader():
    made = DrawingReader()
    yield made
    made.close()


@pytest.mark.parametrize("name", ["skp-02.pdf", "skp-02.dxf"])
def test_what_comes_from_afar_is_what_the_reader_here_says(reader, name):
    data = (EXAMPLES / name).read_bytes()
    far, here = reader.open(data, name), open_paper(data, name)
    assert (far.kind, far.sheets, far.size(1), far.natural_scale()) == (
        here.kind, here.sheets, here.size(1), here.natural_scale()
    )  # fmt: skip
    assert not far.has_read(1)
    assert (far.words(1), far.dimensions(1)) == (here.words(1), here.dimensions(1))
    assert far.has_read(1)
    assert far.render(1, (0.1, 0.1, 0.5, 0.5), 300) == here.render(1, (0.1, 0.1, 0.5, 0.5), 300)
    if name.endswith("pdf"):
        with pytest.raises(CannotRead, match="outline of a DXF"):
            far.outline("", 0.01)
    else:
        assert far.outline("OUTLINE", 0.01).sketch.curves()


def test_a_file_that_fells_its_reader_is_refused_and_the_others_stay(reader, monkeypatch):
    data = (EXAMPLES / "skp-02.pdf").read_bytes()
    monkeypatch.setenv(faults.VARIABLE, "drawing=crash")
    with pytest.raises(Fell, match=r"bad.pdf.*Nothing else is touched"):
        reader.open(data, "bad.pdf")
    monkeypatch.delenv(faults.VARIABLE)
    good = reader.open(data, "good.pdf")
    os.kill(reader._process.pid, signal.SIGKILL)
    reader._process.wait()
    assert good.render(1, (0.0, 0.0, 1.0, 1.0), 50).width == 50
    reader.close()
    with pytest.raises(CannotRead, match="closing"):
        good.render(1, (0.0, 0.0, 1.0, 1.0), 50)


def test_a_file_that_never_ends_is_let_go(reader, monkeypatch):
    data = (EXAMPLES / "skp-02.pdf").read_bytes()
    slow = DrawingReader(limit=0.05)
    monkeypatch.setenv(faults.VARIABLE, "drawing=slow:60")
    with pytest.raises(Fell, match=r"longer than 0.05 s"):
        slow.open(data, "slow.pdf")
    assert slow._process is None
    slow.close()
