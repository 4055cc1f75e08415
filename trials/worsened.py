"""A clean picture of a sheet made worse: as a scanner, a copier or a telephone would."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from lathed_solid.core.arrays import Floats
from lathed_solid.core.drawing.scan.ink import Gray

from .drawn import Note

Picture = NDArray[np.float32]
KINDS = ("clean", "scan", "photo", "crossed", "one bit", "skew", "jpeg", "faint", "blur", "by hand")


class Worse(NamedTuple):
    """``matrix`` takes clean pixels to the worse picture's."""

    gray: Gray
    matrix: Floats


def _noisy(picture: Picture, chance: np.random.Generator, much: float) -> Picture:
    return np.clip(picture + chance.normal(0, much, picture.shape), 0, 255).astype(np.float32)


def worsened(clean: Gray, kind: str, dots: float, seed: int, notes: tuple[Note, ...] = ()) -> Worse:
    chance = np.random.default_rng(seed * 101 + KINDS.index(kind))
    mm, matrix = dots / 25.4, np.eye(3)
    picture: Picture = clean.astype(np.float32)
    high, wide = clean.shape
    if kind in ("scan", "one bit", "skew"):
        turn = chance.uniform(1, 3) * chance.choice([-1, 1]) if kind == "skew" else chance.uniform(-0.4, 0.4)
        matrix[:2] = cv2.getRotationMatrix2D((wide / 2, high / 2), turn, 0.96 if kind == "skew" else 1)
        picture = cv2.warpPerspective(picture, matrix, (wide, high), flags=cv2.INTER_AREA, borderValue=245)
        picture = _scanned(picture, mm, chance)
        if kind == "one bit":
            picture = np.where(_noisy(picture, chance, 14) < 150, 0, 255).astype(np.float32)
    elif kind == "photo":
        picture, matrix = _photographed(picture, mm, chance)
    elif kind == "crossed":
        picture = _noisy(cv2.GaussianBlur(_crossed(picture, mm, chance, notes), (0, 0), 0.05 * mm), chance, 6)
    elif kind == "jpeg":
        picture = cv2.GaussianBlur(picture, (0, 0), 0.05 * mm)
    elif kind == "faint":
        picture = _noisy(205 - (255 - cv2.GaussianBlur(picture, (0, 0), 0.07 * mm)) * 0.22, chance, 7)
    elif kind == "blur":
        picture = _noisy(cv2.GaussianBlur(picture, (0, 0), 0.2 * mm), chance, 4)
    elif kind == "by hand":
        picture = _unsteady(picture, mm, chance)
    gray: Gray = np.clip(picture, 0, 255).astype(np.uint8)
    if kind in ("jpeg", "photo"):
        packed = cv2.imencode(".jpg", gray, [cv2.IMWRITE_JPEG_QUALITY, 18 if kind == "jpeg" else 70])[1]
        return Worse(np.asarray(cv2.imdecode(packed, 0), np.uint8), matrix)
    return Worse(gray, matrix)


def _scanned(picture: Picture, mm: float, chance: np.random.Generator) -> Picture:
    """Soft, grey, noisy and with specks."""
    picture = _noisy(238 - (255 - cv2.GaussianBlur(picture, (0, 0), 0.06 * mm)) * 0.78, chance, 9)
    high, wide = picture.shape
    for _ in range(250):
        at = int(chance.integers(wide)), int(chance.integers(high))
        cv2.circle(picture, at, int(chance.integers(1, 3)), float(chance.uniform(30, 160)), -1)
    return picture


def _crossed(picture: Picture, mm: float, chance: np.random.Generator, notes: tuple[Note, ...]) -> Picture:
    """A thin line through two notes in five, along or across."""
    for note in notes:
        if chance.random() >= 0.4:
            continue
        x0, y0, x1, y1 = (v * mm for v in note.boxes[0])
        if chance.random() < 0.5:
            a = x0 + chance.uniform(0.1, 0.9) * (x1 - x0), y0 - 6 * mm
            b = x0 + chance.uniform(0.1, 0.9) * (x1 - x0), y1 + 6 * mm
        else:
            a = x0 - 5 * mm, y0 + chance.uniform(0, 1) * (y1 - y0)
            b = x1 + 5 * mm, y0 + chance.uniform(0, 1) * (y1 - y0)
        ends = [(int(p[0]), int(p[1])) for p in (a, b)]
        cv2.line(picture, ends[0], ends[1], 0, max(1, round(0.25 * mm)), cv2.LINE_AA)
    return picture


def _unsteady(picture: Picture, mm: float, chance: np.random.Generator) -> Picture:
    """Strokes that waver: every place moved a little, near ones alike."""
    high, wide = picture.shape
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    for places in (x, y):
        coarse = chance.normal(0, 1, (high // 8 + 1, wide // 8 + 1)).astype(np.float32)
        soft = cv2.GaussianBlur(coarse, (0, 0), 0.12 * mm)
        places += cv2.resize(soft / soft.std() * 0.16 * mm, (wide, high)).astype(np.float32)
    return np.asarray(cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderValue=255), np.float32)


def _photographed(picture: Picture, mm: float, chance: np.random.Generator) -> tuple[Picture, Floats]:
    """On a dark bench, seen askew, in uneven light."""
    high, wide = picture.shape
    edge = int(0.06 * wide)

    def off() -> Floats:
        return np.asarray(chance.uniform(0, 0.05, 2) * np.array([wide, high]))

    flat = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    corners = np.array([
        off() + np.array([edge, edge]), np.array([wide - edge, edge]) + off() * np.array([-1, 1]),
        np.array([wide - edge, high - edge]) - off(), np.array([edge, high - edge]) + off() * np.array([1, -1]),
    ], np.float32)  # fmt: skip
    matrix = cv2.getPerspectiveTransform(flat, corners)
    bench = 70 + 25 * cv2.GaussianBlur(chance.normal(0, 1, (high, wide)).astype(np.float32), (0, 0), 3)
    seen = cv2.warpPerspective(picture, matrix, (wide, high), flags=cv2.INTER_AREA, borderValue=255)
    mask = cv2.warpPerspective(np.ones_like(picture), matrix, (wide, high), flags=cv2.INTER_AREA)
    y, x = np.mgrid[0:high, 0:wide]
    lamp = chance.uniform(0.2, 0.8, 2)
    away = ((x - lamp[0] * wide) / (0.7 * wide)) ** 2 + ((y - lamp[1] * high) / (0.8 * high)) ** 2
    lit = (seen * 0.92 * mask + bench * (1 - mask)) * (0.62 + 0.38 * np.exp(-away))
    return _noisy(cv2.GaussianBlur(lit.astype(np.float32), (0, 0), 0.07 * mm), chance, 5), matrix
