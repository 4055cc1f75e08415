"""Starting the program: the kernel and its helper process first, then the window, then the work of last time."""

from __future__ import annotations

import logging
import logging.handlers
import os
import sys
import time
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

# Whatever is imported here delays the kernel process: only what costs nothing.
if TYPE_CHECKING:
    from .session import Session
    from .window import Window

log = logging.getLogger(__name__)
#: Longest that the kernel's viewer waits for the window's first picture, milliseconds: where there is one to wait for,
#: and where not.
PICTURE_WITHIN, LOAD_AFTER = 5000, 500
#: When all is loaded, milliseconds; from then on garbage is collected.
COLLECT_AFTER = 8000


def demo_files() -> tuple[Path, ...]:
    """The example jobs, in order: those that were installed with the program, else those of the source tree."""
    own = Path(__file__).parents[1] / "demo"
    folder = own if own.is_dir() else Path(__file__).parents[3] / "examples"
    return tuple(sorted(folder.glob("*.lathed")))


def _log_to_file(folder: Path) -> None:
    """Everything goes to the log; nothing of it to the screen."""
    from ..core.job.files import private_folder

    try:
        private_folder(folder)
        (folder / "desk.log").touch(mode=0o600)
        (folder / "desk.log").chmod(0o600)
        handler = logging.handlers.RotatingFileHandler(folder / "desk.log", maxBytes=1_000_000, backupCount=2)
    except OSError:
        return
    handler.setFormatter(logging.Formatter("%(asctime)s %(name)s %(levelname)s %(message)s"))
    logging.getLogger("lathed_solid").addHandler(handler)
    logging.getLogger("lathed_solid").setLevel(logging.INFO)


