"""How each gauge reads a size off the solid, in words for a report."""

from __future__ import annotations

from ..route.gauges import (
    AnyGauge,
    Apart,
    AxesApart,
    AxisAngle,
    AxisFrom,
    Between,
    CircleThrough,
    Count,
    Depth,
    Diameter,
    DiameterAt,
    Drawn,
    EndAngle,
    FaceAngle,
    Gauge,
    HelixSize,
    Included,
    Leg,
    LegAngle,
    LetterHeight,
    OpenEnds,
    Position,
    Radius,
    SeatAngle,
    ThreadDepth,
    ThreadOn,
    Walls,
    WidestCircle,
)

_METHODS: dict[type[Gauge], str] = {
    Diameter: "diameter of the round face",
    DiameterAt: "diameter of the cone in a plane",
    Radius: "radius of the face",
    Between: "between two faces",
    Leg: "section across the chamfer",
    LegAngle: "section across the chamfer",
    SeatAngle: "angle of the cone",
    WidestCircle: "largest round edge",
    Depth: "along the axis, from the face it starts in",
    AxisFrom: "axis from a face",
    CircleThrough: "axis from the turning axis, twice",
    AxisAngle: "direction of the axis",
    Count: "places counted",
    Position: "from the part's zero",
    AxesApart: "between two axes",
    Apart: "from one to the next",
    FaceAngle: "between two faces",
    EndAngle: "angle of the cone",
    Included: "between two faces",
    Walls: "between inner and outer faces",
    HelixSize: "section through the groove",
    LetterHeight: "between the ends of the letters",
    Drawn: "between faces, in the drawn plane",
    OpenEnds: "felt past each end of the axis",
    ThreadOn: "thread on the face",
    ThreadDepth: "length of the thread",
}


def method(gauge: AnyGauge) -> str:
    """How a size is read with a gauge."""
    return _METHODS[type(gauge)]
