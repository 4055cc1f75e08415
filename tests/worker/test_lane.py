"""A request that follows one that was ended is never lost with the process that goes down for that."""

import threading

from lathed_solid.core.job.model import Content
from lathed_solid.worker.lane import Kernel, Lane
from lathed_solid.worker.protocol import Survey


class Pipe:
    def send_bytes(self, data):
        pass


class Going:
    """A process that was killed, and whose last word had already been read."""

    pipe = Pipe()

    def kill(self):
        pass


def test_what_is_sent_to_a_process_that_goes_down_is_asked_again():
    told, retried = [], []
    kernel = Kernel(threading.RLock(), told.append, lambda: None, retried.append, lambda words: None)
    kernel._process = Going()
    first, second = Survey(1, Content()), Survey(2, Content())
    kernel.send(first)
    kernel.kill()  # it is ended while its answer is on the way
    kernel.running = None  # the answer is read
    kernel.send(second)
    kernel._fallen()
    assert retried == [second] and told == []


def test_what_was_ended_is_told_as_cancelled():
    told, retried = [], []
    kernel = Kernel(threading.RLock(), told.append, lambda: None, retried.append, lambda words: None)
    kernel._process = Going()
    kernel.send(Survey(1, Content()))
    kernel.kill()
    kernel._fallen()
    assert retried == [] and [(f.ticket, f.cancelled) for f in told] == [(1, True)]


def test_what_waits_is_told_when_all_is_cancelled_and_what_is_let_go_alone_leaves_the_rest(monkeypatch):
    """Whoever asked would wait for ever, and the window say for ever that it is at work."""
    monkeypatch.setattr(Kernel, "start", lambda self: None)
    told = []
    lane = Lane(told.append)
    for ticket in (1, 2, 3):
        lane.ask(Survey(ticket, Content()))
    lane.cancel(2)
    assert [(r.ticket, r.cancelled) for r in told] == [(2, True)] and lane.is_busy
    lane.cancel()
    assert [r.ticket for r in told] == [2, 1, 3] and not lane.is_busy
