"""An assembly: parts, the instances of them that stand somewhere, and the relations that hold them. Lengths mm, angles
radians; a part's own figures are kept with it (``PartShot``), so that an assembly opens without its parts' files.
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from ..drafting.sheet.model import Sheet
from ..kernel.ground.figures import Surface, Vector
from ..names import bare
from ..standards.threads import ScrewThread

Unit = Literal["mm", "in"]
RepeatKind = Literal["ring", "row", "mirror"]
RelationKind = Literal[
    "in line", "seated", "flush", "parallel", "square", "angle", "distance", "tangent", "on", "screw", "gear", "rack",
    "slot", "fixed",
]  # fmt: skip
#: What a part is called before anyone has named it.
UNNAMED = "New part"
#: What the path of a bought part begins with: it comes from a table, not from a file.
BOUGHT = "bought: "
#: Bought parts that are cut open like any other: bearings.
_CUT = ("ISO 15 ",)
#: A number written as in the job: ``1 1/4``, ``38/2``, in the assembly's unit (degrees for angles).
Written = Annotated[str, Meta(max_length=200)]


class Pose(msgspec.Struct, frozen=True):
    """Where an instance stands: ``place`` of its part's zero (mm), its turning as a unit quaternion (w, x, y, z)."""

    place: Vector = (0.0, 0.0, 0.0)
    turn: tuple[float, float, float, float] = (1.0, 0.0, 0.0, 0.0)


class Threaded(msgspec.Struct, frozen=True):
    """A thread on a part's face, ``length`` mm of it, ``from_high`` when it begins at the far end of the face's axis. A
    ``modelled`` one is there in the solid: its faces are called after ``skin``, its axis is kept (a point mm, a unit
    direction, how far along that it reaches).
    """

    face: str
    thread: ScrewThread
    internal: bool
    modelled: bool
    length: float
    from_high: bool = False
    skin: str = ""
    at: Vector = (0.0, 0.0, 0.0)
    along: Vector = (0.0, 0.0, 0.0)
    span: tuple[float, float] = (0.0, 0.0)

    def has(self, face: str) -> bool:
        """Whether a face is one of its helical ones, or what they have left of the face it was cut into."""
        return bool(self.skin) and (face.startswith(self.skin + "/") or bare(face) == bare(self.face))


class Sized(msgspec.Struct, frozen=True):
    """A round face whose diameter a callout states, or two walls (``face`` and ``other``) whose distance it does: its
    limits (mm), the note, and what the limits are by; ``number`` and ``key`` are those of the callout's figure (0: not
    known).
    """

    face: str
    lower: float
    upper: float
    note: str
    basis: str = "stated"
    other: str = ""
    number: int = 0
    key: str = ""

    @property
    def is_general(self) -> bool:
        """Whether only the title block's general tolerance limits it."""
        return self.basis != "stated" and "ISO 286" not in self.basis


class Figure(msgspec.Struct, frozen=True):
    """What a callout of a part says: its ``key`` within the note, its nominal (mm, radians or a count)."""

    number: int
    key: str
    kind: str
    value: float


class Member(msgspec.Struct, frozen=True):
    """A line of a sub-assembly's own bill: ``grams`` of one, 0 when its material is not known."""

    many: int
    number: str
    title: str
    material: str
    grams: float


class FaceFinish(msgspec.Struct, frozen=True):
    """How face ``index`` (from 1) of a part looks where it is not as the part: sRGB ``color``, ``finish`` as noted."""

    index: int
    color: tuple[float, float, float]
    finish: str = ""


