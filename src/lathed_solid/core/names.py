"""Names of faces and of callouts, and references to them.

A name is given once, by the step that makes a face: ``s3/l1/side`` (step, rest). It may lie on several faces once a
later step has parted one. A reference then says which piece is meant: ``s3/end~s3/l5/side`` is the piece that borders
on ``s3/l5/side``, ``s3/end~2`` the second by its place, where no neighbour tells.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

#: Between a name and what says which piece of it is meant.
_PIECE = "~"
#: Pairs of how face names start, and how those of a copy start instead.
Renames = Sequence[tuple[str, str]]


class FaceName(NamedTuple):
    """``step`` made the face, ``rest`` says which of its faces it is; ``piece`` is a neighbour's name or a number, or
    empty for all that carries the name.
    """

    step: str
    rest: str
    piece: str = ""

    def __str__(self) -> str:
        name = f"{self.step}/{self.rest}" if self.rest else self.step
        return f"{name}{_PIECE}{self.piece}" if self.piece else name


def face_name(reference: str) -> FaceName:
    """The parts of a reference."""
    name, _, piece = reference.partition(_PIECE)
    step, _, rest = name.partition("/")
    return FaceName(step, rest, piece)


def bare(reference: str) -> str:
    """The name in a reference, without the piece."""
    return reference.partition(_PIECE)[0]


def piece_of(reference: str) -> str:
    """What says which piece is meant; empty for all."""
    return reference.partition(_PIECE)[2]


def with_piece(name: str, piece: str) -> str:
    """A reference to one piece of what carries a name."""
    return f"{name}{_PIECE}{piece}"


def renamed(reference: str, renames: Renames) -> str:
    """The reference on a copy; the neighbour that tells its piece is the copy's too."""
    name, piece = bare(reference), piece_of(reference)
    new = _start(name, renames)
    return with_piece(new, _start(piece, renames)) if piece else new


def starts(reference: str, renames: Renames) -> bool:
    """Whether a reference is one of those that are renamed."""
    return any(reference.startswith(old) for old, _ in renames)


def _start(name: str, renames: Renames) -> str:
    return next((new + name.removeprefix(old) for old, new in renames if name.startswith(old)), name)


class CalloutRef(NamedTuple):
    """What a formula means by ``#3`` or ``#3.depth``: a callout's number, and which of its characteristics."""

    number: int
    key: str = ""

    def __str__(self) -> str:
        return f"#{self.number}.{self.key}" if self.key else f"#{self.number}"


_CALLOUT = re.compile(r"#(\d+)(?:\.([a-z_]+))?")


def callout_refs(text: str) -> list[CalloutRef]:
    """The callouts a text names, in order, each as often as it stands there."""
    return [CalloutRef(int(number), key or "") for number, key in _CALLOUT.findall(text)]


def callouts_in(text: str) -> set[int]:
    """Numbers of the callouts a text names."""
    return {ref.number for ref in callout_refs(text)}


def lone_ref(text: str) -> CalloutRef | None:
    """The callout that is all of a text; None when there is more to it, or less."""
    match = _CALLOUT.fullmatch(text.strip())
    return CalloutRef(int(match[1]), match[2] or "") if match else None


def refers(text: str) -> bool:
    """Whether a text is written with callouts: it then follows them, even where it cannot be read."""
    return "#" in text


def renumbered(text: str, numbers: Mapping[int, int]) -> str:
    """A text with its callouts renamed by ``numbers``."""
    return re.sub(r"#(\d+)", lambda m: f"#{numbers.get(int(m[1]), int(m[1]))}", text)
