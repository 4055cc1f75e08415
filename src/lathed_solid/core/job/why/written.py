"""Numbers that would close a gap, as they would be written."""

from __future__ import annotations

import math
from collections.abc import Iterator

#: A number is written with about as many decimals as it is now (so many at most), or so many more, mm and inch.
_PLACES, _MORE = 3, (2, 4)
#: So many numbers of one precision are tried.
_FEW = 4
#: A number as it would be written is this near what it was solved for.
WRITTEN = 1e-4


def root(curve: tuple[float, float], wanted: float) -> float | None:
    """The smaller change with which a parabola through zero gives what is wanted."""
    slope, bend = curve
    if abs(bend) < 1e-12 * max(1.0, abs(slope)):
        return wanted / slope if slope else None
    under = slope * slope + 4 * bend * wanted
    if under < 0:
        return None
    roots = [(-slope + sign * math.sqrt(under)) / (2 * bend) for sign in (1, -1)]
    return min(roots, key=abs)


def written(value: float, text: str, is_inch: bool) -> Iterator[str]:
    """How a number that comes to nearly this would stand in the note, the shortest first."""
    before = ""
    usual = min(len(text.partition(".")[2]), _PLACES)
    for places in range(usual + (_MORE[1] if is_inch else _MORE[0])):
        said = f"{value:.{places}f}"
        if math.isclose(float(said), value, rel_tol=WRITTEN) and said.rstrip("0") != before.rstrip("0"):
            yield said
            if before or math.isclose(float(said), value, rel_tol=WRITTEN / 100):
                break
            before = said
    sixty_fourth = round(value * 64) / 64
    if is_inch and math.isclose(sixty_fourth, value, rel_tol=WRITTEN):
        yield f"{sixty_fourth:.8g}"


def roundest(low: float, high: float, is_inch: bool = False) -> Iterator[str]:
    """The numbers within a range that are written with the fewest decimals; a few, where there are many. Of inches also
    the fraction with the smallest denominator, down to sixty-fourths.
    """
    parts = (2**k for k in range(1, 7) if is_inch)
    fraction = next((k / n for n in parts for k in (math.ceil(low * n),) if k / n <= high), None)
    if fraction is not None:
        yield f"{fraction:.8g}"
    for places in range(_PLACES + 1):
        first = math.ceil(low * 10**places - 1e-9)
        found = [k for k in range(first, first + _FEW) if k <= high * 10**places + 1e-9]
        if found:
            yield from (f"{k / 10**places:.{places}f}" for k in found)
            return