class PartShot(msgspec.Struct, frozen=True, kw_only=True):
    """A part as it was when it was last looked at. ``item`` is its number in the bill, which it keeps. ``path`` is
    relative to the assembly's file; ``shape`` the hash of its solid and triangles among the attachments.
    ``references[i]`` names face i + 1 and no other.

    An assembly put into another is one such piece: ``members`` are what it is made of. The ``other_hand`` of a part is
    its mirror image in its own X.

    ``color`` sRGB, ``finish`` as the part's drawing notes it, ``looks`` of single faces. ``volume`` mm³, ``density``
    g/cm³, ``center`` mm, ``inertia`` (xx, yy, zz, xy, xz, yz) mm⁵ about the centre at unit density; ``box`` low and
    high corner, mm.
    """

    id: str
    path: str
    item: int = 0
    number: str = ""
    title: str = ""
    revision: str = ""
    material: str = ""
    density: float = 0.0
    stamp: str = ""
    shape: str = ""
    color: tuple[float, float, float] | None = None
    finish: str = ""
    looks: tuple[FaceFinish, ...] = ()
    references: tuple[str, ...] = ()
    surfaces: tuple[Surface, ...] = ()
    threads: tuple[Threaded, ...] = ()
    sized: tuple[Sized, ...] = ()
    volume: float = 0.0
    center: Vector = (0.0, 0.0, 0.0)
    inertia: tuple[float, float, float, float, float, float] = (0.0,) * 6
    box: tuple[Vector, Vector] = ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    members: tuple[Member, ...] = ()
    figures: tuple[Figure, ...] = ()
    other_hand: bool = False

    @property
    def is_fastener(self) -> bool:
        """Bought parts that a drawing does not cut lengthwise (ISO 128-3 clause 6.5): all but bearings."""
        return self.path.startswith(BOUGHT) and not any(self.called.startswith(source) for source in _CUT)

    def surface(self, face: str) -> Surface | None:
        """The measured face a name stands for; None when the part has it no more."""
        try:
            return self.surfaces[self.references.index(face)]
        except ValueError:
            return None

    def carrier(self, thread: Threaded) -> Surface | None:
        """The round face that carries a thread; of a modelled one, which has used it up, as it would be."""
        own = self.surface(thread.face)
        if not thread.skin or (own is not None and own.kind != "other"):
            return own
        middle = sum(thread.span) / 2
        x, y, z = (p + middle * a for p, a in zip(thread.at, thread.along, strict=True))
        radius = (thread.thread.minor_diameter if thread.internal else thread.thread.diameter) / 2
        return Surface(
            index=0, kind="cylinder", origin=thread.at, axis=thread.along, radius=radius, span=thread.span,
            hollow=thread.internal, center=(x, y, z),
        )  # fmt: skip

    @property
    def called(self) -> str:
        """By its number, else its name, else its file: many a part is still called as every new one is."""
        name = self.number or self.name
        return f"{name} other hand" if self.other_hand else name

    @property
    def name(self) -> str:
        """Its title; while it is still called as every new part is, its file."""
        titled = self.title not in ("", UNNAMED)
        return self.title if titled else self.path.rpartition("/")[2].removesuffix(".lathed")

    @property
    def listed(self) -> str:
        """Its name in a list of parts."""
        return f"{self.name}, other hand" if self.other_hand else self.name


class Instance(msgspec.Struct, frozen=True, kw_only=True):
    """One of a part, standing somewhere. A ``grounded`` one never moves."""

    id: str
    part: str
    pose: Pose = Pose()
    grounded: bool = False
    hidden: bool = False


class End(msgspec.Struct, frozen=True):
    """What a relation takes hold of: a face of an instance, by its lasting name."""

    instance: str
    face: str


class Relation(msgspec.Struct, frozen=True, kw_only=True):
    """What ties two instances. ``opposed`` says which of its two solutions was chosen: directions that face each other,
    or run the same way; one that was not ``said`` by hand may be turned round for the sake of another relation.
    ``value`` is a gap, offset, distance, angle, lead or ratio; ``turned`` the angle (radians) a
    screw or gear has been turned by, whole turns included, ``phase`` (mm) where it was when it was tied; ``held`` is
    where b stands in a's axes, of what is fixed. A ``loose`` relation is kept and not obeyed. One that says ``low`` or
    ``high`` and no value holds nothing until its distance or angle comes to one of them.
    """

    id: str
    kind: RelationKind
    a: End
    b: End
    value: Written = ""
    opposed: bool = False
    said: bool = False
    turned: tuple[float, float] = (0.0, 0.0)
    phase: float = 0.0
    held: Pose | None = None
    loose: bool = False
    low: Written = ""
    high: Written = ""

    @property
    def is_stop(self) -> bool:
        """Whether it only limits."""
        return not self.value.strip() and bool(self.low.strip() or self.high.strip())

    @property
    def number_words(self) -> str:
        """Its number as it is spoken of."""
        if not self.is_stop:
            return self.value
        low, high = self.low.strip(), self.high.strip()
        return f"{low} to {high}" if low and high else f"at least {low}" if low else f"at most {high}"


