"""The section of the part view: from the bar and what is picked to the plane, its hatch, and back."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from ..core.kernel.ground.figures import Surface, Vector
from ..core.kernel.ground.geometry import Frame, dot, minus, shifted
from ..core.kernel.measure.cutting_plane import NoPlane, cutting_frame
from ..core.quantity import evaluate
from ..worker.protocol import Hatched
from .picking import Picking
from .session import Session
from .timing import one_shot
from .viewport.cutting import CuttingBar
from .viewport.partview import PartView

#: A plane nearer than this (mm) to where the part begins or ends along its normal cuts nothing of it.
EDGE = 1e-6
#: Milliseconds the plane must rest before its hatch is asked for.
_REST = 120


class Section(QObject):
    """Cuts the picture while it is open; nothing of the part changes."""

    def __init__(self, session: Session, picking: Picking, view: PartView) -> None:
        super().__init__(view)
        self._session, self._picking, self._view = session, picking, view
        self.bar = CuttingBar(view, lambda text: evaluate(text, session.content.ledger()))
        self.is_open = False
        self._frame: Frame | None = None
        #: What was picked when the plane was to go by it; later picks do not move it.
        self._by: tuple[Surface, ...] = ()
        self._rest = one_shot(self, _REST)
        self._rest.timeout.connect(self._ask_hatch)
        self.bar.chosen.connect(self._go_by_picks)
        self.bar.changed.connect(self.cut)
        view.cut_dragged.connect(lambda by: self.bar.drag(-by if self.bar.flipped else by))
        view.lay_over(self.bar)
        session.hatched.connect(self._on_hatched)

    @property
    def plane(self) -> tuple[Vector, Vector] | None:
        """A place on it and its normal, in the part's axes; None while it is closed."""
        return (self._frame.origin, self._frame.normal) if self.is_open and self._frame is not None else None

    def toggle(self) -> None:
        """Open it through what is picked, else through the turning axis; or close it."""
        if self.is_open:
            self.close()
            return
        self.is_open = True
        self.bar.reset("picked" if self._picking.faces else "y")
        self._go_by_picks()

    def close(self) -> None:
        """The whole part again."""
        self.is_open, self._frame = False, None
        self.bar.hide()
        self._view.scene.section(None)
        self._view.press_button("section", False)

    def _go_by_picks(self) -> None:
        self._by = tuple(s for i in self._picking.faces if (s := self._picking.figure(i)) is not None)
        if (base := self._base()) is None:
            return
        low, high = self._reach(base)
        if not low + EDGE < 0 < high - EDGE:  # it would only graze the part: through its middle
            self.bar.offset = (low + high) / 2
        self.bar.flipped = dot(base.normal, self._view.surface.towards_eye()) < 0
        self.cut()

    def cut(self) -> None:
        """Cut by the plane the bar tells; asked again whenever another part is shown."""
        bar = self.bar
        if (base := self._base()) is None:
            return
        bar.fit(self._reach(base), self._session.content.header.style)
        self._frame = shifted(base, bar.offset)
        x, y, z = base.normal
        self._view.scene.section(self._frame.origin, (-x, -y, -z) if bar.flipped else (x, y, z))
        self._view.press_button("section", True)
        bar.show()
        self._view.lay_over(bar)
        self._rest.start()

    def _base(self) -> Frame | None:
        """Where the plane lies before it is moved; None while there is nothing to cut."""
        part, bar = self._picking.part, self.bar
        if not self.is_open or part is None or not part.shape:
            return None
        machine = self._session.current.machine
        try:
            frame = cutting_frame(bar.base, self._by, 0.0, bar.turn)
            return machine.in_part(frame) if bar.base in ("x", "y", "z") else frame
        except NoPlane as error:
            self._session.say(error.said_in(self._session.content.header.units), "warn")
            bar.reset("y")
            return machine.in_part(cutting_frame("y", (), 0.0, 0.0))

    def _reach(self, base: Frame) -> tuple[float, float]:
        """How far the part goes along the normal, before and behind the plane's own place (mm)."""
        proof = self._session.current.proof
        if proof is None:
            return -50.0, 50.0
        low, high = proof.mass.low, proof.mass.high
        corners = [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
        ways = [dot(minus(c, base.origin), base.normal) for c in corners]
        return min(ways), max(ways)

    def _ask_hatch(self) -> None:
        part = self._picking.part
        if self._frame is not None and part is not None and part.shape:
            content = self._session.content
            hidden = tuple(b.id for b in part.bodies if not b.look(content).shown)
            self._session.ask_hatch(part, self._frame, hidden)

    def _on_hatched(self, reply: Hatched) -> None:
        part = self._picking.part
        if self.is_open and not self._rest.isActive() and part is not None and reply.of == part.ticket:
            self._view.scene.hatch(reply.shape)
