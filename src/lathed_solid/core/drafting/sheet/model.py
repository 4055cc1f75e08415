"""What a job keeps of its drawing sheets: views, where they stand, and where each callout is written."""

from __future__ import annotations

from typing import Literal

import msgspec

from ...formulas import Formula
from ...refusal import Refusal
from ...route.model import FaceRef
from ..looking import Side

XY = tuple[float, float]
Way = Side | Literal["face"]
CutKind = Literal["full", "half", "offset", "aligned", "broken out", "removed"]
#: Sections that have a letter, and their plane drawn in another view.
NAMED_CUTS = ("full", "offset", "aligned", "removed")
#: The side of its view on which a callout is written; empty while that is not decided.
Beside = Literal["", "left", "right", "above", "below"]


class NoSuchView(Refusal):
    """A sheet or a view that is no longer there."""


class Level(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A section's plane: ``at`` is how far before zero it lies, as the view is seen; ``to`` where it ends on the
    right, empty for all the way (only an offset section has several).
    """

    at: Formula = "0"
    to: Formula = ""


class Cut(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How a view is cut open. A ``half`` one lays open what is ``below`` the level ``edge`` (else what is above it); a
    ``broken out`` one what lies inside a circle of radius ``reach`` (mm of the part) about ``middle``. Of an
    ``aligned`` one the half ``below`` an axis (else that above it) lies at the angle ``turn`` to the plane, and is
    drawn turned into it; the axis lies in the plane, at the level ``edge``. An ``upright`` axis lies ``edge`` to the
    right, and ``below`` is right of it.
    """

    kind: CutKind = "full"
    levels: tuple[Level, ...] = (Level(),)
    edge: Formula = "0"
    below: bool = True
    turn: Formula = "0"
    upright: bool = False
    middle: XY = (0.0, 0.0)
    reach: float = 10.0


class Detail(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A circle of another view drawn larger: its ``middle`` and ``radius`` as that view is seen, mm of the part."""

    of: str
    middle: XY
    radius: float


class Break(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A stretch left out of a long view: from ``low`` to ``high`` along x, mm of the part as it is seen."""

    low: float
    high: float


class SheetView(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One view. ``at`` is where machine zero lies on the sheet (mm from its lower left corner); ``face``, when it is
    seen square to a face; ``scale`` ("2:1") empty for the sheet's. ``letter`` names a section or a detail, and a
    section's plane is drawn in the view ``base`` (empty: the first that sees it on edge).
    """

    id: str
    way: Way = "front"
    at: XY = (0.0, 0.0)
    face: FaceRef = FaceRef("")
    scale: str = ""
    hidden: bool = True
    tangent: bool = False
    centres: bool = True
    letter: str = ""
    base: str = ""
    cut: Cut | None = None
    detail: Detail | None = None
    breaks: tuple[Break, ...] = ()


class Label(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Where callout ``number`` is written: by which view, on which ``side``, as the how-manieth (``rank``) there, and
    where its leader's ``tip`` was (mm of the part as seen) and how high it stood (``height``, mm of paper above the
    view's zero). ``at``, when given, is where a hand put it, from the view's zero in mm of paper.
    """

    number: int
    view: str
    side: Beside = ""
    rank: int = -1
    tip: XY | None = None
    height: float | None = None
    at: XY | None = None


class Sheet(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One sheet. ``size`` is that of its paper (see ``paper``), ``notes`` what is written besides the common ones;
    ``holes`` is where the lower left corner of a table of all holes stands (None: no such table). With ``running``
    lengths from one end share a line.
    """

    id: str
    name: str = ""
    size: str = "A3"
    scale: str = "1:1"
    views: tuple[SheetView, ...] = ()
    labels: tuple[Label, ...] = ()
    balloons: bool = False
    running: bool = False
    notes: str = ""
    holes: XY | None = None

    def view(self, id_: str) -> SheetView:
        """Raises NoSuchView."""
        for view in self.views:
            if view.id == id_:
                return view
        raise NoSuchView("This view is no longer on the sheet.")

    def label(self, number: int) -> Label | None:
        return next((label for label in self.labels if label.number == number), None)

    def scale_of(self, view: SheetView) -> float:
        """Paper to part: 2.0 for "2:1"."""
        return ratio(view.scale or self.scale)


def ratio(scale: str) -> float:
    """ "1:2" as 0.5. Raises Refusal for what is no scale."""
    paper, _, part = scale.partition(":")
    try:
        found = float(paper.replace(",", ".")) / float(part.replace(",", ".") or "1")
    except (ValueError, ZeroDivisionError):
        raise Refusal(f"“{scale}” is no scale: type one such as 1:2 or 5:1.") from None
    if not 1e-3 <= found <= 1e3:
        raise Refusal(f"A scale of {scale} cannot be drawn: 1:1000 to 1000:1 can.")
    return found


def is_scale(text: str) -> bool:
    """Whether a sheet can be drawn at what is written."""
    try:
        ratio(text)
    except Refusal:
        return False
    return True
