"""What the kernel process does besides building the present part: one function a request, found by its type."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

from ..core.drafting.sheet.seen import Seen
from ..core.issue.formats import FORMATS, issue
from ..core.job.attachments import Store
from ..core.job.enduring import endured
from ..core.job.routes import compare_routes
from ..core.job.surveying import surveyed
from ..core.refusal import Refusal
from ..core.route.rebuild import Cache
from .fitting import (
    CutFaces,
    CutOpen,
    DriveJudged,
    DriveRun,
    Judge,
    Judged,
    JudgeDrive,
    JudgeNow,
    NowJudged,
    PartsTaken,
    ProposeAssemblySheet,
    RunDrive,
    RunSwing,
    SeeAssemblySheet,
    TakeParts,
    WriteAssembly,
)
from .inspecting import (
    CarriedThrough,
    Carry,
    Explain,
    Explained,
    Held,
    HoldAgainst,
    Inspect,
    Inspected,
    LookAsAShop,
    LookForRoom,
    LookForWalls,
    Match,
    Matched,
    RoomTold,
    Sensed,
    Suspected,
    WallsFound,
)
from .issuing import Pack, ProposeSheet, SeeSheet, SheetProposed, SheetSeen, SheetSoFar, WriteOutline, WriteSheets
from .picturing import PictureSoFar, PictureTaken, TakePicture
from .protocol import (
    Compare,
    Compared,
    Draw,
    Drawn,
    Endure,
    Export,
    Exported,
    Reply,
    Rewrite,
    Rewritten,
    Survey,
    Surveyed,
    Travel,
    Tried,
)


class Means(NamedTuple):
    """What a study works with: ``going`` raises when something newer is wanted, ``tell`` sends what there is so far."""

    cache: Cache
    store: Store
    going: Callable[[], object]
    tell: Callable[[Reply], object]


def _export(r: Export, by: Means) -> Reply:
    issue(r.content, Path(r.path), FORMATS[r.form], by.cache, store=by.store)
    return Exported(r.ticket, r.path)


def _compare(r: Compare, by: Means) -> Reply:
    return Compared(r.ticket, compare_routes(r.content, by.cache, by.store))


def _endure(r: Endure, by: Means) -> Reply:
    found = endured(r.content, by.cache, by.store, by.going)
    return Tried(r.ticket, r.content.routes[r.content.route].name, found)


def _survey(r: Survey, by: Means) -> Reply:
    return Surveyed(r.ticket, surveyed(r.content, by.cache, by.store))


def _draw(r: Draw, by: Means) -> Reply:
    from ..core.issue.setups import pictures

    return Drawn(r.ticket, pictures(r.content, r.views, r.size, by.cache, by.store))


def _travel(r: Travel, by: Means) -> Reply:
    from ..core.issue.sheets import write_sheet

    write_sheet(r.content, Path(r.path), r.shop, r.of, r.date, by.cache, by.store)
    return Exported(r.ticket, r.path)


def _inspect(r: Inspect, by: Means) -> Reply:
    from ..core.issue.report.writing import Asked, pages, write_report

    asked = Asked(r.piece, r.date, r.why, r.walls)
    if r.path:
        write_report(r.content, Path(r.path), asked, by.cache, by.store)
        return Exported(r.ticket, r.path)
    return Inspected(r.ticket, pages(r.content, asked, by.cache, by.store))


def _see_sheet(r: SeeSheet, by: Means) -> Reply:
    from ..core.issue.drawing.views import seen

    def so_far(found: Seen) -> None:
        by.tell(SheetSoFar(r.ticket, found))

    return SheetSeen(r.ticket, seen(r.content, r.sheet, by.cache, by.store, by.going, so_far))


def _propose_sheet(r: ProposeSheet, by: Means) -> Reply:
    from ..core.issue.drawing.propose import proposed

    return SheetProposed(r.ticket, *proposed(r.content, r.id, r.size, by.cache, by.store, by.going))


def _write_sheets(r: WriteSheets, by: Means) -> Reply:
    from ..core.issue.drawing.writing import write_sheets

    written = write_sheets(r.content, Path(r.path), r.which, r.revisions, by.cache, by.store, by.going)
    return Exported(r.ticket, str(written[0]))


def _pack(r: Pack, by: Means) -> Reply:
    from ..core.issue.package import Wanted, write_package

    write_package(r.job, r.label, Path(r.path), Wanted(r.shop, r.of), by.cache, by.store, by.going)
    return Exported(r.ticket, r.path)


def _write_outline(r: WriteOutline, by: Means) -> Reply:
    from ..core.issue.outline import write_outline

    write_outline(r.content, r.outline, Path(r.path), by.cache, by.store, by.going)
    return Exported(r.ticket, r.path)


def _take_picture(r: TakePicture, by: Means) -> Reply:
    from ..core.issue.picture.taking import take
    from ..core.issue.picture.telling import Teller

    of = r.content if r.content is not None else r.assembly
    assert of is not None
    teller = Teller(lambda done, many, png: by.tell(PictureSoFar(r.ticket, done, many, png)))
    path = Path(r.path) if r.path else None
    return PictureTaken(r.ticket, take(of, r.kind, r.shot, path, r.many, by.cache, by.store, teller.told, by.going))


def _carry(r: Carry, by: Means) -> Reply:
    from ..core.job.carried import carried

    return CarriedThrough(r.ticket, carried(r.content, r.what, r.text, by.cache, by.store, by.going))


def _walls(r: LookForWalls, by: Means) -> Reply:
    from ..core.job.surveying import thin_walls

    return WallsFound(r.ticket, thin_walls(r.content, by.cache, by.store, by.going))


def _room(r: LookForRoom, by: Means) -> Reply:
    from ..core.job.room import room_on

    return RoomTold(r.ticket, room_on(r.content, r.asked, by.cache, by.store, by.going))


def _sense(r: LookAsAShop, by: Means) -> Reply:
    from ..core.job.sensing import sensed

    return Sensed(r.ticket, sensed(r.content, by.cache, by.store, by.going))


def _hold(r: HoldAgainst, by: Means) -> Reply:
    from ..core.job.against import held_against

    return Held(r.ticket, held_against(r.content, r.other, r.path, r.lay, by.cache, by.store, by.going))


def _match(r: Match, by: Means) -> Reply:
    from ..core.job.binding import offers_of

    return Matched(r.ticket, offers_of(r.content, by.cache, by.store))


def _explain(r: Explain, by: Means) -> Reply:
    from ..core.job.why.explained import Why, explained

    def told(why: Why) -> None:
        by.tell(Suspected(r.ticket, why))

    return Explained(r.ticket, explained(r.content, store=by.store, going=by.going, told=told, line=r.line))


def _rewrite(r: Rewrite, by: Means) -> Reply:
    from ..core.job.rewriting.asked import rewritten

    return Rewritten(r.ticket, rewritten(r.content, r.asked, by.cache, by.store))


def _take_parts(r: TakeParts, by: Means) -> Reply:
    from ..core.fit.model import BOUGHT
    from ..core.job.assembling.paths import relative
    from ..core.job.assembling.shots import Shot, other_hand, shot_of_content, shots_of

    base, taken, refused = Path(r.base), list[Shot](), list[tuple[str, str]]()
    for path in r.paths:
        by.going()
        try:
            taken += shots_of(Path(path), base, by.store)
        except Refusal as error:
            refused.append((Path(path).name, error.said_in("mm")))
    for path, content in r.jobs:
        by.going()
        try:
            where = path if path.startswith(BOUGHT) or not path else relative(Path(path), base)
            taken.append(shot_of_content(content, where, "", by.store))
        except Refusal as error:
            refused.append((content.header.number or content.header.name, error.said_in(content.header.style.unit)))
    for shot in taken:
        by.store.put(shot.solid)
    for part in (*r.mirrored, *(s.part for s in taken if s.part.path in r.both_hands)):
        by.going()
        try:
            taken.append(other_hand(part, by.store))
            by.store.put(taken[-1].solid)
        except Refusal as error:
            refused.append((part.called, error.said_in("mm")))
    return PartsTaken(r.ticket, tuple((s.part, s.poses) for s in taken), tuple(refused))


def _judge(r: Judge, by: Means) -> Reply:
    from ..core.job.assembling.judging import judged

    return Judged(r.ticket, judged(r.assembly, by.store, by.going))


def _cut_open(r: CutOpen, by: Means) -> Reply:
    from ..core.job.assembling.judging import cut_open

    return CutFaces(r.ticket, cut_open(r.assembly, r.origin, r.normal, r.whole, by.store, by.going))


def _run_drive(r: RunDrive, by: Means) -> Reply:
    from ..core.fit.motion import drive

    film = drive(r.assembly, r.relation, r.values, by.going)
    moments = tuple((f.value, tuple(i.pose for i in f.assembly.instances)) for f in film.frames)
    return DriveRun(r.ticket, moments, film.ended)


def _run_swing(r: RunSwing, by: Means) -> Reply:
    from ..core.fit.swing import swing

    moments = swing(r.assembly, r.instance, r.way, by.going)
    return DriveRun(r.ticket, tuple((float(k), tuple(i.pose for i in m.instances)) for k, m in enumerate(moments)), "")


def _judge_now(r: JudgeNow, by: Means) -> Reply:
    from ..core.job.assembling.judging import met_now

    return NowJudged(r.ticket, met_now(r.assembly, r.poses, by.store, by.going))


def _judge_drive(r: JudgeDrive, by: Means) -> Reply:
    from ..core.job.assembling.judging import first_met

    found = first_met(r.assembly, r.moments, by.store, by.going)
    return DriveJudged(r.ticket, *(found or (-1, None)))


def _write_assembly(r: WriteAssembly, by: Means) -> Reply:
    from ..core.issue.assemblies import write

    write(r.assembly, Path(r.path), by.store, by.going, r.which)
    return Exported(r.ticket, r.path)


def _see_assembly_sheet(r: SeeAssemblySheet, by: Means) -> Reply:
    from ..core.issue.drawing.assembly.views import seen

    def so_far(found: Seen) -> None:
        by.tell(SheetSoFar(r.ticket, found))

    return SheetSeen(r.ticket, seen(r.assembly, r.sheet, by.store, by.going, so_far))


def _propose_assembly_sheet(r: ProposeAssemblySheet, by: Means) -> Reply:
    from ..core.issue.drawing.assembly.sheet import proposed

    return SheetProposed(r.ticket, *proposed(r.assembly, r.id, by.store, by.going))


STUDIES: dict[type, Callable[[Any, Means], Reply]] = {
    Export: _export,
    Compare: _compare,
    Endure: _endure,
    Survey: _survey,
    Draw: _draw,
    Travel: _travel,
    SeeSheet: _see_sheet,
    SeeAssemblySheet: _see_assembly_sheet,
    ProposeAssemblySheet: _propose_assembly_sheet,
    ProposeSheet: _propose_sheet,
    WriteSheets: _write_sheets,
    Pack: _pack,
    WriteOutline: _write_outline,
    TakePicture: _take_picture,
    Inspect: _inspect,
    Carry: _carry,
    LookForWalls: _walls,
    LookForRoom: _room,
    LookAsAShop: _sense,
    HoldAgainst: _hold,
    Match: _match,
    Explain: _explain,
    Rewrite: _rewrite,
    TakeParts: _take_parts,
    Judge: _judge,
    CutOpen: _cut_open,
    JudgeDrive: _judge_drive,
    JudgeNow: _judge_now,
    RunDrive: _run_drive,
    RunSwing: _run_swing,
    WriteAssembly: _write_assembly,
}
