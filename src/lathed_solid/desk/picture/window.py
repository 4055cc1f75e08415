"""The picture of a part or an assembly: tried small while it is set up, taken large, saved."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLabel, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ...core.drafting.looking import Up
from ...core.fit.model import Assembly
from ...core.issue.picture.model import Kind, NoPicture, Shot, turned_to
from ...core.job.model import Content
from ...core.kernel.ground.figures import Vector
from ..session import Session
from ..timing import one_shot
from .settings import Settings

#: A try is at most so large (pixels), and made so long after the last change (ms).
_TRY, _SOON = 480, 250
#: A turn goes once round in so many pictures.
_ROUND = 36
_SAYS = "A picture shows how a part may look. It proves nothing: Prove does."
Eye = Callable[[], tuple[Vector, Up] | None]


class PictureWindow(QDialog):
    """``of`` gives what is pictured, ``eye`` the direction to the eye in the view (machine axes) and what is up."""

    def __init__(self, session: Session, of: Callable[[], Content | Assembly], eye: Eye, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._picturing, self._of, self._eye = session, session.picturing, of, eye
        self.setWindowTitle("Picture")
        self.setModal(False)
        self.resize(1060, 680)
        self.settings, self.shown = Settings(), _Shown()
        self.bar, self.told = QProgressBar(), QLabel()
        self.take, self.save = QPushButton("Take the picture"), QPushButton("Save …")
        self.stop = QPushButton("Stop")
        self.round, self.parts = QPushButton("Turn round …"), QPushButton("All parts …")
        #: The picture taken last (PNG), and whether what is under way is only a try.
        self._taken, self._trying, self._again = b"", False, False
        self._pictured: Content | Assembly | None = None
        self._soon = one_shot(self, _SOON)
        self._set_up()
        self._lay_out()

    def _set_up(self) -> None:
        self.round.setToolTip("The part turned once round in 36 pictures: a moving picture, or a folder of PNG files")
        self.parts.setToolTip("A contact sheet: every body of the job, or every part of the assembly, with its mass")
        for button in (self.take, self.save, self.stop, self.round, self.parts):
            button.setAutoDefault(False)
        self.told.setWordWrap(True)
        self.told.setObjectName("faint")
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName("How far the picture is")
        self.take.clicked.connect(self.make)
        self.save.clicked.connect(self.write)
        self.stop.clicked.connect(self.break_off)
        self.round.clicked.connect(lambda: self.write_more("turn"))
        self.parts.clicked.connect(lambda: self.write_more("parts"))
        self.settings.changed.connect(self._soon.start)
        self.settings.eye_wanted.connect(self.stand_as_seen)
        self._soon.timeout.connect(self.try_)
        self._picturing.went_on.connect(self._on_went_on)
        self._picturing.taken.connect(self._on_taken)
        self._picturing.saved.connect(self._on_saved)
        self._session.proved.connect(self._on_proved)

    def _lay_out(self) -> None:
        says = QLabel(_SAYS)
        says.setObjectName("faint")
        says.setWordWrap(True)
        side = QVBoxLayout()
        side.addWidget(self.settings)
        side.addSpacing(8)
        for row in ((self.take, self.stop), (self.save,), (self.round, self.parts)):
            line = QHBoxLayout()
            for button in row:
                line.addWidget(button)
            side.addLayout(line)
        side.addWidget(self.bar)
        side.addWidget(self.told)
        side.addStretch()
        side.addWidget(says)
        right = QWidget()
        right.setLayout(side)
        right.setFixedWidth(270)
        layout = QHBoxLayout(self)
        layout.addWidget(self.shown, 1)
        layout.addWidget(right)

    # --- opened and closed
    def begin(self, apart: float = 0.0) -> None:
        """Show it as it stands in the view, an assembly pulled ``apart`` as far (0 to 1)."""
        self.settings.of_assembly(isinstance(self._of(), Assembly))
        self.settings.show_shot(Shot(apart=apart))
        self.show()
        self.raise_()
        self.stand_as_seen()

    def done(self, a0: int) -> None:
        """Closed, by whatever way: nothing more is made."""
        self._soon.stop()
        self._picturing.stop()
        super().done(a0)

    def stand_as_seen(self) -> None:
        """The eye stands where it stands in the view."""
        found = self._eye()
        if found is not None:
            turn, height = turned_to(*found)
            self.settings.show_shot(
                msgspec.structs.replace(self._shot() or Shot(), turn=turn, height=height, up=found[1])
            )
        self.try_()

    # --- making
    def _shot(self) -> Shot | None:
        try:
            return self.settings.shot()
        except NoPicture as error:
            self.told.setText(error.said_in("mm"))
            return None

    def try_(self) -> None:
        """A small, quick picture of what is set; one that is under way is waited for, so that none is made in vain."""
        if not self.isVisible() or (shot := self._shot()) is None:
            return
        if self._picturing.is_busy:
            self._again = self._trying  # what is taken large is taken as it was set
            return
        share = min(1.0, _TRY / max(shot.size))
        small = (max(64, round(shot.size[0] * share)), max(64, round(shot.size[1] * share)))
        self._trying, self._again, self._pictured = True, False, self._of()
        self._picturing.take(self._pictured, "still", msgspec.structs.replace(shot, size=small, quality="draft"))
        self._refresh()

    def _on_proved(self) -> None:
        """The part was built anew: tried again where it is another one."""
        if self._of() is not self._pictured:
            self._soon.start()

    def make(self) -> None:
        """The picture as it is set."""
        if (shot := self._shot()) is None:
            return
        self._begin("still", shot, None)

    def _begin(self, kind: Kind, shot: Shot, path: Path | None) -> None:
        self._soon.stop()
        self._trying, self._again, self._pictured = False, False, self._of()
        self.told.setText("")
        self._picturing.take(self._pictured, kind, shot, path, _ROUND)
        self._refresh()

    def break_off(self) -> None:
        self._picturing.stop()
        self.told.setText("Stopped. What is shown is what there was so far.")
        self._refresh()

    # --- what comes
    def _on_went_on(self, done: int, of: int, picture: bytes) -> None:
        if self._trying or not self.isVisible():
            return
        self.bar.setRange(0, of)
        self.bar.setValue(done)
        if picture:
            self.shown.show_picture(picture)

    def _on_taken(self, picture: bytes, path: str) -> None:
        if not self.isVisible():
            return
        trying = self._trying
        self._trying = False
        if picture:
            self.shown.show_picture(picture)
            self._taken = b"" if trying or path else picture
            if not trying:
                self.told.setText(f"Wrote {Path(path).name}." if path else "Taken. Save it as PNG, JPEG or WebP.")
        elif not trying:
            self.told.setText("No picture came of it; the line below the window says why.")
        self._refresh()
        if self._again:
            self.try_()

    def _refresh(self) -> None:
        busy = self._picturing.is_busy and not self._trying
        for button in (self.take, self.round, self.parts):
            button.setEnabled(not busy)
        self.stop.setEnabled(busy)
        self.save.setEnabled(bool(self._taken) and not busy)
        self.bar.setVisible(busy)

    # --- files
    def write(self) -> None:
        """Save the picture that was taken, as the ending asks."""
        path = self._ask("Save the picture", "png", "Pictures (*.png *.jpg *.webp)")
        if path is not None:
            self._picturing.save(self._taken, path)

    def _on_saved(self, words: str, good: bool) -> None:
        if self.isVisible():
            self.told.setText(words)
        self._session.say(words, "good" if good else "bad")

    def write_more(self, kind: Kind) -> None:
        """A turn round the part, or a sheet of all parts: made and written."""
        if (shot := self._shot()) is None:
            return
        if kind == "turn":
            path = self._ask("Turn round: a moving picture, or a folder", "gif", "Moving (*.gif *.webp);;A folder (*)")
        else:
            path = self._ask("All parts on a sheet", "png", "Pictures (*.png *.jpg *.webp)")
        if path is not None:
            self._begin(kind, shot, path)

    def _ask(self, title: str, ending: str, kinds: str) -> Path | None:
        of = self._of()
        number = of.header.number or of.header.name if isinstance(of, Content) else of.number or of.title
        proposed = str(self._session.beside(f"{(number or 'picture').replace(' ', '-').lower()}.{ending}"))
        name, _ = QFileDialog.getSaveFileName(self, title, proposed, kinds)
        return Path(name) if name else None


class _Shown(QLabel):
    """The picture, as large as there is room."""

    def __init__(self) -> None:
        super().__init__("The picture is being made.")
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.setMinimumSize(320, 240)
        self.setAccessibleName("The picture")
        self._picture = QPixmap()

    def show_picture(self, data: bytes) -> None:
        self._picture.loadFromData(data)
        self.setText("")
        self.update()

    @property
    def pixels(self) -> QPixmap:
        return self._picture

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self._picture.isNull():
            return
        size = self._picture.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        x, y = (self.width() - size.width()) // 2, (self.height() - size.height()) // 2
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(x, y, size.width(), size.height(), self._picture)