def catch_faults(session: Session) -> None:
    """A fault of the program is logged, said in one line, and the work is put into the journal at once."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        log.error("fault", exc_info=(kind, error, trace))
        if session.jobs:
            session.current.record()
        session.say("Something went wrong inside the program. Your work is kept; details are in the log.", "bad")

    sys.excepthook = hook


def run(files: Sequence[Path]) -> int:
    """Open the window on ``files``; returns the exit code."""
    os.environ.setdefault("QT_QPA_PLATFORM", "xcb")
    if os.environ["QT_QPA_PLATFORM"] == "xcb" and not os.environ.get("DISPLAY"):
        told = "There is no screen here (DISPLAY is not set). Use “prove” and “build” without a window."
        print(told, file=sys.stderr)
        return 2
    from ..worker.zygote import warm_up

    warm_up()
    from PyQt6 import sip
    from PyQt6.QtCore import QSettings, QTimer
    from PyQt6.QtWidgets import QApplication

    app = QApplication(sys.argv[:1])
    app.setApplicationName("lathed-solid")
    app.setApplicationDisplayName("Lathed Solid")
    from .garbage import Collector

    collector = Collector(app)
    from .theme.style import load_fonts

    load_fonts()
    from .session import Session, state_folder

    _log_to_file(state_folder())
    session = Session()
    catch_faults(session)
    files = files or _of_last_time(session)
    # The kernel process sets to work at once, while this one still loads the viewer.
    _fill(session, files)
    from ..core.job.storage import read_preview
    from .theme.icons import icon
    from .window import Window

    settings = QSettings("lathed-solid", "desk")
    app.setProperty("textScale", float(settings.value("text", 1.0)))
    window = Window(session, dark=settings.value("dark", False, type=bool))
    app.setWindowIcon(icon("app"))
    window.resize(1280, 800)
    window.plate.waits = True  # what can still move is shown once the solver is loaded
    window.show_stage("Read" if not files else "Shape")
    waiting = bool(files)  # an empty part has no notes to be read: nobody waits for it
    if not waiting:
        session.take_up()
    if (path := session.current.path) is not None:
        window.stand_in.show_picture(read_preview(path))
    window.show()
    _fill_fit(window, files)
    _time_start(window)
    window.solver_loaded.connect(window.plate.go_on)
    window.furnished.connect(lambda: _load_the_rest(window))
    QTimer.singleShot(COLLECT_AFTER, collector.begin)
    _go_on(window, waiting)
    code = app.exec()
    # The window must go before the application does; Python would take them in the order they were made.
    sip.delete(window)
    return code


def _of_last_time(session: Session) -> Sequence[Path]:
    """What was open when the program was left, as far as it is still there."""
    from ..core.job.recent import recent

    found = [Path(p) for p in recent(session.state).left_open]
    if found:
        session.say(f"As you left it: {', '.join(p.stem for p in found)}.")
    return found


def _fill(session: Session, files: Sequence[Path]) -> None:
    """Open the jobs among the files; offer the unsaved work of programs that are gone."""
    from ..core.job.assembling.files import is_assembly

    for path in files:
        if not is_assembly(path):
            session.open(path)
    if not session.jobs:
        from ..core.job.model import Job

        session.add(Job())
    elif len(files) > 1:
        session.switch(0)
    recover(session)


def _fill_fit(window: Window, files: Sequence[Path]) -> None:
    """Offer the unsaved assembly of a program that is gone; else the first one among the files stands in Fit, which is
    shown at once when there is no job.
    """
    from ..core.job.assembling.files import is_assembly
    from ..core.job.assembling.keeping import unsaved

    if next(unsaved(window.session.folder), None) is not None:
        window.fit.document.recover()
    elif (path := next(filter(is_assembly, files), None)) is not None:
        window.assembly_waiting = path
        if all(map(is_assembly, files)):
            window.show_stage("Fit")


def recover(session: Session, folder: Path | None = None) -> int:
    """Open unsaved work left in journals as further jobs; returns how many."""
    from ..core.job.journal import forget, recoverable
    from .session import state_folder

    found = recoverable(folder or state_folder() / "journals")
    for state in found.work:
        job = session.add(state.job, Path(state.path) if state.path else None, unsaved=True)
        if state.stamp is not None:
            job.stamp = state.stamp  # so that a file written meanwhile is met when the work is saved
        job.journal.record(state.job, state.path, job.stamp)
        if job.journal.holds(state.job):
            forget(state.journal)
        else:
            session.say(f"{job.journal.trouble} The recovered work stays in {state.journal}.", "warn")
    if found.work:
        names = ", ".join(f.job.content.header.number or f.job.content.header.name for f in found.work)
        session.say(f"Recovered unsaved work: {names}. Save it, or close it to let it go.", "warn")
    for path in found.unreadable:
        session.say(f"Unsaved work in {path} cannot be read. It was left as it is.", "warn")
    return len(found.work)


def load_rooms() -> None:
    """Import what is needed when a later stage is first entered."""
    from .fit import room as _fit  # noqa: F401
    from .issue import room as _issue  # noqa: F401
    from .plan import room as _plan  # noqa: F401


def _load_the_rest(window: Window) -> None:
    """SciPy and the rooms of later stages take a moment to load: not before the window stands, and not at the first
    drag or when a stage is first entered.
    """
    import threading

    def load() -> None:
        from ..core.sketch.explain import diagnose  # noqa: F401
        from ..core.sketch.solver import drag  # noqa: F401

        window.solver_loaded.emit()
        load_rooms()

    threading.Thread(target=load, daemon=True, name="the rest").start()


def _go_on(window: Window, waiting: bool) -> None:
    """What only keeps the window from standing is done once its first picture is seen: the panels that are ``waiting``
    are filled, for which notes are read, then the kernel's viewer is loaded; whoever needs that sooner has to wait.
    """
    import threading

    from .timing import one_shot

    def load() -> None:
        from . import part_room  # noqa: F401

        window.viewer_loaded.emit()

    thread = threading.Thread(target=load, daemon=True, name="viewer")

    def go_on() -> None:
        if thread.ident is None:  # a picture that comes later than the timer asks once more
            if waiting:
                window.session.take_up()
            thread.start()

    begin = one_shot(window, PICTURE_WITHIN if waiting else LOAD_AFTER)
    begin.timeout.connect(go_on)
    window.stand_in.painted.connect(lambda: begin.start(0))
    begin.start()


def _time_start(window: Window) -> None:
    """For the bench, which says when it began (``time.perf_counter``, the same clock in all processes): say when the
    window stands, when it shows something of the part, and when the part; then leave.
    """
    begun = float(os.environ.get("LATHED_SOLID_TIME_START", 0))
    if not begun:
        return
    from PyQt6.QtCore import QTimer

    def told(what: str) -> None:
        print(f"{what} {time.perf_counter() - begun:.3f}", flush=True)

    def painted() -> None:
        if window.part.scene.body is not None:
            told("first picture")
            os._exit(0)

    QTimer.singleShot(0, lambda: told("window"))
    window.stand_in.painted.connect(lambda: told("preview"))
    window.furnished.connect(lambda: window.part.surface.painted.connect(painted))
