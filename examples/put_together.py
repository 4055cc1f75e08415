"""SKP-00, the chart drum put together: arbor in its bearing, two flanges with their screws, nuts and set screws.

Each flange stands on the arbor's Ø20, spigots towards each other; the left one is held by its set screw on the arbor's
flat, the right one stands 0.3 off the collar, because its bore's 0.8 x 45° does not clear the R1 there.
"""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
from msgspec.structs import replace

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.holes import in_every_hole, put_in, round_face_for
from lathed_solid.core.fit.model import BOUGHT, Assembly, Drive, End, Pose
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.job.assembling.shots import Shot, shot_of_content, shots_of
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.bought.made import bought
from lathed_solid.core.standards.fasteners import Kind

#: Where the flat on the arbor is measured.
FLAT = (18.0000001, 8.5, 30.0)


class Bench:
    """An assembly being put together."""

    def __init__(self, folder: Path, store: Store) -> None:
        self.folder, self.store = folder, store
        self.assembly = Assembly(number="SKP-00", title="Chart drum, put together", revision="A")

    def _put(self, shot: Shot, place: tuple[float, float, float], turned: float = 0.0) -> str:
        self.store.put(shot.solid)
        pose = edits.moved(Pose(place), (0.0, 0.0, 0.0), angle=turned)
        self.assembly, (name,) = edits.insert(self.assembly, shot.part, [pose])
        return name

    def job(self, number: str, place: tuple[float, float, float] = (0, 0, 0), turned: float = 0.0) -> str:
        (shot,) = shots_of(self.folder / f"{number}.lathed", self.folder, self.store)
        return self._put(shot, place, turned)

    def bought(self, kind: Kind, size: str, length: float, place: tuple[float, float, float]) -> str:
        content = bought(kind, size, length)
        return self._put(shot_of_content(content, f"{BOUGHT}{content.header.number}", ""), place)

    def face(self, instance: str, kind: str, **wanted: Any) -> End:
        part = self.assembly.part_of(instance)
        for name, s in zip(part.references, part.surfaces, strict=True):
            if s.kind == kind and all(np.allclose(getattr(s, k), v, atol=1e-6) for k, v in wanted.items()):
                return End(instance, name)
        raise LookupError(f"{instance} has no such {kind}: {wanted}")

    def tie(self, kind: Any, a: End, b: End, value: str = "", opposed: bool | None = None) -> str:
        self.assembly, name = edits.relate(self.assembly, kind, a, b, value, opposed)
        self.assembly = solved(self.assembly, name).assembly
        return name

    def onto(self, face: End, hole: End, instance: str) -> None:
        """A nut or washer in line with a hole, against a face."""
        mine = round_face_for(self.assembly, instance, hole)
        assert mine is not None
        self.tie("in line", hole, mine)
        self.tie("seated", face, self.face(instance, "plane", origin=(0, 0, 0), axis=(0, 0, -1)))

    def into(self, hole: End, instance: str) -> None:
        """Put something into a hole, or before it."""
        mine = round_face_for(self.assembly, instance, hole)
        assert mine is not None
        self.assembly, name = put_in(self.assembly, hole, mine)
        self.assembly = solved(self.assembly, name).assembly


def chart_drum(folder: Path, store: Store) -> Assembly:
    b = Bench(folder, store)
    bearing = b.bought("ball_bearing", "6001", 0, (0, 0, 0))
    arbor = b.job("skp-01", (0, 0, -16))
    bore = b.face(bearing, "cylinder", radius=6.0)
    b.tie("in line", bore, b.face(arbor, "cylinder", radius=6.0, hollow=False))
    shoulder = b.face(arbor, "plane", origin=(0, 0, 24), axis=(0, 0, -1))
    b.tie("seated", b.face(bearing, "plane", axis=(0, 0, 1)), shoulder)
    seat = b.face(arbor, "cylinder", radius=10.0, hollow=False)
    # The left flange's tapped hole looks at the flat, along Y.
    left, right = b.job("skp-02", (0, 0, 10), math.radians(-90)), b.job("skp-02", (0, 0, 70))
    for flange in (left, right):
        b.tie("in line", seat, b.face(flange, "cylinder", radius=10.0, hollow=True))
    outer = {"origin": (0, 0, 0), "axis": (0, 0, -1)}
    b.tie("flush", shoulder, b.face(left, "plane", **outer), "-2")
    b.tie("seated", b.face(arbor, "plane", origin=(0, 0, 92), axis=(0, 0, -1)), b.face(right, "plane", **outer), "0.3")
    # The left flange's set screw stands on the arbor's flat.
    screw = b.bought("socket_set", "M5", 12, (60, 0, 30))
    tapped = b.face(left, "cylinder", radius=2.1)
    b.tie("in line", tapped, b.face(screw, "cylinder", radius=2.5))
    b.tie("seated", b.face(arbor, "plane", origin=FLAT, axis=(0, 1, 0)), b.face(screw, "plane", axis=(0, 0, 1)))
    # What of the right flange can still turn is said by an angle, so that it can be driven.
    keyway = {"axis": (0, 1, 0)}
    turned = b.tie("angle", b.face(left, "plane", **keyway), b.face(right, "plane", **keyway), "0")
    for flange, way in ((left, 1), (right, -1)):
        hole = b.face(flange, "cylinder", radius=2.75)
        cap = b.bought("socket_cap", "M5", 16, (70.0 * way, 0, -60.0 * way))
        b.into(hole, cap)
        nut = b.bought("hexagon_nut", "M5", 0, (60.0 * way, 0, 45.0 if way > 0 else 40.0))
        b.onto(b.face(flange, "plane", origin=(0, 0, 13)), hole, nut)
        b.assembly = solved(in_every_hole(in_every_hole(b.assembly, cap), nut)).assembly
    # The thread ends 1 before the shoulder: without a washer the nut would run onto the plain end of it.
    end, under = b.face(arbor, "cylinder", radius=5.0, hollow=False), b.face(arbor, "plane", origin=(0, 0, 140))
    for kind, thick in (("washer", 2.0), ("hexagon_nut", 0.0)):
        b.onto(under, end, made := b.bought(kind, "M10", 0, (0, 0, 145 + 5 * (kind == "hexagon_nut"))))
        under = b.face(made, "plane", origin=(0, 0, thick), axis=(0, 0, 1)) if thick else under
    return replace(b.assembly, drive=Drive(turned, "0", "360"))
