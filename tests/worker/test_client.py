"""The kernel process: it may fall, hang or be cancelled, and nothing is lost."""

import os
import queue
import signal
import time

import pytest

from lathed_solid.core.job import edits
from lathed_solid.worker import faults
from lathed_solid.worker.client import Client
from lathed_solid.worker.protocol import Build, BuiltPart, Ended, Export, Exported, Failed, Fallen, Proved, Started
from lathed_solid.worker.zygote import Zygote, warm_up


@pytest.fixture
def client():
    replies = queue.Queue()
    made = Client(replies.put)
    made.replies = replies
    yield made
    made.close()


def until(client, kind, seconds=60):
    """All replies up to the first of a kind."""
    seen, ends = [], time.monotonic() + seconds
    while time.monotonic() < ends:
        try:
            seen.append(client.replies.get(timeout=0.5))
        except queue.Empty:
            continue
        if isinstance(seen[-1], kind):
            return seen
    raise AssertionError(f"no {kind} within {seconds} s; got {seen}")


def test_a_part_is_built_proved_and_cached(client, flange):
    client.ask(Build(client.ticket(), flange))
    replies = until(client, Proved)
    assert [type(r) for r in replies[:2]] == [Started, Ended]
    part = next(r for r in replies if isinstance(r, BuiltPart))
    assert len(part.names) == len(part.surfaces) == len(part.references)
    assert all(part.references)
    assert replies[-1].proof.all_in
    client.ask(Build(client.ticket(), edits.change_step(flange, "s10", suppressed=True)))
    again = until(client, Proved)
    assert not any(isinstance(r, Started) for r in again)


def test_a_fall_names_the_step_and_the_next_build_works(client, arbor, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "s3=crash")
    client.ask(Build(client.ticket(), arbor))
    fallen = until(client, Fallen)[-1]
    assert (fallen.step, fallen.cancelled) == ("s3", False)
    monkeypatch.delenv(faults.VARIABLE)
    client.ask(Build(client.ticket(), arbor, faulted={"s3": "it fell"}))
    part = next(r for r in until(client, Proved) if isinstance(r, BuiltPart))
    assert [(r.id, r.state) for r in part.reports][-2:] == [("s3", "failed"), ("s4", "waiting")]
    assert part.shape
    client.ask(Build(client.ticket(), arbor))
    assert until(client, Proved)[-1].proof.all_in


@pytest.mark.clock
def test_cancel_is_prompt(client, arbor, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "s3=slow:30")
    client.ask(Build(client.ticket(), arbor))
    while not any(isinstance(r, Started) and r.step == "s3" for r in until(client, Started)):
        pass
    begun = time.monotonic()
    client.cancel()
    assert until(client, Fallen)[-1].cancelled
    assert time.monotonic() - begun < 2
    assert not client.is_busy


def test_the_newest_build_takes_the_place_of_all_before_and_of_the_one_that_runs(client, arbor, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "s1=slow:1")
    tickets = []
    for height in range(4):
        content = edits.set_header(arbor, remarks=str(height))
        tickets.append(client.ticket())
        client.ask(Build(tickets[-1], content))
        if height == 0:
            until(client, Started)
    replies = until(client, Proved)
    assert replies[-1].ticket == tickets[-1]
    assert {r.ticket for r in replies if not isinstance(r, Ended)} == {tickets[-1]}
    # What the first one had built when it was let go was not built again.
    assert "s1" not in [r.step for r in replies if isinstance(r, Started)]


def test_a_study_delays_nothing_and_ends_by_itself(client, arbor, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "s1=slow:30")
    study = Build(client.ticket(), arbor, want=frozenset(("proof",)))
    client.study(study)
    time.sleep(0.5)  # its process has taken the fault along
    monkeypatch.delenv(faults.VARIABLE)
    client.ask(Build(client.ticket(), arbor))
    assert until(client, Proved)[-1].ticket != study.ticket
    assert client.is_busy
    client.end(study.ticket)
    fallen = until(client, Fallen)[-1]
    assert (fallen.ticket, fallen.cancelled) == (study.ticket, True)
    client.ask(Build(client.ticket(), edits.change_step(arbor, "s4", suppressed=True)))
    replies = until(client, Proved)
    assert not any(isinstance(r, Started) for r in replies), "the present kernel has kept what it had built"


