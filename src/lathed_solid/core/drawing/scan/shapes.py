"""Signs that recognisers mix up, told by the shape of their ink: Ø, ±, the depth and seat signs, the square."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Truths
from .ink import Gray
from .model import Glyph

#: Pixels of height at which shapes are looked at.
_HIGH = 90


class _Piece(NamedTuple):
    x: int
    y: int
    w: int
    h: int
    area: int
    label: int


class _Row(NamedTuple):
    left: int
    right: int
    pieces: tuple[_Piece, ...]


class Group(NamedTuple):
    """A character: its ink (1 where there is some), where it stands in the line, pixels, and which sign it is, if
    any.
    """

    shape: Gray
    left: int
    bottom: int
    sign: str


def glyphs(line: Gray) -> tuple[Glyph, ...]:
    """The characters of an upright line from left to right, told by size and sign."""
    every = groups(line)
    if not every:
        return ()
    usual, wide = _usual(g.shape.shape[0] for g in every), line.shape[1] * _HIGH / max(12, line.shape[0])
    foot = float(np.median([g.bottom for g in every if g.shape.shape[0] > 0.7 * usual]))
    return tuple(_glyph(g, wide, usual, foot) for g in every)


def _glyph(group: Group, wide: float, usual: float, foot: float) -> Glyph:
    tall, across = group.shape.shape
    up = (foot - group.bottom + tall / 2) / usual
    return Glyph((group.left + across / 2) / wide, across / usual, tall / usual, group.sign, up)


def _usual(heights: Iterable[int]) -> float:
    every = list(heights)
    return float(np.median([h for h in every if h > 0.5 * max(every)]))


def groups(line: Gray) -> list[Group]:
    """The characters of an upright line from left to right, pieces that stand above each other taken together."""
    k = _HIGH / max(12, line.shape[0])
    large = cv2.resize(line, None, fx=k, fy=k, interpolation=cv2.INTER_CUBIC)
    low, high = np.percentile(large, 1), np.percentile(large, 90)
    ink = (large < low + 0.55 * (high - low)).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    pieces = [
        _Piece(int(s[0]), int(s[1]), int(s[2]), int(s[3]), int(s[4]), i) for i, s in enumerate(stats) if i and s[4] > 20
    ]
    if not pieces:
        return []
    usual, found = _usual(p.h for p in pieces), []
    for row in _grouped(pieces):
        top = min(p.y for p in row.pieces)
        bottom = max(p.y + p.h for p in row.pieces)
        shape = np.isin(labels[top:bottom, row.left : row.right], [p.label for p in row.pieces]).astype(np.uint8)
        found.append(Group(shape, row.left, bottom, _sign(shape, row.pieces, usual)))
    return found


def _grouped(pieces: list[_Piece]) -> list[_Row]:
    rows: list[_Row] = []
    for p in sorted(pieces, key=lambda p: p.x):
        last = rows[-1] if rows else None
        if last and p.x < last.right - 0.35 * min(p.w, last.right - last.left):
            rows[-1] = _Row(last.left, max(last.right, p.x + p.w), (*last.pieces, p))
        else:
            rows.append(_Row(p.x, p.x + p.w, (p,)))
    return rows


def _sign(shape: Gray, pieces: tuple[_Piece, ...], usual: float) -> str:
    tall, wide = shape.shape
    if len(pieces) == 2:
        return "±" if _is_plus_over_bar(pieces, wide) else ""
    if tall <= 0.75 * usual or wide <= 0.3 * tall:
        return ""
    if tall < 1.6 * usual and 0.5 < wide / tall < 1.35:
        holes = _holes(shape)
        if _is_slashed(shape, holes):
            return "Ø"
        if _is_square(shape, holes):
            return "□"
    return _open_sign(shape) if wide > 0.45 * tall else ""


def _is_plus_over_bar(pieces: tuple[_Piece, ...], wide: int) -> bool:
    upper, lower = sorted(pieces, key=lambda p: p.y)
    flat = lower.h < 0.3 * lower.w and lower.w > 0.5 * wide
    return flat and upper.h > 0.5 * upper.w and upper.area < 0.6 * upper.w * upper.h


class _Hole(NamedTuple):
    x: float
    y: float
    area: float


def _holes(shape: Gray) -> list[_Hole]:
    """What the ink encloses, the larger two; middles and areas as shares of the box."""
    tall, wide = shape.shape
    outlines, tree = cv2.findContours(shape, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found = []
    for outline, links in zip(outlines, tree[0] if tree is not None else (), strict=False):
        if links[3] >= 0:
            x, y, w, h = cv2.boundingRect(outline)
            found.append(_Hole((x + w / 2) / wide, (y + h / 2) / tall, cv2.contourArea(outline) / (wide * tall)))
    return sorted((h for h in found if h.area > 0.008), key=lambda h: -h.area)[:2]


def _is_slashed(shape: Gray, holes: list[_Hole]) -> bool:
    """Ø: two holes along a falling diagonal (those of an 8 stand upright), or ink in just two of the corners."""
    tall, wide = shape.shape
    q = max(2, int(0.24 * min(wide, tall)))
    rising = shape[:q, -q:].mean() + shape[-q:, :q].mean()
    falling = shape[:q, :q].mean() + shape[-q:, -q:].mean()
    lean = float(rising - falling)
    if len(holes) == 2:
        a, b = sorted(holes)
        if b.x - a.x > 0.1 and b.y - a.y > 0.08 and lean > -0.05:
            return True
    core = shape[tall // 3 : 2 * tall // 3, wide // 3 : 2 * wide // 3].mean()
    return bool(lean > 0.35 and core > 0.2 and holes)


def _is_square(shape: Gray, holes: list[_Hole]) -> bool:
    """□: one large hole, and ink in all four corners."""
    if len(holes) != 1 or holes[0].area < 0.45:
        return False
    s = max(2, int(0.24 * min(shape.shape))) // 2 + 1
    corners = shape[:s, :s], shape[:s, -s:], shape[-s:, :s], shape[-s:, -s:]
    return bool(min(c.mean() for c in corners) > 0.75)


def _open_sign(shape: Gray) -> str:
    """⌴ a floor and two walls, ⌵ two legs that meet below, ↧ a bar over a thin neck over an arrow."""
    tall, wide = shape.shape
    s = max(2, tall // 7)
    floor, head = shape[-s:].max(0) > 0, shape[:s].max(0) > 0
    upper = shape[: int(0.7 * tall)]
    walls = min(upper[:, : int(0.25 * wide)].mean(), upper[:, -int(0.25 * wide) :].mean())
    if floor.mean() > 0.9 and upper[:, int(0.3 * wide) : int(0.7 * wide)].mean() < 0.03 and walls > 0.15:
        return "⌴"
    edge = max(2, wide // 5)
    legs = head[:edge].any() and head[-edge:].any() and not head[int(0.35 * wide) : int(0.65 * wide)].any()
    if floor.mean() < 0.4 and legs and wide > 0.95 * tall:
        return "⌵"
    return "↧" if _is_depth(shape, head, floor) else ""


def _is_depth(shape: Gray, head: Truths, floor: Truths) -> bool:
    tall, wide = shape.shape
    if not 0.4 < wide / tall < 1.1 or head.mean() <= 0.8 or floor.mean() >= 0.95:
        return False
    neck = shape[int(0.2 * tall) : int(0.4 * tall)].any(0).mean()
    rows = [float(shape[int(f * tall)].sum()) / wide for f in (0.62, 0.75, 0.88)]
    spread = max(rows) > 0.4 and rows[2] <= max(rows) + 0.01
    return bool(neck < 0.5 and spread and shape[int(0.3 * tall)].sum() < 0.4 * wide and shape[-1].sum() < 0.5 * wide)
