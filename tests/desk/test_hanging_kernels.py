"""A kernel that hangs, and what waits for one: told, to be cancelled, never waited for without a limit."""

import os
import signal

from PyQt6.QtCore import QTimer

from lathed_solid.core.job import edits
from lathed_solid.desk.sheet.model import MARK


def test_a_proof_that_hangs_has_a_label_a_cancel_and_a_limit(desk, monkeypatch):
    """The kernel process is stopped in its tracks while it measures: neither an answer nor an end comes of itself."""
    desk.open_example("skp-01")
    kernel = desk.session._builds.client._present._kernels[0]
    monkeypatch.setattr(
        desk.session.busy._task_limit, "start", lambda: QTimer.start(desk.session.busy._task_limit, 1500)
    )
    os.kill(kernel._process.pid, signal.SIGSTOP)
    desk.session.export(desk.session._jobs.earlier_folder / "a.step", "step")
    desk.wait(lambda: "writing a.step" in desk.window.rail.working.text())
    assert desk.window.rail.cancel.isVisible()
    desk.wait(lambda: any("Stopped writing a.step" in text for text, _ in desk.said))
    desk.wait(lambda: not desk.window.rail.cancel.isVisible())
    desk.enter("22")
    desk.settled()
    assert desk.session.current.proof is not None and desk.session.current.proof.lines


def test_a_kernel_that_hangs_before_it_begins_has_a_label_a_cancel_and_a_limit(desk, monkeypatch):
    """Stopped in its tracks while it had nothing to do: it never says that it has begun."""
    desk.open_example("skp-01")
    os.kill(desk.session._builds.client._present._kernels[0]._process.pid, signal.SIGSTOP)
    desk.enter("22")
    desk.wait(lambda: "building the part" in desk.window.rail.working.text())
    desk.click(desk.window.rail.cancel)
    desk.wait(lambda: not desk.session.is_working and not desk.window.rail.cancel.isVisible())
    desk.enter("23")
    desk.settled()
    os.kill(desk.session._builds.client._present._kernels[0]._process.pid, signal.SIGSTOP)
    limit = desk.session.busy._task_limit
    monkeypatch.setattr(limit, "start", lambda: QTimer.start(limit, 1500))
    desk.enter("24")
    desk.wait(lambda: any("Stopped building the part" in text for text, _ in desk.said))
    monkeypatch.undo()
    desk.enter("25")
    desk.settled()
    assert desk.session.current.proof is not None and len(desk.session.current.proof.lines) > 24


def test_a_build_that_was_cancelled_leaves_no_mark_of_the_state_before(desk):
    """The solid on screen is still Ø34 there: a green mark beside Ø40 would be wrong, and so would the mass's."""
    desk.open_example("skp-01")
    assert desk.session.current.proof.mark_of(9) == "in"
    os.kill(desk.session._builds.client._present._kernels[0]._process.pid, signal.SIGSTOP)
    desk.session.edit(lambda c: edits.edit_callout(c, 9, "Ø40"), "callout 9 changed")
    desk.wait(lambda: desk.window.rail.cancel.isVisible())
    desk.click(desk.window.rail.cancel)
    desk.wait(lambda: desk.session.current.proof is None)
    assert desk.session.current.built is not None
    sheet = desk.window.sheet.model
    assert {sheet.data(sheet.index(row), MARK) for row in range(sheet.rowCount())} == {"open"}
    assert desk.window.rail._stated.text() == "not proved"
    desk.enter("build again")
    desk.settled()
    assert desk.session.current.proof.mark_of(9) == "in" and "✗" in desk.window.rail._stated.text()


def test_cancel_ends_what_waits_too(desk):
    """Every number of a route is changed after the routes are compared: with one process for studies that one waits."""
    desk.open_example("skp-01")
    desk.window.show_routes()
    desk.wait(lambda: desk.window.rail.cancel.isVisible())
    desk.click(desk.window.rail.cancel)
    desk.wait(lambda: not desk.session.is_working and not desk.window.rail.cancel.isVisible(), 5)
    assert desk.session.busy.task is None
