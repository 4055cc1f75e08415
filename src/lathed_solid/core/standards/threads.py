"""Screw threads: what a designation means, and the basic sizes that follow from it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from fractions import Fraction
from typing import Any, Literal

import msgspec

from ..units import INCH
from .tables import NotTabled, table

System = Literal["M", "UN", "G", "Rc", "R", "NPT", "Tr"]

_HAND = r"(?P<lh>\s*-?\s*LH)?"
_METRIC = re.compile(
    r"M\s*(?P<d>\d+(?:\.\d+)?)(?:\s*[xX×]\s*(?P<p>\d*\.?\d+))?"
    + _HAND
    + r"(?:\s*-\s*(?P<c>\d[a-hA-H](?:\d[a-hA-H])?))?(?P<lh2>\s*-?\s*LH)?"
)
_UNIFIED = re.compile(
    r"(?:#|No\.?\s*)?(?P<size>\d+\s+\d+/\d+|\d+/\d+|\d*\.\d+|\d+)\s*(?:\"|in)?(?:\s*-\s*(?P<tpi>\d+(?:\.\d+)?))?\s*-?\s*"
    r"(?P<series>UNC|UNF|UNEF|UNS|UN)(?:\s*-?\s*(?P<c>[123][AB]))?(?P<lh>\s*-?\s*LH)?",
    re.IGNORECASE,
)
_NPT = re.compile(
    r"(?P<size>\d+\s+\d+/\d+|\d+/\d+|\d+)\s*(?:\"|in)?(?:\s*-\s*(?P<tpi>\d+(?:\.\d+)?))?\s*-?\s*NPT" + _HAND,
    re.IGNORECASE,
)
_PIPE = re.compile(
    r"(?P<system>G|Rc|R)\s*(?P<size>\d+\s+\d+/\d+|\d+/\d+|\d+)\s*(?:\"|in)?\s*(?P<c>[AB])?(?:\s*pipe(?:\s+thread)?)?(?P<lh>\s*-?\s*LH)?"
)
_TRAPEZOID = re.compile(
    r"Tr\s*(?P<d>\d+(?:\.\d+)?)(?:\s*[xX×]\s*(?P<lead>\d*\.?\d+)(?:\s*\(\s*P\s*(?P<p>\d*\.?\d+)\s*\))?)?"
    r"(?P<lh>\s*-?\s*LH)?(?:\s*-\s*(?P<c>\d[a-hA-H]))?(?P<lh2>\s*-?\s*LH)?"
)


class ScrewThread(msgspec.Struct, frozen=True):
    """``diameter`` (major) and ``pitch`` in mm; ``tolerance_class`` such as ``6g``, ``2B``, ``A``, empty when unstated.

    ``size`` is the trade name of unified and pipe sizes (``1/4``, ``10``), ``series`` that of unified threads.
    """

    diameter: float
    pitch: float
    tolerance_class: str = ""
    left_hand: bool = False
    system: System = "M"
    size: str = ""
    series: str = ""
    starts: int = 1

    @property
    def designation(self) -> str:
        """The full designation, pitch always written (ISO 965-1 clause 5, ASME B1.1 section 6, ISO 228-1, ISO 2902)."""
        text = {
            "M": f"M{self.diameter:g}x{self.pitch:g}",
            "UN": f"{self.size}-{self.per_inch:g} {self.series}",
            "G": f"G{self.size}",
            "Rc": f"Rc{self.size}",
            "R": f"R{self.size} pipe",
            "NPT": f"{self.size}-{self.per_inch:g} NPT",
            "Tr": f"Tr{self.diameter:g}x{self.lead:g}" + (f"(P{self.pitch:g})" if self.starts > 1 else ""),
        }[self.system]
        if self.tolerance_class:
            text += {"UN": "-", "G": " "}.get(self.system, " - ") + self.tolerance_class
        return text + (" - LH" if self.left_hand else "")

    @property
    def per_inch(self) -> float:
        """Threads per inch."""
        return round(INCH / self.pitch, 6)

    @property
    def lead(self) -> float:
        """Advance in one turn, mm."""
        return self.pitch * self.starts

    @property
    def internal(self) -> bool | None:
        """Whether the class says it is cut in a hole; None when it does not say."""
        last = self.tolerance_class[-1:]
        if not last or self.system in ("G", "Rc", "R", "NPT"):
            return {"Rc": True, "R": False}.get(self.system)
        return last == "B" if self.system == "UN" else last.isupper()

    @property
    def minor_diameter(self) -> float:
        """Basic minor diameter of the internal thread, mm.

        60°: D - 1.082532 P (ISO 724, ASME B1.1); pipe: D - 1.280654 P (ISO 228-1, ISO 7-1); trapezoidal: D - P (ISO
        2904); NPT: twice 0.8 P deep (ASME B1.20.1), at the large end.
        """
        height = {"G": 1.280654, "Rc": 1.280654, "R": 1.280654, "NPT": 1.6, "Tr": 1.0}.get(self.system, 1.082531755)
        return self.diameter - height * self.pitch

    @property
    def pitch_diameter(self) -> float:
        """Basic pitch diameter, mm: D - 0.649519 P, pipe D - 0.640327 P, NPT D - 0.8 P, trapezoidal D - P/2."""
        height = {"G": 0.640327, "Rc": 0.640327, "R": 0.640327, "NPT": 0.8, "Tr": 0.5}.get(self.system, 0.649519053)
        return self.diameter - height * self.pitch


def reach_on(span: tuple[float, float], length: float, from_high: bool) -> tuple[float, float]:
    """Where a thread of that ``length`` (0: all the way) begins and ends on a face with that ``span`` along its axis,
    mm; ``from_high`` when it starts at the far end. It never goes past the face.
    """
    low, high = span
    long = min(length, high - low) if length > 0 else high - low
    return (high - long, high) if from_high else (low, low + long)


def coarse_pitch(diameter: float) -> float:
    """The coarse pitch of ISO 261. Raises NotTabled for a diameter without one."""
    pitch = table("iso_metric")["coarse"].get(f"{diameter:g}")
    if pitch is None:
        raise NotTabled(f"M{diameter:g} has no coarse pitch in ISO 261; write the pitch, as in M{diameter:g}x1.")
    return float(pitch)


def screw_size(text: str) -> float:
    """Major diameter in mm of an inch screw size: a number up to 12 (0.060 + 0.013 n inch, ASME B1.1), a fraction, a
    decimal, or whole inches written ``1 in``. Raises NotTabled.
    """
    words = text.removesuffix("in").split()
    try:
        if len(words) == 1 and words[0].isdigit() and not text.endswith("in"):
            if int(words[0]) > 12:
                raise ValueError
            return (0.060 + 0.013 * int(words[0])) * INCH
        return float(sum(Fraction(w) for w in words)) * INCH
    except (ValueError, ZeroDivisionError):
        raise NotTabled(f"“{text}” is no screw size such as 10, 1/4 or .500.") from None


def parse_designation(text: str) -> ScrewThread:
    """``M6``, ``M10x1.5 - 6g``, ``1/4-20 UNC-2B``, ``10-32 UNF``, ``G1/2``, ``Rc 3/8``, ``R 1/2 pipe``, ``1/4 NPT``,
    ``Tr 20x4 - 7e``.

    Raises NotTabled when it is no designation, or its table has no such size.
    """
    text = text.strip()
    for pattern, make in (
        (_METRIC, _metric),
        (_TRAPEZOID, _trapezoid),
        (_PIPE, _pipe),
        (_NPT, _npt),
        (_UNIFIED, _unified),
    ):
        if match := pattern.fullmatch(text):
            return make(match)
    raise NotTabled(f"“{text}” is not a thread such as M6x1 - 6H, 1/4-20 UNC-2B, G1/2 or Tr20x4.")


def _hand(match: re.Match[str]) -> bool:
    found = match.groupdict()
    return bool(found.get("lh") or found.get("lh2"))


def _metric(match: re.Match[str]) -> ScrewThread:
    diameter = float(match["d"])
    pitch = float(match["p"]) if match["p"] else coarse_pitch(diameter)
    if not 0 < pitch < diameter / 1.5:
        raise NotTabled(f"A pitch of {pitch:g} does not go with M{diameter:g}.")
    return ScrewThread(diameter, pitch, match["c"] or "", _hand(match))


def _trapezoid(match: re.Match[str]) -> ScrewThread:
    diameter = float(match["d"])
    known = table("iso_metric")["trapezoidal"].get(f"{diameter:g}")
    if not match["lead"] and known is None:
        raise NotTabled(f"Tr{diameter:g} needs its pitch, as in Tr{diameter:g}x4.")
    lead = float(match["lead"] or known)
    pitch = float(match["p"]) if match["p"] else lead
    if not 0 < pitch < diameter / 1.5:
        raise NotTabled(f"A pitch of {pitch:g} does not go with Tr{diameter:g}.")
    starts = round(lead / pitch)
    if starts < 1 or abs(starts * pitch - lead) > 1e-9:
        raise NotTabled(f"The lead {lead:g} is not a multiple of the pitch {pitch:g}.")
    return ScrewThread(diameter, pitch, match["c"] or "", _hand(match), "Tr", starts=starts)


def _pipe(match: re.Match[str]) -> ScrewThread:
    data = table("pipe")
    system: Any = match["system"].capitalize()
    size = " ".join(match["size"].split())
    if size not in data["size"] or (system != "G" and size not in data["series"]["rc"]):
        raise NotTabled(f"{system} {size} is not in the table of {'ISO 228-1' if system == 'G' else 'ISO 7-1'}.")
    diameter, per_inch = data["size"][size]
    return ScrewThread(float(diameter), INCH / per_inch, match["c"] or "", _hand(match), system, size)


def _npt(match: re.Match[str]) -> ScrewThread:
    sizes, size = table("pipe")["npt"], " ".join(match["size"].split())
    if size not in sizes:
        raise NotTabled(f"{size} NPT is not in the table of ASME B1.20.1.")
    diameter, per_inch = sizes[size]
    if match["tpi"] and float(match["tpi"]) != per_inch:
        raise NotTabled(f"{size} NPT has {per_inch:g} threads per inch, not {match['tpi']}.")
    return ScrewThread(diameter * INCH, INCH / per_inch, "", _hand(match), "NPT", size)


def _unified(match: re.Match[str]) -> ScrewThread:
    size, series = " ".join(match["size"].split()), match["series"].upper()
    per_inch = float(match["tpi"]) if match["tpi"] else None
    of_size = [row for row in table("unified").get(series, ()) if _names(row, size)]
    rows = [row for row in of_size if per_inch in (None, row[1])]
    if of_size and not rows:
        raise NotTabled(f"{size} {series} has {of_size[0][1]:g} threads per inch, not {per_inch:g}.")
    if len(rows) > 1:
        raise NotTabled(
            f"There are two sizes {size} {series}; write the threads per inch, as in {size}-{rows[1][1]:g}."
        )
    if rows:
        size, per_inch, diameter = rows[0][0], rows[0][1], rows[0][2] * INCH
    elif series in table("unified"):
        raise NotTabled(f"{size} is not in the {series} series of ASME B1.1.")
    elif per_inch is None:
        raise NotTabled(f"Write the threads per inch, as in {size}-20 {series}.")
    else:
        diameter = screw_size(size)
    pitch = INCH / per_inch
    if pitch > diameter / 1.5:
        raise NotTabled(f"{per_inch:g} threads per inch do not go with size {size}.")
    return ScrewThread(diameter, pitch, (match["c"] or "").upper(), _hand(match), "UN", size, series)


def _names(row: Sequence[str | float], size: str) -> bool:
    """Whether a row of the unified table is the size written as ``size`` (its name, or its decimal inches)."""
    return bool(row[0] == size or ("." in size and abs(float(row[2]) - float(size)) < 3e-4))
