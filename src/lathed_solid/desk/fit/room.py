"""The Fit stage's room: parts left, the assembly in the centre, relations right, what is asked of it below."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QSplitter,
    QTabBar,
    QVBoxLayout,
    QWidget,
)

from ...core.fit.apart import pulled_apart
from ...core.fit.clearance import Pair
from ...core.fit.kinds import KINDS
from ...core.fit.mass import weigh
from ...core.fit.model import Assembly, End, PartShot, Unit
from ...core.job.attachments import NoAttachment
from ...core.kernel.ground.figures import Vector
from ...core.quantity import Style
from ...core.quantity.style import mass as mass_text
from ..pages import Pages, Tabs
from ..paper.board import Board
from ..rail import RailWords
from ..session import Session
from ..theme.palette import Palette
from ..viewport.arrows import Arrow
from ..viewport.fitscene import Shown
from ..viewport.fitview import FitView
from ..viewport.pins import Pin
from .bill import Bill
from .chain import Chain
from .checks import Checks, figure
from .copies import Copies
from .document import FitDocument
from .fits import Fits
from .looks import BY_MOVE, BY_PART, Looks
from .motion import Drive
from .parts import Parts
from .pulling import Pulling
from .relations import Relations, face_words
from .seen import PLAIN, Color, arrow_of, items_in, of_part, of_ways, tinted
from .sentences import Sentences
from .sheets import FitSheets
from .shelf import Shelf
from .taking import Taking

_ASSEMBLIES = "Lathed Solid assemblies (*.lathed)"


class FitRoom(QWidget):
    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__()
        self.session, self._palette = session, palette
        self.document = document = FitDocument(session, folder)
        self.sentences = Sentences(document)
        self.view = FitView(palette)
        self.looks = Looks()
        self.parts, self.relations = Parts(document), Relations(document)
        self.checks, self.drive, self.bill = Checks(document), Drive(document, palette), Bill(document)
        self.bill.drawn.connect(self.draw)
        self.shelf, self.fits, self.copies = Shelf(document), Fits(document, palette), Copies(document)
        self.chain = Chain(document)
        self.taking = Taking(self, document)
        self.pulling = Pulling(document, self.view, self.looks)
        self._sheets: FitSheets | None = None
        self.which = QTabBar()
        self.tabs = Tabs()
        for panel, name in (
            (self.checks, "In the way"),
            (self.fits, "Fits"),
            (self.drive, "Motion"),
            (self.chain, "Stack-up"),
            (self.copies, "Rings and rows"),
            (self.bill, "Bill"),
            (self.shelf, "Bought parts"),
        ):
            self.tabs.addTab(panel, name)
        self._lit: tuple[str, ...] = ()
        self._pair_pins: list[Pin] = []
        self._seen = Assembly()
        self._hatched: tuple[Assembly, tuple[Vector, Vector], tuple[str, ...]] | None = None
        self._lay_out()
        self._connect()
        self.show_all()

    def _lay_out(self) -> None:
        middle = QSplitter(Qt.Orientation.Vertical)
        seen = QWidget()
        bar = QHBoxLayout()
        bar.addWidget(self.which)
        bar.addWidget(self.looks, 1)
        column = QVBoxLayout(seen)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(bar)
        self.pages, self.sides = Pages(), Pages()
        self.pages.addWidget(self.view)
        self.sides.addWidget(self.relations)
        column.addWidget(self.pages, 1)
        middle.addWidget(seen)
        middle.addWidget(self.tabs)
        middle.setSizes([430, 240])
        across = QSplitter(Qt.Orientation.Horizontal)
        for panel in (self.parts, middle, self.sides):
            across.addWidget(panel)
        across.setSizes([290, 690, 300])
        across.setStretchFactor(1, 1)
        across.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(across)

    def _connect(self) -> None:
        document, view = self.document, self.view
        for name in ("Parts", "Sheet"):
            self.which.addTab(name)
        self.which.currentChanged.connect(self._turn_to)
        self.which.hide()
        document.changed.connect(self.show_all)
        document.selected.connect(partial(self._light, ()))
        document.lit.connect(self._light)
        view.picked.connect(self._on_picked)
        view.nothing_picked.connect(lambda: document.pick(None))
        view.accepted.connect(self.relations.offer.make)
        view.deleted.connect(document.remove)
        view.hovered.connect(self._on_hovered)
        self.pulling.changed.connect(self.show_all)
        view.surface.ready.connect(self.show_all)
        view.add_button("section", "Cut the picture open (Ctrl+Shift+X)", self.cut, True)
        view.add_button("sheet", "Drawing sheets of the assembly", self.draw, False)
        view.add_button("fit", "Fit the assembly in the view (Ctrl+0)", view.fit, False)
        self.looks.changed.connect(self.show_all)
        self.session.fitting.cut.connect(self._on_hatched)
        self.checks.shown.connect(self._on_pair)
        self.drive.met.connect(self._on_pair)
        self.shelf.wanted.connect(self.taking.put_bought_in)
        self.copies.mirror_wanted.connect(self.taking.mirror)
        self.parts.files_wanted.connect(self.taking.ask_files)
        self.parts.job_wanted.connect(self.taking.put_job_in)
        self.parts.newer_wanted.connect(self.taking.look_for_newer)
        self.parts.exchange_wanted.connect(self.taking.ask_exchange)
        self.parts.apart_wanted.connect(self.taking.take_apart)
        self.taking.arrived.connect(self._on_arrived)
        view.also_picked.connect(document.choose_also)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.view.dress(palette)
        self.drive.dress(palette)
        self.fits.dress(palette)
        if self._sheets is not None:
            self._sheets.dress(palette)

    # --- its drawing sheets
    @property
    def sheets(self) -> FitSheets:
        """Made when they are first looked at."""
        if self._sheets is None:
            self._sheets = FitSheets(self.document, self._palette)
            self.pages.addWidget(self._sheets.board.canvas)
            self.sides.addWidget(self._sheets.side)
        return self._sheets

    @property
    def board(self) -> Board | None:
        """The drawing board while the sheet is shown."""
        return self.sheets.board if self.which.currentIndex() else None

    def draw(self) -> None:
        """The drawing sheet, laid out where there is none."""
        self.which.setCurrentIndex(1)
        self.sheets.begin()

    def _turn_to(self, at: int) -> None:
        """The parts where they stand, or the sheet."""
        if at or self._sheets is not None:
            self.sheets.drawing.look(bool(at))
        self.looks.setVisible(not at)
        self.which.setVisible(bool(at))  # beside the looks there is no room: there a button leads to the sheet
        self.tabs.setVisible(not at)  # the sheet needs the height
        self.pages.setCurrentIndex(at)
        self.sides.setCurrentIndex(at)

    # --- what is seen
    def show_all(self) -> None:
        """The parts as they stand just now, what is chosen tinted, what is picked outlined."""
        document, view = self.document, self.view
        if not view.is_ready:
            return
        assembly, trails = pulled_apart(self.pulling.shown(document.shown), self.looks.share)
        self._seen = assembly
        self._learn(assembly)
        chosen, alone, wanted = self._chosen(), self.looks.alone.isChecked(), dict[str, Shown]()
        whole = self.looks.whole.isChecked() and view.scene.cut is not None
        for instance in assembly.instances:
            part = assembly.part(instance.part)
            out = instance.hidden or (alone and chosen and instance.id not in chosen)
            if not out and view.scene.knows(part.shape):
                color = tinted(self._color(instance.id, part), instance.id in chosen)
                through = self.looks.through.isChecked() and instance.id not in chosen
                wanted[instance.id] = Shown(part.shape, instance.pose, color, through, whole and part.is_fastener)
        view.show_parts(wanted)
        out = {i.id for i in assembly.instances if i.id not in wanted}
        self._hatch(assembly, tuple(i.id for i in assembly.instances if i.id in out or wanted[i.id].whole))
        view.scene.mark_faces(self._picked_faces(), self._palette.color("brass"))
        view.scene.trail(trails, self._palette.color("faint"))
        view.scene.arrows(self._arrows() if assembly is document.assembly else (), self._palette.color("brass"))
        self._pins()

    def _color(self, instance: str, part: PartShot) -> Color:
        """By its material, its part, or by how many ways it can move."""
        by = self.looks.colors.currentText()
        if by == BY_PART:
            return of_part(part)
        free = self.document.freedom(instance) if by == BY_MOVE else None
        return part.color or PLAIN if by != BY_MOVE else of_ways(free.ways if free is not None else 0)

    def _chosen(self) -> set[str]:
        document = self.document
        if document.relation:
            relation = document.assembly.relation(document.relation)
            return {relation.a.instance, relation.b.instance}
        return set(self._lit) or set(document.chosen)

    def _arrows(self) -> tuple[Arrow, ...]:
        """How the chosen part can move."""
        document, motions = self.document, self.parts.swing.motions
        if not motions or document.instance not in self._chosen():
            return ()
        part, pose = document.assembly.part_of(document.instance), document.assembly.instance(document.instance).pose
        return tuple(arrow_of(m, part, pose) for m in motions)

    def _pins(self) -> None:
        """What is written in the view: how far a pair is apart, or the items of the bill."""
        pins = [*self._pair_pins]
        if self.looks.items.isChecked():
            pins += [Pin(str(line.item), at) for line, at in items_in(self._seen)]
        self.view.pins.show(pins)

    def _picked_faces(self) -> list[tuple[str, int]]:
        document, found = self.document, []
        ends = document.picks
        if document.relation:
            relation = document.assembly.relation(document.relation)
            ends = (relation.a, relation.b)
        for end in ends:
            references = document.assembly.part_of(end.instance).references
            if end.face in references:
                found.append((end.instance, references.index(end.face) + 1))
        return found

    def _learn(self, assembly: Assembly) -> None:
        """Solids that the view does not know yet, from the store."""
        for part in assembly.parts:
            if part.shape and not self.view.scene.knows(part.shape):
                try:
                    self.view.scene.learn(part.shape, self.session.fitting.store.get(part.shape))
                except NoAttachment:
                    self.session.say(f"The solid of {part.called} is not at hand: take it anew from its file.", "warn")

    def _on_picked(self, instance: str, face: int) -> None:
        reference = self.document.assembly.part_of(instance).references[face - 1]
        self.document.pick(End(instance, reference))

    def _light(self, instances: tuple[str, ...]) -> None:
        self._lit = instances
        self.show_all()

    def _on_hovered(self, instance: str, face: int) -> None:
        assembly = self.document.assembly
        if not instance or instance not in {i.id for i in assembly.instances}:
            self.view.say("")
            return
        end = End(instance, assembly.part_of(instance).references[face - 1])
        moves = self.document.moves(instance)
        self.view.say(face_words(assembly, end) + (f" · {moves}" if moves else ""))

    def _on_pair(self, skins: tuple[bytes, ...], pairs: tuple[Pair, ...], lit: tuple[str, ...]) -> None:
        """What overlaps, shown in its place; the gap of a pair, written on it."""
        self._lit = lit
        if self.view.is_ready:
            self.view.scene.lay(skins, self._palette.color("out"))
            style = Style(self.document.assembly.unit)
            self._pair_pins = [Pin(figure(p, style), p.ends[0] if p.ends else p.place, p.ends) for p in pairs]
        self.show_all()

    def rail_words(self) -> RailWords:
        """The assembly in the rail's words: its name, how many parts, its mass."""
        document = self.document
        assembly = document.assembly
        found = weigh(assembly)
        saved = "" if document.is_saved else " · not saved"
        many = len(assembly.instances)
        name = f"{assembly.number}  {assembly.title}".strip() or document.title
        return RailWords(
            name,
            f"assembly{f', rev {assembly.revision}' if assembly.revision else ''} · {many} parts{saved}",
            mass_text(found.grams) if found.grams else "",
            _without(found.unweighed),
            assembly.unit,
        )

    def switch_unit(self) -> None:
        """Millimetres or inches, while no relation says a number in either."""
        assembly = self.document.assembly
        if any(r.value.strip() not in ("", "0") for r in assembly.relations if KINDS[r.kind].value == "length"):
            self.session.say("Relations say lengths in this unit already: it stays. Write the other as 1/4 in or 6 mm.")
            return
        unit: Unit = "in" if assembly.unit == "mm" else "mm"
        self.document.edit(lambda a: replace(a, unit=unit), f"unit {unit}")

    def turn_round(self) -> None:
        """The chosen relation's other solution."""
        self.relations.editor.turn.click()

    def cut(self) -> None:
        """Cut the picture open through the middle, or make it whole again."""
        from ...core.fit.clearance import reach_of

        if not self.view.is_ready or not self.document.assembly.instances:
            return
        on = self.view.scene.cut is None
        low, high = reach_of(self.document.shown)
        middle: Vector = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2)
        self.view.scene.section(middle if on else None, (0.0, -1.0, 0.0))
        self.view.press_button("section", on)
        self.looks.cut_open(on)
        self.show_all()

    def _hatch(self, seen: Assembly, whole: tuple[str, ...]) -> None:
        """Have the cut faces hatched of what is seen, once it stands still."""
        plane = self.view.scene.cut
        moving = self.document.tried is not None
        of = (seen, plane, whole) if plane is not None and plane[0] is not None and not moving else None
        if of == self._hatched:
            return
        self._hatched = of
        self.view.scene.hatch(b"")
        if of is not None and plane is not None:
            self.session.fitting.cut_open(seen, plane, whole)

    def _on_hatched(self, assembly: Assembly, lines: bytes) -> None:
        if self._hatched is not None and self._hatched[0] is assembly and self.view.is_ready:
            self.view.scene.hatch(lines)

    def _on_arrived(self, refit: bool) -> None:
        """Parts have come."""
        if refit:
            self.view.refit()
        self.show_all()

    # --- files
    def open(self, path: Path) -> bool:
        if not self.document.open(path):
            return False
        self.view.refit()
        self.show_all()
        return True

    def save(self, path: Path | None = None) -> bool:
        """Save it where it lies, or at another place."""
        path = path or self.document.path
        return self.document.save(path, self.view.picture()) if path is not None else self.save_as()

    def save_as(self) -> bool:
        proposed = self.document.path or Path.cwd() / f"{self.document.title.replace(' ', '-').lower()}.lathed"
        name, _ = QFileDialog.getSaveFileName(self, "Save the assembly", str(proposed), _ASSEMBLIES)
        if not name:
            return False
        path = Path(name)
        return self.document.save(path if path.suffix else path.with_suffix(".lathed"), self.view.picture())

    def write_step(self) -> None:
        proposed = str(Path.cwd() / f"{self.document.title.replace(' ', '-').lower()}.step")
        name, _ = QFileDialog.getSaveFileName(self, "Write the assembly as STEP", proposed, "STEP (*.step)")
        if name:
            self.session.fitting.write(self.document.assembly, Path(name))

    def shut(self) -> None:
        """Let go of the view's driver."""
        self.view.shut()


def _without(unweighed: tuple[str, ...]) -> str:
    """What is not in the mass, on two lines at most."""
    if len(unweighed) < 2:
        return f"without {unweighed[0][:20]}" if unweighed else ""
    return f"without {len(unweighed)} parts,\nmaterial unknown"
