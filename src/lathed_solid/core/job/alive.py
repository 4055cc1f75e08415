"""Whether a program that left its mark still runs."""

from __future__ import annotations

from pathlib import Path


def started(process: int) -> str:
    """When a process was started, in the system's ticks; empty when there is no such process."""
    try:
        # The second field, the program's name in brackets, may hold anything; the start is the 20th after it.
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[19]
    except (OSError, IndexError):
        return ""


def alive(process: int, since: str) -> bool:
    """Whether this very process still runs; a number given to another process meanwhile is not it."""
    return bool(since) and started(process) == since
