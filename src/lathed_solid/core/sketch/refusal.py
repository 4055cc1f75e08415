"""What a sketch refuses."""

from __future__ import annotations

from ..refusal import Refusal


class SketchError(Refusal):
    """Something that cannot be drawn, sized, related or changed on a sketch; the text says what and why."""


class NoElement(SketchError):
    """An element that is not in the sketch."""


class Unstatable(SketchError):
    """A relation or dimension that does not go with what it is put on; the text is a clause without its subject."""
