"""Tables of the Fit stage written as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from ...core.job.files import CannotWrite, write_atomic
from .document import FitDocument


def write_csv(
    over: QWidget, document: FitDocument, what: str, heads: Sequence[str], rows: Iterable[Sequence[object]]
) -> None:
    """Ask for a file and write a table into it; says so, or why not."""
    proposed = str(Path.cwd() / f"{document.title.replace(' ', '-').lower()}-{what}.csv")
    name, _ = QFileDialog.getSaveFileName(over, f"Write the {what}", proposed, "CSV (*.csv)")
    if not name:
        return
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(heads)
    writer.writerows(rows)
    try:
        write_atomic(Path(name), text.getvalue().encode())
    except CannotWrite as error:
        document.session.refuse(error)
        return
    document.session.say(f"Wrote {Path(name).name}.", "good")
