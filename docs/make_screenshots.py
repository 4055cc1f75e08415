"""Takes the pictures in docs/screenshots from the demo jobs.

Run: ``xvfb-run -s "-screen 0 1280x800x24" .venv/bin/python docs/make_screenshots.py``
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.window import Window

sys.path.insert(0, str(Path(__file__).parents[1]))  # the trials make the scan
os.environ["QT_QPA_PLATFORM"] = "xcb"
FOLDER = Path(__file__).parent / "screenshots"
EXAMPLES = Path(__file__).parents[1] / "examples"
Spin = Callable[[float], None]
Shot = Callable[[str, Callable[[], object]], None]


def main() -> None:
    from lathed_solid.worker.zygote import warm_up

    warm_up()
    from PyQt6.QtWidgets import QApplication

    app = QApplication(sys.argv)
    from lathed_solid.core.job.assembling.files import is_assembly
    from lathed_solid.desk.app import demo_files
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.theme.style import load_fonts
    from lathed_solid.desk.window import Window

    load_fonts()
    session = Session(Path(tempfile.mkdtemp()))
    window = Window(session)
    window.resize(1280, 800)
    for path in demo_files():
        if not is_assembly(path):
            session.open(path)
    window.show()

    def spin(seconds: float) -> None:
        ends = time.monotonic() + seconds
        while time.monotonic() < ends:
            app.processEvents()
            time.sleep(0.01)

    def settled() -> None:
        spin(0.3)
        while session.is_working:
            spin(0.1)
        spin(0.8)

    def shot(name: str, prepare: Callable[[], object]) -> None:
        prepare()
        settled()
        # What is really on the screen: the part view is the kernel's own window and is not in a widget's grab.
        screen = window.screen()
        assert screen is not None
        screen.grabWindow(0, 0, 0, 1280, 800).save(str(FOLDER / f"{name}.png"))
        print(name)

    def select(callout: int | None = None, step: str = "") -> None:
        session.select_callout(callout)
        session.select_step(step)

    session.switch(0)
    assert window.part_room, "the part's view is there before the first picture"
    shot("shape", lambda: (window.show_stage("Shape"), select(20, "s3")))
    window.plate.show_table(False)
    put_together(window, spin, shot)
    plan_plate(window, session, spin, shot)
    session.switch(1)
    shot("read", lambda: (window.show_stage("Read"), select(10)))
    shot("prove", lambda: (window.show_stage("Prove"), select(10), window.look_from("I")))
    shot("plate", lambda: (window.show_stage("Shape"), select(15, "s10"), window.look_from("L")))
    set_up_flange(window, shot)
    tell_family(window, session, shot)
    inspect_flange(window, session, spin, shot)
    explain_bracket(window, session, spin, shot)
    look_bracket_over(window, session, spin, shot)
    measure(window, session, spin, shot)
    read_scan(window, session, spin, shot)
    session.switch(0)
    draw_sheet(window, spin, shot)
    take_picture(window, spin, shot)
    window.shut()
    session.shut()
    os._exit(0)


def put_together(window: Window, spin: Spin, shot: Shot) -> None:
    """The chart drum cut open, each part hatched its own way, what is said of its screws, a relation half written; then
    its drawing sheet, a section just added.
    """
    from lathed_solid.desk.paper.pointed import Pointed

    window.open_file(EXAMPLES / "skp-00.lathed")
    fit = window.fit
    spin(1.5)
    fit.tabs.setCurrentWidget(fit.fits)
    fit.cut()
    fit.view.look_from("F")
    spin(3)
    sentence = "distance 20 to 45 SKP-02, 1 Z 13 with SKP-02, 2 Z 13"

    def choose() -> None:
        fit.document.choose_instance(fit.document.assembly.instances[1].id)
        window.entry.line.setText(sentence)

    shot("fit", choose)
    window.entry.line.clear()
    fit.draw()
    drawing = fit.sheets.drawing
    _until(spin, lambda: drawing.composed is not None and not drawing.is_late)
    right = next(v for v in drawing.sheet.views if v.way == "right")
    drawing.point(Pointed(f"view:{right.id}", (0.0, 40.0)))
    fit.board.doings.cut_through(False)
    _until(spin, lambda: drawing.composed is not None and not drawing.is_late)
    shot("fit-sheet", lambda: window.session.say(""))
    fit.document.undo()
    fit.document.undo()


def draw_sheet(window: Window, spin: Spin, shot: Shot) -> None:
    """The arbor's drawing sheet, one of its callouts chosen."""
    window.show_stage("Issue")
    window.session.say("")
    drawing = window.issue.drawing
    _until(spin, lambda: drawing.composed is not None and not drawing.is_late)
    from lathed_solid.desk.paper.pointed import Pointed

    shot("issue", lambda: drawing.point(Pointed("label:19")))


