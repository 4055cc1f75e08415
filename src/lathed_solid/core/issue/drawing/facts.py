"""What a job says in the title block of its sheets."""

from __future__ import annotations

from collections.abc import Sequence

from ...callout import Callout
from ...drafting.sheet.compose import Composed, compose
from ...drafting.sheet.model import Sheet
from ...drafting.sheet.seen import Seen
from ...drafting.sheet.title import Facts
from ...job.model import Content
from ...prove.proof import Proof
from ...quantity.style import mass as mass_text


def facts_of(
    content: Content, sheet: Sheet, seen: Seen, proof: Proof | None, revisions: Sequence[tuple[str, str]] = ()
) -> Facts:
    """The title block of one sheet; ``proof`` None while the part is not measured, ``revisions`` (letter, date)."""
    header = content.header
    common = [h.text for h in seen.holds if h.common]
    notes = [*common, *(line.strip() for line in header.remarks.splitlines()), *sheet.notes.splitlines()]
    return Facts(
        header.name, header.number, header.revision, header.material.name, mass_text(seen.grams), header.style.unit,
        limits_words(content), proof_words(content.callouts, proof), header.projection == "first",
        tuple(n for n in notes if n.strip()), tuple(revisions),
    )  # fmt: skip


def limits_words(content: Content) -> str:
    """The rule for sizes without limits."""
    places = content.header.places
    if places is None:
        return f"ISO 2768-{content.header.grade}"
    return "by decimal places, see notes"


def proof_words(callouts: Sequence[Callout], proof: Proof | None) -> str:
    """How many callouts were measured, and how they lie; never more than was done."""
    if proof is None or not callouts:
        return "not measured"
    marks = [proof.mark_of(c.number) for c in callouts]
    good, out, open_ = (sum(m in kinds for m in marks) for kinds in (("in", "near"), ("out",), ("open",)))
    parts = [f"{good} of {len(callouts)} callouts in limits"]
    parts += [f"{out} out"] if out else []
    parts += [f"{open_} not measured"] if open_ else []
    return ", ".join(parts)


def drawn_sheet(
    content: Content, id_: str, found: Seen, proof: Proof | None, revisions: Sequence[tuple[str, str]], number: int
) -> Composed:
    """One sheet of a job from what its views show."""
    sheet = content.drawing_sheet(id_)
    facts, style = facts_of(content, sheet, found, proof, revisions), content.header.style
    return compose(sheet, found, facts, number, len(content.sheets), style.length)