class Repeat(msgspec.Struct, frozen=True, kw_only=True):
    """Copies of a ``leader`` that go where it goes: in a ring about the axis of a face (``spread`` degrees in all, a
    whole turn unless it is written), in a row along it or square to a flat (``spread`` from one to the next), or one on
    the other side of a flat. ``many`` counts the leader in. ``made`` are the copies in their order,
    empty where one was taken out.
    """

    id: str
    kind: RepeatKind
    leader: str
    about: End
    many: Written = "2"
    spread: Written = ""
    made: tuple[str, ...] = ()


class Follow(msgspec.Struct, frozen=True, kw_only=True):
    """Instances of the leader's part stand in every hole like ``hole``, as many as that part has; ``made`` says which
    instance is in which.
    """

    id: str
    leader: str
    hole: End
    made: tuple[tuple[str, str], ...] = ()


class Apart(msgspec.Struct, frozen=True):
    """How it is pulled apart: by what ``share`` of the whole way last, and what was moved by hand besides (mm, at the
    whole way, by instance).
    """

    share: float = 0.0
    moved: tuple[tuple[str, Vector], ...] = ()


class Drive(msgspec.Struct, frozen=True):
    """A relation driven through a range, as its numbers are typed."""

    relation: str
    start: Written
    end: Written


class Assembly(msgspec.Struct, frozen=True, kw_only=True):
    """The document; what is written on its drawing ``sheets`` are item numbers. Ids are issued from ``next_id`` and
    never used twice.
    """

    title: str = ""
    number: str = ""
    revision: str = ""
    unit: Unit = "mm"
    parts: tuple[PartShot, ...] = ()
    instances: tuple[Instance, ...] = ()
    relations: tuple[Relation, ...] = ()
    follows: tuple[Follow, ...] = ()
    repeats: tuple[Repeat, ...] = ()
    drive: Drive | None = None
    apart: Apart = Apart()
    sheets: tuple[Sheet, ...] = ()
    next_id: int = 1

    def part(self, identifier: str) -> PartShot:
        return next(p for p in self.parts if p.id == identifier)

    def instance(self, identifier: str) -> Instance:
        return _named(self)[identifier]

    def relation(self, identifier: str) -> Relation:
        return next(r for r in self.relations if r.id == identifier)

    def part_of(self, instance: str) -> PartShot:
        return self.part(self.instance(instance).part)

    def called(self, instance: str) -> str:
        """The instance as it is spoken of: its part, and which of several it is."""
        return _spoken(self)[instance]


#: The instances of the assembly asked last.
_there: list[tuple[Assembly, dict[str, Instance]]] = []


def _named(assembly: Assembly) -> dict[str, Instance]:
    kept = _there[0] if _there else None
    if kept is None or kept[0] is not assembly:
        kept = (assembly, {i.id: i for i in assembly.instances})
        _there[:] = [kept]
    return kept[1]


#: How the instances of the assembly asked last are spoken of.
_last: list[tuple[Assembly, dict[str, str]]] = []


def _spoken(assembly: Assembly) -> dict[str, str]:
    if not _last or _last[0][0] is not assembly:
        names = {p.id: p.called for p in assembly.parts}
        own: dict[str, list[str]] = {}
        for instance in assembly.instances:
            own.setdefault(instance.part, []).append(instance.id)
        made = {
            i: names[part] + (f", {k}" if len(every) > 1 else "")
            for part, every in own.items()
            for k, i in enumerate(every, 1)
        }
        _last[:] = [(assembly, made)]
    return _last[0][1]