def take_picture(window: Window, spin: Spin, shot: Shot) -> None:
    """The arbor rendered, its thread as it will look."""
    window.take_picture()
    pictures = window._pictures
    assert pictures is not None
    pictures.move(110, 60)
    _until(spin, lambda: not pictures.shown.pixels.isNull())
    pictures.settings.pixels.setCurrentText("1280 x 960")
    pictures.settings.light.setCurrentText("two lamps")
    pictures.settings.ground.setCurrentText("slate")
    spin(0.5)
    _until(spin, lambda: not window.session.is_working)
    pictures.take.click()
    _until(spin, lambda: pictures.save.isEnabled())
    shot("picture", lambda: None)
    pictures.close()


def inspect_flange(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """A part in hand judged beside the model by made-up readings, the report of both, two things measured."""
    window.show_stage("Prove")
    panel, lower = window.in_hand, window.proof_lower
    window.picking.forget()
    lower.setCurrentWidget(panel)
    panel.piece.setEditText("3")
    spin(0.3)
    for row, values in ((0, [118.02, 118.01, 118.03]), (1, [9.02]), (5, [28.35]), (6, [2.19]), (7, [20.01])):
        panel.table.selectRow(row)
        panel.log(values)
        spin(0.4)
    shot("in-hand", lambda: panel.table.selectRow(6))
    lower.setCurrentWidget(window.report)
    while window.report.pages is None:
        spin(0.1)
    shot("report", lambda: None)
    lower.setCurrentWidget(window.measure)
    surfaces = session.current.shown.surfaces if session.current.shown is not None else ()
    bores = [next(i for i, s in enumerate(surfaces, 1) if s.kind == "cylinder" and s.radius == r) for r in (2.75, 10.0)]
    session.select_callout(None)
    window.picking.on_face(bores[0], False)
    window.picking.on_face(bores[1], True)
    shot("measure", lambda: window.measure.table.selectRow(0))
    window.picking.forget()
    lower.setCurrentIndex(0)
    for _ in range(5):
        session.undo()


def look_bracket_over(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The map of the bracket's walls; and the bracket held against its last revision."""
    from lathed_solid.core.job import edits
    from lathed_solid.core.job.revisions import issue

    window.look_from("I")
    window.proof_lower.setCurrentWidget(window.walls)
    _until(spin, lambda: not session.is_working)
    window.walls.look()
    _until(spin, lambda: bool(window.walls.every))
    shot("walls", lambda: window.walls.map.setChecked(True))
    session.take_job(issue(session.current.history.state, "2026-11-29", None, None), "revision A issued")
    session.edit(lambda c: edits.edit_callout(c, 5, "9"), "a thicker gusset")
    _until(spin, lambda: not session.is_working)
    window.proof_lower.setCurrentWidget(window.against)
    window.against.compare()
    _until(spin, lambda: window.against.found is not None)
    shot("compare", lambda: None)
    window.proof_lower.setCurrentIndex(0)
    for _ in range(2):
        session.undo()


def _until(spin: Spin, done: Callable[[], bool]) -> None:
    """Wait for what is worked out beside the window; not for ever."""
    spin(0.5)
    for _ in range(900):
        if done():
            return
        spin(0.1)
    raise TimeoutError("it did not come")


def plan_plate(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The base plate with its blank chosen and priced, by tables that are made up."""
    from lathed_solid.core.plan.shop import Price, Shop

    session.switch(2)
    window.plan.planning.shop = Shop(prices=(Price(material="Aluminium", price=6.5),), currency="EUR")
    window.show_stage("Plan")
    while window.plan.planning.solid is None:
        spin(0.1)
    shot("plan", window.plan.planning.refresh)


def set_up_flange(window: Window, shot: Shot) -> None:
    """The operation sheet of the flange, the set-up on the dividing head chosen."""
    window.show_plan("Set-ups")
    tree = window.plan.setups.tree

    def choose() -> None:
        top = tree.topLevelItem(2)
        assert top is not None
        tree.setCurrentItem(top)

    shot("setups", choose)


def read_scan(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The flange's drawing printed and scanned, its sizes read, one of them under review."""
    import numpy as np
    import pypdfium2
    from PIL import Image
    from trials.worsened import worsened

    from lathed_solid.core.job.model import Job

    page = pypdfium2.PdfDocument(EXAMPLES / "skp-02.pdf")[0]
    clean = np.array(page.render(scale=200 / 72).to_pil().convert("L"))
    path = Path(tempfile.mkdtemp()) / "drum end flange, scanned.png"
    Image.fromarray(worsened(clean, "scan", 200, 2).gray).save(path, dpi=(200, 200))
    session.add(Job())
    window.show_read(window.title_block)
    window.glass.open_file(path)
    offers = window.read_side.offers
    _until(spin, lambda: bool(offers.offers) and offers.is_settled)
    window.read_side.setCurrentWidget(offers)
    shot("scanned", lambda: (offers.list.setCurrentRow(0), spin(1.0), session.say("")))


def tell_family(window: Window, session: Session, shot: Shot) -> None:
    """The flange in four sizes, one of them impossible."""
    from PyQt6.QtWidgets import QApplication

    rows = "name,#1,#6\nsmall,114,\nas drawn,,\nlarge,122,30\nimpossible,20,\n"
    with tempfile.TemporaryDirectory() as folder:
        table = Path(folder) / "flange.csv"
        table.write_text(rows)
        window.family.take_file(table)
    window.proof_lower.setCurrentWidget(window.family)
    window.family.run()

    def built() -> None:
        window.show_stage("Prove")
        while window.family.is_running:
            QApplication.processEvents()
        window.family.view.setCurrentIndex(window.family.model.index(3, 0))

    shot("family", built)
    window.proof_lower.setCurrentIndex(0)
    session.undo()


def explain_bracket(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The bracket with its gusset twice too thick, and what would close the gap."""
    from lathed_solid.core.job import edits

    session.switch(6)
    session.edit(lambda c: edits.edit_callout(c, 5, "12"), "a radius for a diameter")
    spin(2)
    window.run(window.actions_.get("prove.why"))
    while not window.why.is_done:
        spin(0.1)
    shot("why", lambda: window.why.table.setCurrentCell(0, 0))
    window.proof_lower.setCurrentIndex(0)
    session.undo()
    session.say("")


def measure(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The levelling foot under the simulated caliper."""
    session.switch(4)
    window.show_stage("Read")
    panel = window.read_lower.calipers
    panel.port.setCurrentIndex(panel.port.findData("sim:caliper"))
    window.show_read(panel)
    panel.toggle_connection()
    spin(0.5)
    panel.stand_in.feature.setCurrentIndex(5)
    panel.stand_in.feature.activated.emit(5)
    for _ in range(5):
        panel.stand_in.buttons["data"].click()
        spin(0.2)
    shot("calipers", lambda: panel.feature.setText("thread"))
    panel.toggle_connection()


if __name__ == "__main__":
    main()
