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
    from lathed_solid.core.job import edits
    from lathed_solid.core.job.model import Job
    from lathed_solid.core.sketch.make.draw import Spot
    from lathed_solid.desk.app import demo_files
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.theme.style import load_fonts
    from lathed_solid.desk.window import Window

    load_fonts()
    session = Session(Path(tempfile.mkdtemp()))
    window = Window(session)
    window.resize(1280, 800)
    for path in demo_files():
        session.open(path)
    window.show()

    def spin(seconds: float) -> None:
        ends = time.monotonic() + seconds
        while time.monotonic() < ends:
            app.processEvents()
            time.sleep(0.01)

    def settled() -> None:
        spin(0.3)
        while session.client.is_busy:
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
    shot("shape", lambda: (window.show_stage("Shape"), select(20, "s3")))
    shot("table", lambda: (window.show_stage("Shape"), select(6, "s1"), window.plate.show_table(True)))
    shot("section", lambda: (window.plate.show_table(False), select(19, "s2"), window.toggle_section()))
    window.toggle_section()
    session.switch(1)
    shot("read", lambda: (window.show_stage("Read"), select(10)))
    shot("prove", lambda: (window.show_stage("Prove"), select(10), window.look_from("I")))
    shot("plate", lambda: (window.show_stage("Shape"), select(15, "s10"), window.look_from("L")))
    shot("dark", lambda: (window.toggle_dark(), window.look_from("I"), window.toggle_see_through()))
    window.toggle_dark()
    window.toggle_see_through()
    session.edit(lambda c: edits.edit_callout(c, 9, "2x 12 x 45°"), "a chamfer far too big")
    shot("failure", lambda: select(9, "s3"))
    session.undo()
    session.edit(lambda c: edits.change_step(c, "s6", count="5"), "one hole short")
    shot("out-of-limits", lambda: (window.show_stage("Prove"), select(10)))
    session.undo()
    measure(window, session, spin, shot)
    session.add(Job())
    window.glass.open_file(EXAMPLES / "skp-02.dxf")
    spin(2)
    window.show_read(window.read_lower.complete)
    shot("offers", lambda: window.read_side.offers.list.setCurrentRow(0))
    session.add(Job())
    window.show_read(window.title_block)
    window.read_side.setCurrentIndex(0)
    shot(
        "empty", lambda: (window.show_stage("Read"), window.entry.line.setText("6x dia 5.5 thru cbore 10 dp 5.4 on 98"))
    )
    window.entry.line.clear()
    window.run(window.actions_.get("step.extrude"))
    spin(0.5)
    plate = window.plate
    plate._on_drawn("rectangle", [Spot(5, 4), Spot(30, 14)])
    curves = [c.id for c in plate.sketch.curves()]  # type: ignore[union-attr]
    plate.canvas.chosen = [curves[0]]
    plate.dimension_chosen("25")
    plate.canvas.chosen = [curves[2]]
    shot("conflict", lambda: plate.dimension_chosen("30"))
    window.shut()
    session.client.close()
    os._exit(0)


def measure(window: Window, session: Session, spin: Spin, shot: Shot) -> None:
    """The levelling foot under the simulated caliper, and a size worked out from readings."""
    session.switch(2)
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
    window.show_read(window.read_lower.convert)
    convert = window.read_lower.convert
    convert.list.setCurrentRow(1)
    for key, text in (("gap", "38.42"), ("d1", "#4"), ("d2", "#4")):
        convert.fields[key].setText(text)
    shot("work-out", lambda: convert.label.setText("leg to leg"))


if __name__ == "__main__":
    main()
