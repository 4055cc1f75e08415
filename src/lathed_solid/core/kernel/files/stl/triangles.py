"""Meshes of other programs: STL as triangles. They have no faces: see ``faced`` for those found again in them."""

from __future__ import annotations

import re

import numpy as np

from ....arrays import Floats
from ...ground.check import KernelFailure
from ...measure.triangles import Triangles

_HEAD, _RECORD = 84, 50
_VERTEX = re.compile(rb"vertex\s+(\S+)\s+(\S+)\s+(\S+)")


def read_stl(data: bytes, name: str) -> Triangles:
    """The triangles of a binary or text STL file, mm. Raises KernelFailure when it holds none."""
    points = _binary(data) if _is_binary(data) else _text(data, name)
    if not len(points) or not np.isfinite(points).all():
        raise KernelFailure(f"{name} holds no triangles, or numbers that are none.")
    # single precision: a node written twice is rounded alike, so that what closes still does
    flat = np.round(points.reshape(-1, 3), 5)
    return Triangles(flat, np.arange(len(flat)).reshape(-1, 3), np.ones(len(flat) // 3, int))


def is_stl(data: bytes) -> bool:
    """Whether a file is one, by what it holds."""
    return _is_binary(data) or (data.lstrip()[:5] == b"solid" and b"facet" in data[:2000])


def _is_binary(data: bytes) -> bool:
    return len(data) >= _HEAD and len(data) == _HEAD + _RECORD * int.from_bytes(data[80:84], "little")


def _binary(data: bytes) -> Floats:
    record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])
    return np.asarray(np.frombuffer(data, record, offset=_HEAD)["corners"], float)


def _text(data: bytes, name: str) -> Floats:
    found = _VERTEX.findall(data)
    if not data.lstrip().startswith(b"solid") or not found or len(found) % 3:
        raise KernelFailure(f"{name} is no STL file, or it is cut off.")
    try:
        return np.array(found, float).reshape(-1, 3, 3)
    except ValueError as error:
        raise KernelFailure(f"{name} holds what is no number.") from error
