"""The kinds of relations: what each is stated of, its sign, and whether turned copies keep it.

A kind's rows stand in ``solver/relations.py``; a test holds that none is missing here or there.
"""

from __future__ import annotations

from typing import NamedTuple

from .model import RelationKind


class RelationSpec(NamedTuple):
    """``needs`` is a pattern of what must be chosen, as sorted letters: c round, e ellipse, l line, p point, s spline,
    t text; empty for a relation that no one chooses by hand. ``sign`` is drawn on the plate, as short as a workshop
    sketch would have it. ``turns``: it holds on a turned or mirrored copy too, whatever its direction. ``least`` is how
    many elements it speaks of, at the least.
    """

    needs: str
    sign: str
    turns: bool = False
    least: int = 2


RELATIONS: dict[RelationKind, RelationSpec] = {
    "coincident": RelationSpec("pp", "•", turns=True),
    "horizontal": RelationSpec("l|pp", "—", least=1),
    "vertical": RelationSpec("l|pp", "|", least=1),
    "parallel": RelationSpec("ll", "∥", turns=True),
    "perpendicular": RelationSpec("ll", "⊥", turns=True),
    "tangent": RelationSpec("cl|cc|el|ls|cs|ss", "⌒", turns=True),
    "concentric": RelationSpec("[ce]{2,}", "◎", turns=True),
    "collinear": RelationSpec("l{2,}", "⋯", turns=True),
    "equal": RelationSpec("l{2,}|c{2,}|ee|tt", "=", turns=True),
    "midpoint": RelationSpec("lp|cp", "½", turns=True),
    "symmetric": RelationSpec("lpp|lll|ccl", "⇹", least=3),
    "on": RelationSpec("lp|cp|ep", "⊸", turns=True),
    "spaced": RelationSpec("p{3,}", "⫴", turns=True, least=3),
    "pierce": RelationSpec("", "⦿"),
    "fixed": RelationSpec("p|l|c|e", "▾", least=1),
}