def test_a_study_is_sent_no_more_than_it_wants(client, arbor):
    client.study(Build(client.ticket(), arbor, want=frozenset(("proof",))))
    replies = until(client, Proved)
    (part,) = [r for r in replies if isinstance(r, BuiltPart)]
    assert part.shape == b"" and part.bodies[0].volume > 0
    assert replies[-1].proof.all_in
    client.ask(Build(client.ticket(), arbor, want=frozenset(("shape",))))
    replies = until(client, Proved)
    (part,) = [r for r in replies if isinstance(r, BuiltPart)]
    assert part.shape and replies[-1].proof is None


def test_exports_are_written_or_refused_in_words(client, arbor, tmp_path):
    client.ask(Export(client.ticket(), arbor, str(tmp_path / "a.stl"), "stl"))
    assert isinstance(until(client, (Exported, Failed))[-1], Exported)
    assert (tmp_path / "a.stl").stat().st_size > 10_000
    client.ask(Export(client.ticket(), arbor, str(tmp_path / "no" / "a.step"), "step"))
    assert "could not be written" in until(client, (Exported, Failed))[-1].message
    broken = edits.change_step(arbor, "s3", diameter="99")
    client.ask(Export(client.ticket(), broken, str(tmp_path / "b.step"), "step"))
    assert "The route stops at “Cross hole”" in until(client, (Exported, Failed))[-1].message
    assert [p.name for p in tmp_path.iterdir()] == ["a.stl"]


def pid_of(client):
    return client._present._kernels[0]._process.pid


@pytest.mark.parametrize("at_once", [True, False])
def test_a_kernel_that_died_while_idle_costs_nothing(client, arbor, at_once):
    client.ask(Build(client.ticket(), arbor))
    until(client, Proved)
    os.kill(pid_of(client), signal.SIGKILL)
    if not at_once:
        time.sleep(0.3)
    ticket = client.ticket()
    client.ask(Build(ticket, edits.set_header(arbor, remarks="after")))
    replies = until(client, Proved)
    assert replies[-1].ticket == ticket
    assert not any(isinstance(r, Fallen) and r.ticket == ticket for r in replies)


@pytest.mark.faults
def test_a_helper_that_is_gone_is_started_again(client, arbor):
    helper = warm_up()
    old = helper.pid
    os.kill(old, signal.SIGKILL)
    client.ask(Build(client.ticket(), arbor))
    assert until(client, Proved, seconds=90)[-1].proof.all_in
    assert helper.pid != old


@pytest.mark.faults
def test_a_helper_that_hangs_is_ended_and_started_again(client, arbor, monkeypatch):
    client.ask(Build(client.ticket(), arbor))
    until(client, Proved)
    helper = warm_up()
    old, waits = helper.pid, helper._socket.gettimeout()
    assert waits, "it is never waited for without a limit"
    helper._socket.settimeout(1.0)
    os.kill(old, signal.SIGSTOP)
    os.kill(client._present._kernels[0]._process.pid, signal.SIGKILL)
    client.ask(Build(client.ticket(), arbor))
    assert until(client, Proved, seconds=90)[-1].proof.all_in
    assert helper.pid != old and helper._socket.gettimeout() == waits
    with pytest.raises(ProcessLookupError):
        os.kill(old, 0)


@pytest.mark.faults
def test_without_a_helper_whoever_waits_is_told(client, arbor, monkeypatch):
    def never(self, injected):
        raise OSError("no more processes")

    with monkeypatch.context() as patch:
        patch.setattr(Zygote, "_spawn", never)
        patch.setattr(Zygote, "_revive", lambda self: None)
        client.ask(Build(client.ticket(), arbor))
        assert "could not be started: no more processes" in until(client, Failed)[-1].message
        assert not client.is_busy
    client.ask(Build(client.ticket(), arbor))
    assert until(client, Proved)[-1].proof.all_in
