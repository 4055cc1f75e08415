"""The part in hand: readings of it against the limits, with what the instrument leaves unsure.

Source of the rule: ISO 14253-1 (decision rules for proving conformity). A part is shown to be good only where the
reading with its whole uncertainty (k for 95 %) lies inside the limits, and shown to be bad only where it lies outside
with all of it. Between the two nothing is shown, and it is said so.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple

from ..caliper.instrument import Instrument, Way
from ..caliper.logbook import LogEntry
from ..caliper.statistics import summarise
from ..refusal import said
from ..tolerance import ON_LIMIT

Verdict = Literal["good", "bad", "unsure", "none"]
#: What each verdict is called.
VERDICTS: dict[Verdict, str] = {
    "good": "within limits", "bad": "outside limits", "unsure": "too near a limit to tell", "none": "not judged",
}  # fmt: skip
#: A callout's number and the key of its size; what stands for the mass.
Size = tuple[int, str]
MASS: Size = (0, "mass")
#: What calipers and a scale can say nothing of.
_OTHER_GAUGES = {
    "angle": "An angle is judged with a protractor or a sine bar.",
    "count": "Counted by eye.",
    "thread": "Crests say nothing of the flanks: a thread is judged with GO and NOT GO gauges.",
    "ratio": "A ratio is not measured with calipers.",
    "finish": "Judged with a roughness comparator.",
}


class InHand(NamedTuple):
    """One size of the part in hand. ``mean`` and ``sure`` (its uncertainty, 95 %) in mm or g, ``low`` and ``high`` the
    range it lies in for certain enough; ``words`` say why nothing is judged, with lengths as a refusal has them.
    """

    entry: LogEntry
    mean: float
    sure: float
    low: float
    high: float
    verdict: Verdict
    words: str = ""


def newest(entries: Iterable[LogEntry], piece: str = "") -> dict[Size, LogEntry]:
    """The newest readings of every size of a ``piece``, by callout and key; its weighing by :data:`MASS`."""
    found: dict[Size, LogEntry] = {}
    for entry in sorted((e for e in entries if e.piece == piece), key=lambda e: e.when):
        if entry.way == "weight":
            found[MASS] = entry
        elif entry.callout is not None:
            found[entry.callout, entry.key] = entry
    return found


def judged(entry: LogEntry, kind: str, lower: float | None, upper: float | None) -> InHand:
    """The readings of one size against its limits (mm, or g; None where none are stated)."""
    way: Way = entry.way
    made = Instrument(
        name=entry.instrument or "instrument", kind="scale" if way == "weight" else "caliper",
        resolution=entry.resolution, error=entry.error,
    )  # fmt: skip
    found = summarise(entry.values, made, way)
    low, high = found.mean + found.low - found.U, found.mean + found.high + found.U
    plain = InHand(entry, found.mean, found.U, low, high, "none")
    if kind in _OTHER_GAUGES:
        return plain._replace(words=_OTHER_GAUGES[kind])
    if lower is None or upper is None:
        return plain._replace(words="No limits are stated for it.")
    if lower - ON_LIMIT <= low and high <= upper + ON_LIMIT:
        return plain._replace(verdict="good")
    if high < lower - ON_LIMIT or low > upper + ON_LIMIT:
        return plain._replace(verdict="bad")
    return plain._replace(verdict="unsure", words=_unsure(low, high, lower, upper, way == "weight"))


def _unsure(low: float, high: float, lower: float, upper: float, weight: bool) -> str:
    def told(value: float) -> str:
        return f"{value:.3f} g" if weight else said(value)

    room = (upper - lower) / 2
    if high - low >= upper - lower:
        return (
            f"The instrument is sure to ± {told((high - low) / 2)}, the limits leave ± {told(room)}: take a finer one."
        )
    return f"It lies between {told(low)} and {told(high)}: measure again, or with a finer instrument."


def pieces(entries: Sequence[LogEntry]) -> list[str]:
    """The pieces that have been measured, in the order they were begun; "" is the one that was given no name."""
    return list(dict.fromkeys(e.piece for e in entries if e.callout is not None or e.way == "weight"))
