"""Pictures are read in a process of their own: it tells how far it is, can be stopped, and what it read is kept. The extra is
fetched by pip, or it is told why not. Nothing of it is loaded by the program itself.
"""

from __future__ import annotations

import subprocess
import sys
import threading
import tomllib
from pathlib import Path

import pytest

from lathed_solid.core.drawing.paper import CannotRead
from lathed_solid.core.drawing.scan import needs
from lathed_solid.worker import faults
from lathed_solid.worker.fetching import CannotFetch, Fetching, commands, in_words, why
from lathed_solid.worker.pictures import PictureReader, Stopped

from ..conftest import EXAMPLES

ROOT = Path(__file__).parents[2]
FLANGE = (EXAMPLES / "skp-02.pdf").read_bytes()


@pytest.fixture
def reader(tmp_path):
    return PictureReader(tmp_path / "read")


def test_a_sheet_is_told_as_it_is_read_then_whole_and_then_kept(reader, tmp_path):
    steps = []
    first, whole = reader.read(FLANGE, "flange.pdf", 1, 0, steps.append)
    assert not first.is_whole and whole.is_whole and set(first.runs) <= set(whole.runs)
    counts = [s.done for s in steps if s.words == "reading"]
    assert len(counts) > 5 and all(s.done <= s.of for s in steps), "told by the batch"
    told = []
    (again,) = PictureReader(tmp_path / "read").read(FLANGE, "flange.pdf", 1, 0, told.append)
    assert again == whole and not told, "kept: nothing is read anew"
    kept = next((tmp_path / "read").glob("*.read"))
    kept.write_bytes(kept.read_bytes()[:-40])
    assert reader.kept(FLANGE, 1, 0) is None, "what is damaged is read again"
    assert reader.kept(FLANGE, 1, 1) is None


def test_it_is_stopped_from_another_thread_and_reads_again(reader):
    started = threading.Event()
    threading.Thread(target=lambda: (started.wait(30), reader.stop()), daemon=True).start()
    with pytest.raises(Stopped):
        list(reader.read(FLANGE, "flange.pdf", 1, 0, lambda _: started.set()))
    assert reader.corners(FLANGE, "flange.pdf", 1).found is False


def test_a_stop_that_comes_before_the_reading_has_begun_is_not_lost(reader):
    """Asked for, stopped at once, and only then begun by its own thread; what is asked for later is read."""
    since = reader.stops
    reader.stop()
    with pytest.raises(Stopped):
        list(reader.read(FLANGE, "flange.pdf", 1, 0, lambda _: None, since))
    assert not next(reader.read(FLANGE, "flange.pdf", 1, 0, lambda _: None, reader.stops)).is_whole


def test_a_reader_that_falls_or_never_ends_is_told(tmp_path, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "picture=crash")
    with pytest.raises(CannotRead, match="fell over"):
        list(PictureReader(tmp_path).read(FLANGE, "flange.pdf", 1, 0, lambda _: None))
    monkeypatch.delenv(faults.VARIABLE)
    with pytest.raises(CannotRead, match="took longer"):
        list(PictureReader(tmp_path, 0.05).read(FLANGE, "flange.pdf", 1, 0, lambda _: None))
    with pytest.raises(CannotRead, match="damaged"):
        list(PictureReader(tmp_path).read(b"%PDF-1.7 nothing", "bad.pdf", 1, 0, lambda _: None))


def test_the_program_itself_loads_nothing_of_the_extra():
    code = (
        "import sys; import lathed_solid.desk.app, lathed_solid.desk.glass.offers, lathed_solid.desk.glass.traced,"
        "lathed_solid.worker.pictures, lathed_solid.cli; from lathed_solid.core.drawing.scan import needs; needs.missing();"
        "print([m for m in ('cv2', 'onnxruntime', 'tesserocr', 'rapidocr') if m in sys.modules])"
    )
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "[]"


def test_the_button_the_script_and_the_project_name_the_same_packages():
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())
    assert sorted(project["project"]["optional-dependencies"]["pictures"]) == sorted(needs.EXTRA)
    assert f'PICTURE_MODELS="{needs.MODELS}"' in (ROOT / "tools/setup.sh").read_text()
    assert [c[-1] for c in commands()] == [needs.EXTRA[-1], needs.MODELS] and "--no-deps" in commands()[1]


def _saying(words: str, code: int = 0, then: str = "") -> tuple[str, ...]:
    return sys.executable, "-c", f"import sys, time; print({words!r}, flush=True); {then or 'pass'}; sys.exit({code})"


def test_fetching_tells_what_it_does_and_can_be_stopped():
    told = []
    Fetching((_saying("Collecting onnxruntime==1.32.0"), _saying("Downloading rapidocr-3.10.0.whl (27 MB)"))).run(
        told.append
    )
    assert told == ["looking for onnxruntime", "loading rapidocr-3.10.0.whl (27 MB)"]
    assert in_words("Requirement already satisfied: numpy") == ""
    slow = Fetching((_saying("Collecting x", then="time.sleep(60)"), _saying("never")))
    with pytest.raises(CannotFetch, match="stopped"):
        slow.run(lambda _: slow.stop())


@pytest.mark.faults
@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("ERROR: Could not find a version that satisfies the requirement onnxruntime", "network"),
        ("NewConnectionError: Temporary failure in name resolution", "network"),
        ("OSError: [Errno 28] No space left on device", "disk is full"),
        ("error: externally-managed-environment", "may not be written"),
        ("something else", "log"),
    ],
)
def test_why_it_could_not_be_fetched_is_said_in_plain_words(said, words):
    assert words in why(said)
    with pytest.raises(CannotFetch, match=words):
        Fetching((_saying(said, 1),)).run(lambda _: None)
