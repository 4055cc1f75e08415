"""Damaged STEP and BREP files as a body of a part: each builds, or fails in words; the next build is always right."""

from __future__ import annotations

import logging
import queue
import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from lathed_solid.core.job import storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content, Route
from lathed_solid.core.route.steps.foreign import Foreign
from lathed_solid.worker.client import Client
from lathed_solid.worker.protocol import FINAL, Build, BuiltPart, Export, Exported, Fallen, Proved, Reply
from lathed_solid.worker.zygote import warm_up

from . import memory
from .drawings import EXAMPLES, spoiled
from .outcome import Outcome

#: As long as the window waits for a step, a file may take; here less, so that one caught does not hold up the others.
LONG = 20.0
#: A STEP file is written as BREP by a program of its own: the window writes none.
_AS_BREP = """
import sys
from pathlib import Path
from OCP.BRepTools import BRepTools
from lathed_solid.core.kernel.files.reading import read_solids
path = Path(sys.argv[1])
BRepTools.Write_s(read_solids(path.read_bytes(), path.name, "s1")[0].body.shape, str(path.with_suffix(".brep")))
"""
ODD = ("", "$", "*", "0", "-1", "1.E400", "NAN", "#0", "#999999", "()", ".T.", "'x'")


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """A kernel process that falls over a file is no fault: it is there for that. Being stuck is, or saying nothing."""
    warm_up()
    logging.getLogger("lathed_solid").setLevel(logging.CRITICAL)
    found, replies = Outcome(), queue.Queue[Reply]()
    client = Client(replies.put)
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        wholes = _wholes(Path(folder), client, replies)
        sound = max(_one(client, store, whole, replies, found, (name, len(whole))) for name, whole in wholes)
        content = storage.load(EXAMPLES / "skp-01.lathed").job.content
        try:
            while going():
                name, whole = rng.choice(wholes)
                data = _spoiled_records(rng, whole) if rng.random() < 0.7 else spoiled(rng, whole)
                case = (name, len(data))
                found.taken(_one(client, store, data, replies, found, case) - sound, case)
                if found.count % 20 == 0:
                    _sound(client, content, replies, found)
        finally:
            client.close()
    return found


def _wholes(folder: Path, client: Client, replies: queue.Queue[Reply]) -> list[tuple[str, bytes]]:
    made = []
    for example in ("skp-01", "skp-02"):
        content = storage.load(EXAMPLES / f"{example}.lathed").job.content
        path = folder / f"{example}.step"
        ticket = client.ticket()
        client.ask(Export(ticket, content, str(path), "step"))
        assert isinstance(_answer(ticket, replies, 60.0), Exported)
        subprocess.run([sys.executable, "-c", _AS_BREP, str(path)], check=True)
        made += [(p.name, p.read_bytes()) for p in (path, path.with_suffix(".brep"))]
    return made


def _spoiled_records(rng: random.Random, whole: bytes) -> bytes:
    """A few words of a text file changed, moved or dropped."""
    lines = whole.decode("latin-1").split("\n")
    for _ in range(rng.choice((1, 1, 3, 10))):
        at = rng.randrange(len(lines))
        words = lines[at].replace(",", " , ").replace("(", " ( ").split(" ")
        how = rng.random()
        if how < 0.5:
            words[rng.randrange(len(words))] = rng.choice(ODD)
            lines[at] = "".join(words) if "=" in lines[at] else " ".join(words)
        elif how < 0.75 and len(lines) > 1:
            del lines[at]
        else:
            lines[at] = rng.choice(lines)
    return "\n".join(lines).encode("latin-1")


def _one(
    client: Client, store: Store, data: bytes, replies: queue.Queue[Reply], found: Outcome, case: tuple[str, int]
) -> int:
    """The memory the kernel came to hold, bytes."""
    found.count += 1
    name, ticket = store.put(data), client.ticket()
    step = Foreign(id="s1", attachment=name, file=case[0])
    content = Content(routes=(Route(name="Route 1", steps=(step,)),))
    process = client._present._kernels[0]._process
    with memory.watched(process.pid if process is not None else 0) as watch:
        client.ask(Build(ticket, content, attachments=str(store.folder)))
        reply = _answer(ticket, replies, LONG)
    if reply is None:
        client.end(ticket)  # as the window does when the time of a step is over
        if _answer(ticket, replies, 10.0) is None:
            found.fault("stuck", case)
    elif isinstance(reply, BuiltPart):
        said = [r.message for r in reply.reports if r.state == "failed"]
        if any(not words or "Traceback" in words or "OCP" in words for words in said):
            found.fault("a failure without words", (case, said))
    (store.folder / name).unlink(missing_ok=True)
    return watch.peak


def _sound(client: Client, content: Content, replies: queue.Queue[Reply], found: Outcome) -> None:
    ticket = client.ticket()
    client.ask(Build(ticket, content))
    until = time.monotonic() + LONG
    while time.monotonic() < until:
        with suppress(queue.Empty):
            reply = replies.get(timeout=0.2)
            if isinstance(reply, Proved) and reply.ticket == ticket:
                if reply.proof is None or not reply.proof.all_in:
                    found.fault("the next build is wrong", found.count)
                return
    found.fault("the next build does not come", found.count)


def _answer(ticket: int, replies: queue.Queue[Reply], seconds: float) -> Reply | None:
    """The answer to a request, a part before its proof; None when it is not there in time."""
    until, built = time.monotonic() + seconds, None
    while time.monotonic() < until:
        with suppress(queue.Empty):
            reply = replies.get(timeout=0.2)
            if isinstance(reply, BuiltPart) and reply.ticket == ticket:
                built = reply
            if isinstance(reply, (*FINAL, Fallen)) and reply.ticket == ticket:
                return built or reply
    return None
