"""Fixtures shared by all tests. Nothing outside the test's own folder is written."""

from __future__ import annotations

import logging
import os
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

os.environ["QT_QPA_PLATFORM"] = "xcb"
if os.environ.get("NO_WINDOW"):
    sys.modules["PyQt6"] = None  # type: ignore[assignment]  # as if it were not installed
sys.path[:0] = [str(Path(__file__).parents[1] / "examples"), str(Path(__file__).parents[1])]

settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")

EXAMPLES = Path(__file__).parents[1] / "examples"


#: What the program writes to its log in this run, in the kernel processes too.
_LOG = Path(tempfile.mkstemp(prefix="lathed-log-")[1])


def pytest_sessionstart() -> None:
    """The kernel's helper is forked before any window or thread exists, as the program does it."""
    from lathed_solid.worker.zygote import warm_up

    handler = logging.FileHandler(_LOG)
    handler.setLevel(logging.WARNING)
    logging.getLogger("lathed_solid").addHandler(handler)
    warm_up()


def pytest_sessionfinish() -> None:
    from lathed_solid.worker.zygote import warm_up

    warm_up()._socket.close()  # the helper ends with it
    _LOG.unlink(missing_ok=True)


@pytest.fixture(autouse=True)
def nothing_in_the_log(request: pytest.FixtureRequest) -> Iterator[None]:
    """A fault that is only logged fails the test in which it happened, unless the test is about faults."""
    before = _LOG.stat().st_size
    yield
    said = _LOG.read_text()[before:]
    if said and not request.node.get_closest_marker("faults"):
        pytest.fail(f"the log says:\n{said}", pytrace=False)


@pytest.fixture(scope="session", autouse=True)
def own_folders(tmp_path_factory: pytest.TempPathFactory) -> None:
    home = tmp_path_factory.mktemp("home")
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
        os.environ[name] = str(home / name)


@pytest.fixture(scope="session")
def arbor():
    """SKP-01 as content."""
    import make

    return make.arbor().content


@pytest.fixture(scope="session")
def flange():
    """SKP-02 as content."""
    import make

    return make.flange().content
