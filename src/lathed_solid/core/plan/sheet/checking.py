"""What can be measured when, with what, and which limits are carried through more than one set-up."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ...kernel.ground.figures import Surface
from .gauging import Measure, ends_of, instrument
from .order import Placed
from .work import Built, Sized

#: A face that comes as bought: no set-up makes it.
BOUGHT = -1


class Check(NamedTuple):
    """``chain`` says that the size is carried through set-ups; empty when it is made from one seat."""

    sized: Sized
    measure: Measure
    chain: str = ""


def checks(setups: Sequence[Placed], built: Built) -> tuple[tuple[Check, ...], ...]:
    """For each set-up the sizes that are whole when it is done; sizes that need no measuring there (counts) are left
    out.
    """
    made = made_in(setups)
    found: list[list[Check]] = [[] for _ in setups]
    for sized in built.sized:
        faces = ends_of(sized, [built.surfaces[f - 1] for f in sized.faces if 0 < f <= len(built.surfaces)])
        if sized.kind == "count" or not faces or not setups:
            continue
        at = max(made.get(f.index, BOUGHT) for f in faces)
        found[max(at, 0)].append(Check(sized, instrument(sized, faces), _chain(sized, faces, made, setups)))
    return tuple(tuple(c) for c in found)


def made_in(setups: Sequence[Placed]) -> dict[int, int]:
    """The set-up in which each face gets its last cut."""
    return {face: at for at, placed in enumerate(setups) for o in placed.operations for face in o.faces}


def _chain(sized: Sized, faces: Sequence[Surface], made: Mapping[int, int], setups: Sequence[Placed]) -> str:
    """Between faces of different set-ups a size takes in how the part was seated, unless that was on one of them."""
    if sized.kind not in ("length", "geometric") or sized.shape == "chamfer" or len(faces) < 2:
        return ""
    where = sorted({made.get(f.index, BOUGHT) for f in faces})
    if len(where) < 2:
        return ""
    last = where[-1]
    seat = setups[last].seat
    if seat is not None and any(f.index == seat.index for f in faces):
        return ""
    names = " and ".join("as bought" if w == BOUGHT else str(w + 1) for w in where)
    return f"its faces are made in set-ups {names}, and set-up {last + 1} seats on neither: the seating adds to it"
