"""Kernel processes and their helper killed, or stopped in their tracks, at any moment: the next build is right, and
nothing is busy for ever.
"""

from __future__ import annotations

import logging
import os
import queue
import random
import signal
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content
from lathed_solid.worker.client import Client
from lathed_solid.worker.protocol import Build, Failed, Fallen, Proved, Reply
from lathed_solid.worker.zygote import warm_up

from .outcome import Outcome

EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-01.lathed"
#: A build and its proof take a second; one that is not there after this long is stuck.
STUCK = 40.0


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Builds asked for at random, kills at random, then one build that must come."""
    warm_up()
    logging.getLogger("lathed_solid").setLevel(logging.CRITICAL)
    found, content = Outcome(), storage.load(EXAMPLE).job.content
    replies: queue.Queue[Reply] = queue.Queue()
    client = Client(replies.put)
    try:
        while going():
            _one(rng, client, content, replies, found)
    finally:
        client.close()
    return found


def _one(rng: random.Random, client: Client, content: Content, replies: queue.Queue[Reply], found: Outcome) -> None:
    found.count += 1
    done = []
    for _ in range(rng.randrange(1, 4)):
        time.sleep(rng.choice((0.0, 0.0, rng.uniform(0, 0.05), rng.uniform(0, 0.6))))
        what = rng.choice(("build", "kill", "kill", "build", "hang", "helper" if rng.random() < 0.1 else "build"))
        done.append(what)
        if what == "build":
            changed = edits.set_header(content, remarks=str(rng.random()))
            if rng.random() < 0.5:
                changed = edits.change_step(changed, "s4", suppressed=rng.random() < 0.5)
            client.ask(Build(client.ticket(), changed))
        else:
            _kill(client, what)
    if "hang" in done:  # whoever works with it sees that nothing comes, and presses Cancel
        client.ask(Build(client.ticket(), content))
        time.sleep(rng.uniform(0.0, 0.3))
        client.cancel()
    ticket = client.ticket()
    client.ask(Build(ticket, content))
    _comes(client, content, ticket, replies, found, done)


def _kill(client: Client, what: str) -> None:
    process = client._present._kernels[0]._process
    pid = warm_up().pid if what == "helper" else process.pid if process is not None else 0
    if pid:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGSTOP if what == "hang" else signal.SIGKILL)


def _comes(
    client: Client, content: Content, ticket: int, replies: queue.Queue[Reply], found: Outcome, done: list[str]
) -> None:
    """The last build is proved; one that a kill hit may be asked for once more, as the window does."""
    until, again = time.monotonic() + STUCK, 0
    while time.monotonic() < until:
        with suppress(queue.Empty):
            reply = replies.get(timeout=0.2)
            if isinstance(reply, Proved) and reply.ticket == ticket:
                if reply.proof is None or not reply.proof.all_in:
                    found.fault("a build after a kill is wrong", done)
                if client.is_busy:
                    found.fault("busy after the last answer", done)
                return
            if isinstance(reply, Fallen | Failed) and reply.ticket == ticket:
                again += 1
                if again > 1:
                    found.fault("one kill cost two builds", done)
                    return
                ticket = client.ticket()
                client.ask(Build(ticket, content))
    found.fault("stuck", done)
