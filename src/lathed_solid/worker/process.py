"""The kernel process: one request after another, until the pipe closes."""

from __future__ import annotations

import logging
import signal
import time
from collections.abc import Mapping
from functools import partial
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TYPE_CHECKING

from ..core.job.attachments import Store
from ..core.job.proving import prove_result
from ..core.refusal import Refusal
from ..core.route.model import FileLook
from ..core.route.rebuild import Cache, RouteResult, StepReport, rebuild
from . import faults
from .fitting import TakeParts
from .issuing import Pack
from .picturing import TakePicture
from .protocol import (
    BodyFigures,
    Build,
    BuiltPart,
    DatumFigure,
    Drop,
    Dropped,
    Ended,
    Failed,
    Hatch,
    Hatched,
    Proved,
    Reply,
    Request,
    Shadow,
    Started,
    encode,
)
from .protocol import decode_message as decode
from .studies import STUDIES, Means

if TYPE_CHECKING:
    from ..core.kernel.ground.named import NamedBody

log = logging.getLogger(__name__)
#: Builds whose bodies are kept for a section.
_KEPT = 8


def serve(connection: Connection, injected: str = "") -> None:
    """Main function of the process. ``injected`` are faults for tests (see :mod:`faults`)."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    _Server(connection, injected).run()


class _LetGo(Exception):
    """The window wants something newer."""


class _Server:
    def __init__(self, connection: Connection, injected: str) -> None:
        self._connection, self._injected = connection, injected
        self._cache = Cache()
        self._body: NamedBody | None = None
        #: The bodies of the last builds, by ticket.
        self._bodies: dict[int, Mapping[str, NamedBody]] = {}

    def run(self) -> None:
        while True:
            try:
                request = decode(self._connection.recv_bytes())
            except (EOFError, OSError):
                return
            if isinstance(request, Drop):
                continue  # it was done before it could be dropped
            try:
                reply = self._answer(request)
            except BrokenPipeError:
                return  # the window has gone
            except _LetGo:
                reply = Dropped(request.ticket)
            except Refusal as error:
                reply = Failed(request.ticket, error.said_in(_unit(request)))
            except OSError as error:
                reply = Failed(request.ticket, str(error))
            except Exception as error:  # at this boundary every failure becomes a message
                log.exception("request failed")
                reply = Failed(request.ticket, f"The kernel could not do this: {error}")
            try:
                self._send(reply)
            except BrokenPipeError:
                return

    def _send(self, reply: Reply) -> None:
        self._connection.send_bytes(encode(reply))

    def _answer(self, request: Request) -> Reply:
        if isinstance(request, Build):
            return self._build(request)
        if isinstance(request, Hatch):
            return self._hatch(request)
        means = Means(self._cache, _store(request.attachments), partial(self._make_way, request.ticket), self._send)
        return STUDIES[type(request)](request, means)

    def _build(self, request: Build) -> Proved:
        from ..core.kernel.ground.picture import mesh, to_bytes

        begun = time.perf_counter()

        def starting(step: object) -> None:
            self._make_way(request.ticket)
            id_ = step.id  # type: ignore[attr-defined]
            self._send(Started(request.ticket, id_))
            faults.strike(self._injected, id_)

        def ended(report: StepReport) -> None:
            if not report.cached:  # all reports come with the part
                self._send(Ended(request.ticket, report))

        result = rebuild(
            request.content.plan(_store(request.attachments).find),
            self._cache,
            until=request.until,
            faulted=request.faulted,
            starting=starting,
            ended=ended,
        )
        shown, self._body = self._body, result.body
        self._bodies[request.ticket] = result.bodies
        while len(self._bodies) > _KEPT:
            self._bodies.pop(next(iter(self._bodies)))
        if result.body is None:
            seconds = time.perf_counter() - begun
            self._send(
                BuiltPart(request.ticket, result.reports, b"", (), (), (), (), seconds, tuple(result.renewed.values()))
            )
            return Proved(request.ticket, None)
        shape = b""
        if "shape" in request.want:
            mesh(result.body.shape)
            shape = to_bytes(result.body.shape)
        self._send(self._built(request, result, begun, shape, shown))
        if "proof" not in request.want:
            return Proved(request.ticket, None)
        self._make_way(request.ticket)
        return Proved(request.ticket, prove_result(request.content, result))

    def _make_way(self, ticket: int) -> None:
        """Raises _LetGo when the window wants something newer; it says nothing else while a request runs."""
        while self._connection.poll():
            said = decode(self._connection.recv_bytes())
            if isinstance(said, Drop) and said.ticket == ticket:
                raise _LetGo

    def _built(
        self, request: Build, result: RouteResult, begun: float, shape: bytes, shown: NamedBody | None
    ) -> BuiltPart:
        from ..core.kernel.measure.surfaces import measure_faces

        body = result.body
        assert body is not None
        indices = range(1, body.face_count + 1)
        return BuiltPart(
            request.ticket,
            result.reports,
            shape,
            tuple(tuple(sorted(body.names.get(i, ()))) for i in indices),
            tuple(body.name_of(i) for i in indices),
            measure_faces(body, shown),
            result.marks,
            time.perf_counter() - begun,
            tuple(result.renewed.values()),
            _bodies(result),
            tuple(DatumFigure(i, f.origin, f.x, f.y) for i, f in result.datums.items()),
            tuple(Shadow(i, s.frame.origin, s.frame.x, s.frame.y, *s.ghost) for i, s in result.shadows.items()),
        )

    def _hatch(self, request: Hatch) -> Reply:
        from ..core.kernel.ground.geometry import Frame
        from ..core.kernel.ground.picture import to_bytes
        from ..core.kernel.measure.section import hatches

        bodies = self._bodies.get(request.of)
        if bodies is None:
            return Failed(request.ticket, "This part is not at hand any more. Build it again to see its hatch.")
        shapes = [b.shape for id_, b in bodies.items() if id_ not in request.hidden]
        lines = hatches(shapes, Frame(request.origin, request.x, request.y))
        return Hatched(request.ticket, request.of, to_bytes(lines))


def _unit(request: Request) -> str:
    """The unit in which the user reads what a request could not do."""
    if isinstance(request, TakePicture):
        of = request.content.header.style if request.content is not None else request.assembly
        return of.unit if of is not None else "mm"
    if isinstance(request, Pack):
        return request.job.content.header.style.unit
    if isinstance(request, Hatch | TakeParts):
        return "mm"
    content = getattr(request, "content", None)
    return content.header.style.unit if content is not None else request.assembly.unit  # type: ignore[union-attr]


def _store(folder: str) -> Store:
    return Store(Path(folder)) if folder else Store(Path("/nonexistent"))


def _bodies(result: RouteResult) -> tuple[BodyFigures, ...]:
    """The faces of each body as they are counted in the whole."""
    found, first = [], 1
    for id_, body in result.bodies.items():
        look = result.looks.get(id_, FileLook())
        found.append(BodyFigures(id_, first, first + body.face_count - 1, body.volume, look))
        first += body.face_count
    return tuple(found)
