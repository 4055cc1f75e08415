"""ISO metric screw threads: designations, basic sizes and the limits a cosmetic thread can be judged by."""

from __future__ import annotations

import re

import msgspec

from .tables import table

_DESIGNATION = re.compile(
    r"M\s*(?P<d>\d+(?:\.\d+)?)(?:\s*[xX×]\s*(?P<p>\d+(?:\.\d+)?))?(?P<lh>\s*-?\s*LH)?"
    r"(?:\s*-\s*(?P<c>\d[a-hA-H](?:\d[a-hA-H])?))?(?P<lh2>\s*-?\s*LH)?"
)


class MetricThread(msgspec.Struct, frozen=True):
    """``diameter`` and ``pitch`` in mm; ``tolerance_class`` such as ``6g`` or ``6H``, empty when unstated."""

    diameter: float
    pitch: float
    tolerance_class: str = ""
    left_hand: bool = False

    @property
    def designation(self) -> str:
        """The full designation, pitch always written (ISO 965-1 clause 5)."""
        text = f"M{self.diameter:g}x{self.pitch:g}"
        if self.tolerance_class:
            text += f" - {self.tolerance_class}"
        return text + (" - LH" if self.left_hand else "")

    @property
    def minor_diameter(self) -> float:
        """d1 = d - 1.082532 P (ISO 724)."""
        return self.diameter - 1.082531755 * self.pitch

    @property
    def tap_drill(self) -> float:
        """The usual metric tapping drill, d - P (about 77 % of thread; ISO 2306)."""
        return round(self.diameter - self.pitch, 2)

    def minor_limits(self) -> tuple[float, float]:
        """Limits in mm of the internal minor diameter for 6H: D1 to D1 + TD1(6) (ISO 965-1 table 3).

        Pitches the table does not hold take its formula, 230 P^0.7 micrometres (433 P - 190 P^1.22 below 1).
        """
        p = self.pitch
        width = table("iso_metric")["minor_tolerance_6"].get(f"{p:g}")
        if width is None:
            width = 433 * p - 190 * p**1.22 if p < 1 else 230 * p**0.7
        return self.minor_diameter, self.minor_diameter + width / 1000


def coarse_pitch(diameter: float) -> float:
    """The coarse pitch of ISO 261. Raises LookupError for a diameter without one."""
    pitch = table("iso_metric")["coarse"].get(f"{diameter:g}")
    if pitch is None:
        raise LookupError(f"M{diameter:g} has no coarse pitch in ISO 261; write the pitch, as in M{diameter:g}x1.")
    return float(pitch)


def parse_designation(text: str) -> MetricThread:
    """``M6``, ``M6x1``, ``M10x1.5 - 6g``. Raises LookupError when it is no metric designation."""
    match = _DESIGNATION.fullmatch(text.strip())
    if not match:
        raise LookupError(f"“{text}” is not a metric thread such as M6x1 - 6H.")
    diameter = float(match["d"])
    pitch = float(match["p"]) if match["p"] else coarse_pitch(diameter)
    if not 0 < pitch < diameter / 1.5:
        raise LookupError(f"A pitch of {pitch:g} does not go with M{diameter:g}.")
    return MetricThread(diameter, pitch, match["c"] or "", bool(match["lh"] or match["lh2"]))
