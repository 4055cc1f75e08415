"""A family carried out by a cluster (dask.distributed): one on this machine, or one that runs elsewhere already.

Each member is one task. The cluster does it again elsewhere when the worker that had it is gone; a member that fells
every worker is told as such.
"""

from __future__ import annotations

import logging
import tempfile
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from ..core.issue.formats import FORMATS, issue
from ..core.job.attachments import Store
from ..core.job.family import Line, Variant, judged, key_of, priced, what_failed
from ..core.job.files import write_atomic
from ..core.job.model import Content
from ..core.plan.shop import Shop
from ..core.refusal import Refusal
from ..core.route.rebuild import Cache

if TYPE_CHECKING:
    from distributed import Client

    from .family import Family

log = logging.getLogger(__name__)
#: The address that stands for a cluster on this machine.
HERE = "local"
#: So often a member may bring its worker down before it is let go.
_TRIES = 2


class NoCluster(Refusal):
    """A cluster that is not there, or a program without what it needs for one."""


class _Made(msgspec.Struct, frozen=True):
    """What a task gives back: the line, and the bytes of the file that was wanted."""

    line: Line
    file: bytes = b""


def carry_out(content: bytes, files: dict[str, bytes], form: str, name: str, key: str, shop: bytes) -> bytes:
    """One member, in a worker of the cluster: built, proved, priced by a shop's tables and written in a format (empty:
    in none). ``key`` tells it again (``family.key_of``).
    """
    part = msgspec.json.decode(content, type=Content)
    try:
        return msgspec.msgpack.encode(_carried_out(part, files, form, name, key, msgspec.json.decode(shop, type=Shop)))
    except Refusal as error:
        words = error.said_in(part.header.units)
        return msgspec.msgpack.encode(_Made(Line(name, "failed", "", words=words)))


def _carried_out(part: Content, files: dict[str, bytes], form: str, name: str, key: str, shop: Shop) -> _Made:
    from ..core.job.proving import build_and_prove
    from ..core.job.surveying import surveyed

    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder) / "files")
        for data in files.values():
            store.put(data)
        cache = Cache()  # what is proved is written, not built again
        made = build_and_prove(part, cache, store=store)
        failed = what_failed(part, made.result.reports)
        line, data = judged(name, key, made.proof, failed, part.header.style), b""
        if line.state != "failed":
            line = priced(line, part, surveyed(part, cache, store), shop)
        if form and line.state != "failed":
            path = Path(folder) / f"{name}{FORMATS[form].endings[0]}"
            issue(part, path, FORMATS[form], cache, store=store)
            data = path.read_bytes()
    return _Made(line, data)


@contextmanager
def _client(address: str, workers: int) -> Iterator[Client]:
    """Raises NoCluster."""
    try:
        import dask

        dask.config.set(
            {
                "logging": {"distributed": "critical"},  # it tells of every worker that ends
                "distributed.scheduler.allowed-failures": _TRIES - 1,
                "distributed.comm.timeouts.connect": "10s",
            }
        )
        from distributed import Client, LocalCluster
    except ImportError:
        raise NoCluster(
            "A cluster needs the package “distributed”: .venv/bin/pip install '.[cluster]'. Without --cluster a family "
            "is carried out by processes on this machine."
        ) from None
    with ExitStack() as stack:
        try:
            where: object = address
            if address == HERE:
                where = stack.enter_context(
                    LocalCluster(n_workers=workers, threads_per_worker=1, processes=True, dashboard_address=None)
                )
            client = stack.enter_context(Client(where))
        except (OSError, ValueError) as error:
            words = f"The cluster at {address} cannot be reached: {error}. Is its scheduler running?"
            raise NoCluster(words) from error
        yield client


def run_on(family: Family, address: str, workers: int) -> tuple[Line, ...]:
    """All lines of a family, in the order of its table, with the members done by a cluster. Raises NoCluster."""
    done = family.before()
    with _client(address, workers) as client:
        from distributed import KilledWorker, as_completed

        files, form = family.attached(), family.form.id if family.form is not None else ""
        shop = msgspec.json.encode(family.shop)
        asked: dict[object, Variant] = {}
        for variant in family.variants:
            content = family.prepared(variant, done)
            if content is not None:
                given = (msgspec.json.encode(content), files, form, variant.name, key_of(content, family.shop), shop)
                task = client.submit(carry_out, *given, pure=False)
                asked[task] = variant
        for task in as_completed(asked):
            variant = asked[task]
            try:
                made = msgspec.msgpack.decode(task.result(), type=_Made)
            except KilledWorker:
                family.say(Line(variant.name, "failed", "", words="The kernel fell over this variant."))
                continue
            except Exception:
                log.exception("a member of a family could not be carried out")
                family.say(Line(variant.name, "failed", "", words="The cluster could not carry it out; see its log."))
                continue
            if made.file:
                write_atomic(family.file(variant), made.file)
            family.say(made.line)
    return family.in_order()
