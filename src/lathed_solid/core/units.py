"""The lengths that units stand for; all of the program works in millimetres."""

from __future__ import annotations

#: The international inch, mm, exactly (1959).
INCH = 25.4
FOOT = 304.8
THOU = 0.0254
#: mm in one unit of a drawing.
UNITS = {"mm": 1.0, "in": INCH}
