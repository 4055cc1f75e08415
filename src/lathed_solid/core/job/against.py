"""The part held against another: a route of the job, a revision, a file. In place, as volumes, and by its marks."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from ..kernel.ground.figures import Difference
from ..plan.carriers import alone
from ..prove.proof import Mark, Proof
from ..refusal import Refusal
from ..route.rebuild import Cache
from .attachments import Store
from .model import Content
from .proving import build_and_prove

if TYPE_CHECKING:
    from ..kernel.ground.topology import Shape

_LARGEST = 200_000_000


class Turned(NamedTuple):
    """A size whose mark differs: its callout and key, and the mark here and there (empty: it is not there)."""

    number: int
    key: str
    here: Mark | str
    there: Mark | str


class Against(NamedTuple):
    """What the other has of volume (mm³) and mass (g, None when not known), where it differs, and which marks turned.
    ``moved`` says how many of its faces lie on ours after it was laid on ours (-1: it was not); ``alone`` how many of
    our faces lie where it has none, to a ten-thousandth, and the reverse (None: a mesh has no faces).
    """

    volume: float
    grams: float | None
    difference: Difference
    turned: tuple[Turned, ...] = ()
    moved: int = -1
    faces: int = 0
    alone: tuple[int, int] | None = None


class Cannot(Refusal):
    """Two parts that cannot be held against each other; the text says why."""


def held_against(
    content: Content, other: Content | None = None, path: str = "", lay: bool = False,
    cache: Cache | None = None, store: Store | None = None, going: Callable[[], object] = lambda: None,
) -> Against:  # fmt: skip
    """Hold the part against ``other``, or against the file at ``path`` (STEP, BREP, STL), laid on ours first if asked.

    Raises Refusal when one of them is no solid, the file cannot be read, or it cannot be laid on ours.
    """
    from ..kernel.measure.difference import difference, meshed

    cache = cache or Cache(2000)
    mine = build_and_prove(content, cache, store=store)
    if mine.result.body is None:
        raise Cannot("The part has no solid yet.")
    shape = mine.result.body.shape
    going()
    if other is None:
        return _file(content, shape, Path(path), lay, going)
    its = build_and_prove(other, cache, store=store)
    if its.result.body is None or its.proof is None:
        raise Cannot("The other one gives no solid.")
    going()
    there = its.result.body.shape
    found = difference(meshed(shape), meshed(there), shape, there, going)
    turned = tuple(_turned(mine.proof, its.proof)) if mine.proof is not None else ()
    return Against(its.proof.mass.volume, its.proof.grams, found, turned, alone=_alone(shape, there))


def _turned(here: Proof, there: Proof) -> Iterator[Turned]:
    marks = {(x.number, x.key): x.mark for x in there.lines}
    for line in here.lines:
        other = marks.pop((line.number, line.key), "")
        if other != line.mark:
            yield Turned(line.number, line.key, line.mark, other)
    yield from (Turned(number, key, "", mark) for (number, key), mark in marks.items())


# --- files
def _file(content: Content, ours: Shape, path: Path, lay: bool, going: Callable[[], object]) -> Against:
    from ..kernel.measure.difference import difference, meshed

    data = _read(path)
    if path.suffix.lower() == ".stl" and not lay:  # the triangles as they are: no faces are needed
        from ..kernel.files.stl.triangles import read_stl
        from ..kernel.measure.triangles import closed

        theirs = read_stl(data, path.name)
        volume = float(closed(theirs).volume())
        found = difference(meshed(ours), theirs, None, ours, going)
        return Against(volume, None, found)
    shape, moved, faces = _placed(ours, data, path, lay)
    going()
    found = difference(meshed(ours), meshed(shape), ours, shape, going)
    volume = _volume(shape)
    return Against(volume, None, found, (), moved, faces, _alone(ours, shape))


def _read(path: Path) -> bytes:
    try:
        if path.stat().st_size > _LARGEST:
            raise Cannot(f"{path.name} is larger than {_LARGEST // 1_000_000} MB.")
        return path.read_bytes()
    except OSError as error:
        raise Cannot(f"{path.name} cannot be read: {error.strerror or error}.") from None


def _placed(ours: Shape, data: bytes, path: Path, lay: bool) -> tuple[Shape, int, int]:
    """The solid of a file, laid on ours by its faces if asked; how many of its faces then lie on ours."""
    from ..kernel.files.reading import read_solids
    from ..kernel.ground.named import NamedBody
    from ..kernel.ground.placing import moved, rigid
    from ..kernel.ground.topology import compound_of
    from ..kernel.measure.aligning import aligned
    from ..kernel.measure.surfaces import measure_faces

    shape = compound_of(b.body.shape for b in read_solids(data, path.name, "other"))
    if not lay:
        return shape, -1, 0
    theirs = measure_faces(NamedBody(shape, ()))
    motion = aligned(theirs, measure_faces(NamedBody(ours, ())))
    if motion is None:
        raise Cannot(f"{path.name} cannot be laid on ours: fewer than half of its faces have one like them.")
    rotation, shift, met = motion
    return moved(shape, rigid(rotation.tolist(), shift.tolist())), met, len(theirs)


def _alone(ours: Shape, theirs: Shape) -> tuple[int, int]:
    """Meshes do not see a bore that is a hundredth wider; the faces themselves do."""
    from ..kernel.ground.named import NamedBody
    from ..kernel.measure.surfaces import measure_faces

    mine, its = (measure_faces(NamedBody(shape, ())) for shape in (ours, theirs))
    return len(alone(mine, its)), len(alone(its, mine))


def _volume(shape: Shape) -> float:
    from ..kernel.ground.named import NamedBody

    return NamedBody(shape, ()).volume
