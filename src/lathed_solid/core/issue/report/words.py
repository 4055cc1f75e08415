"""What the report says in every form it takes."""

from __future__ import annotations

from .rows import Report

HEADS = (
    "No.", "Requirement", "Size", "Nominal", "Lower", "Upper", "Model", "Verdict on the model",
    "Measured on the model", "Part in hand", "With", "Verdict on the part",
)  # fmt: skip
NOT_APPROVED = (
    "A proven model is not an approved part: have it checked by whoever answers for its use. Made from the model by "
    "measuring its solid."
)
CAUTION = (
    "Measure with the spindle locked out and the part standing still, deburred and at room temperature. Where lives or "
    "loads hang on it, local codes and a qualified person decide."
)
RULE = (
    "A part is called within limits only where the reading with all its uncertainty (95 %) lies inside them, outside "
    "only where all of it lies outside (ISO 14253-1); else it is too near a limit to tell."
)


def titles(report: Report, date: str) -> tuple[tuple[str, str], ...]:
    """The title block."""
    header = report.content.header
    return (
        ("Inspection report", " ".join(filter(None, (header.number, header.name)))),
        ("Revision", header.revision),
        ("Material", header.material.name),
        ("Figures in", header.style.unit),
        ("Piece", report.piece or "not named"),
        ("Route", report.content.routes[report.content.route].name),
        ("Date", date),
    )
