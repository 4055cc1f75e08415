"""The tab Compare: the part held against another route, a revision or a file; what differs lies coloured on it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
)

from ...core.job import edits
from ...core.job.against import Against
from ...core.job.model import Content
from ...core.kernel.files.kinds import PATTERN
from ...core.kernel.ground.figures import THINNEST, Lump
from ...core.quantity.style import mass
from ..lists import plain_table
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call
from ..viewport.pins import Laid, Pin

_HOW = (
    "Held against the other one, what it has more is laid on the part in green, what it has less in red. Two meshes "
    "are cut from each other; pieces thinner than those are fine are left out. Volumes of the whole are the kernel's."
)
_MORE, _LESS = "#2F8F57", "#B5342A"
_FILE = "A file …"
_MARKS = {"in": "in", "near": "near", "out": "OUT", "open": "open", "": "not there"}


class AgainstPanel(SeenPanel):
    """What was found counts only for the part it was asked of. ``pinned`` and ``laid`` carry what is shown on it."""

    pinned = pyqtSignal(tuple)
    laid = pyqtSignal(tuple)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._found = OfPart[tuple[str, Against]](session)
        self._file = ""
        self.other, self.lay, self.go = QComboBox(), QCheckBox("Lay it on ours first"), QPushButton("Compare")
        self.other.setAccessibleName("Held against")
        self.other.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.other.activated.connect(self._on_other)
        self.lay.setToolTip("Turns and shifts the file's solid until its faces lie on ours")
        self.go.clicked.connect(self.compare)
        self.state, self.turned = QLabel(_HOW), QLabel()
        for label in (self.state, self.turned):
            label.setWordWrap(True)
        heads = ("", "Volume", "Middle at", "Size", "Reaches")
        self.table = plain_table("Where they differ", heads, wide=2)
        self.table.itemSelectionChanged.connect(self._show)
        bar = QHBoxLayout()
        bar.addWidget(QLabel("With"))
        bar.addWidget(self.other)
        bar.addWidget(self.lay)
        bar.addWidget(self.go)
        bar.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.turned)
        session.held.connect(self._on_held)

    def hideEvent(self, event: object) -> None:
        self.pinned.emit(())
        self.laid.emit(())

    # --- asking
    def _others(self) -> list[tuple[str, Content | None]]:
        """The other routes, the revisions (the newest first), the file chosen, and another one."""
        content, state = self._session.content, self._session.current.history.state
        found: list[tuple[str, Content | None]] = [
            (f"route {r.name}", edits.take_route(content, at))
            for at, r in enumerate(content.routes)
            if at != content.route
        ]
        found += [(f"revision {r.label}", r.content) for r in reversed(state.revisions)]
        return [*found, *([(Path(self._file).name, None)] if self._file else []), (_FILE, None)]

    def choose_file(self, path: str) -> None:
        """A solid or mesh that somebody else made."""
        self._file = path
        self._offer(Path(path).name)

    def _on_other(self) -> None:
        self.refresh()
        if self.other.currentText() == _FILE:
            path, _ = QFileDialog.getOpenFileName(self, "Compare with", "", f"Solids ({PATTERN})")
            if path:
                self.choose_file(path)

    def _offer(self, chosen: str) -> None:
        names = [name for name, _ in self._others()]
        if names != [self.other.itemText(i) for i in range(self.other.count())]:
            self.other.clear()
            self.other.addItems(names)
        self.other.setCurrentText(chosen if chosen in names else names[0])

    def compare(self) -> None:
        name = self.other.currentText()
        if name == _FILE:
            self._on_other()
            name = self.other.currentText()
        if name == _FILE:
            return
        content = dict(self._others())[name]
        self._session.hold_against(name, content, "" if content else self._file, self.lay.isChecked() and not content)
        self.state.setText(f"Compared with {name}. You can go on working.")

    def _on_held(self, job: OpenJob, content: Content, words: str, found: Against | None) -> None:
        self._found.keep(job, content, (words, found) if found is not None else None)
        self._refresh_seen()

    @property
    def found(self) -> tuple[str, Against] | None:
        """What the part as it is now was held against, and how the two differ."""
        return self._found.now

    @property
    def _lumps(self) -> tuple[Lump, ...]:
        return self.found[1].difference.lumps if self.found is not None else ()

    # --- what is shown
    def refresh(self) -> None:
        self._offer(self.other.currentText())
        self.go.setEnabled(self._session.current.proof is not None)
        self.lay.setEnabled(dict(self._others()).get(self.other.currentText()) is None)
        style, where, row = self._session.content.header.style, self._session.current.machine, self.table.currentRow()
        self.table.blockSignals(True)
        self.table.setRowCount(len(self._lumps))
        for at, lump in enumerate(self._lumps):
            texts = (
                "it has more" if lump.more else "it has less",
                style.volume(lump.volume),
                ", ".join(style.length(v) for v in where.machine(lump.place)),
                " × ".join(style.length(v) for v in lump.size),
                "" if lump.deep is None else style.length(lump.deep),
            )
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                if column in (1, 4):
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(at, column, item)
        self.table.setCurrentCell(row if row < len(self._lumps) else -1, 0)
        self.table.blockSignals(False)
        call(self.state, "plain" if self.found is not None else "faint")
        self.state.setText(_HOW if self.found is None else self._told(*self.found))
        self.turned.setText("" if self.found is None else self._marks(self.found[1]))
        self._show()

    def _told(self, words: str, found: Against) -> str:
        style, proof, d = self._session.content.header.style, self._session.current.proof, found.difference
        if proof is None:
            return ""
        by = found.volume - proof.mass.volume
        grams = f", {mass(found.grams)}" if found.grams is not None else ""
        sums = f"Of {words}: {style.volume(found.volume)}{grams}, {'+' if by >= 0 else ''}{style.volume(by)} to ours."
        laid = f" {found.moved} of its {found.faces} faces lie on ours." if found.moved >= 0 else ""
        if found.alone is not None:
            laid += f" Faces with none of the other’s on them: {found.alone[0]} of ours, {found.alone[1]} of its."
        if not d.pieces:
            return f"{sums}{laid} No piece thicker than {style.length(THINNEST)} {style.unit} differs."
        deep = max((x.deep for x in d.lumps if x.deep is not None), default=None)
        reach = f", up to about {style.length(deep)} {style.unit} off" if deep is not None else ""
        return (
            f"{sums}{laid} It has {style.volume(d.more)} more and {style.volume(d.less)} less in {d.pieces} "
            f"piece{'s' * (d.pieces > 1)}{reach} (meshes: ± {style.volume(d.off)})."
        )

    def _marks(self, found: Against) -> str:
        if not found.turned:
            return ""
        told = [
            f"callout {t.number}{f' {t.key}' if t.key else ''}: here {_MARKS[t.here]}, there {_MARKS[t.there]}"
            for t in found.turned[:6]
        ]
        more = f" and {len(found.turned) - 6} more" if len(found.turned) > 6 else ""
        return "Marks that turn: " + "; ".join(told) + more + "."

    def _show(self) -> None:
        """All pieces on the part, or only the one that is chosen."""
        if not self.isVisible():
            return
        row = self.table.currentRow()
        shown = [self._lumps[row]] if 0 <= row < len(self._lumps) else list(self._lumps)
        self.laid.emit(tuple(Laid(x.skin, (_MORE if x.more else _LESS,), 0.25) for x in shown))
        style = self._session.content.header.style
        pins = [Pin(f"{'+' if x.more else '−'} {style.volume(x.volume)}", x.place) for x in shown if len(shown) == 1]
        self.pinned.emit(tuple(pins))
