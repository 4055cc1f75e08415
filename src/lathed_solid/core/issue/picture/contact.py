"""A contact sheet: a picture of every part of a job or an assembly, with what it is called under it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from importlib import resources
from typing import NamedTuple

from PIL import Image, ImageDraw, ImageFont

from ...fit.mass import bill
from ...fit.model import Assembly
from ...job.attachments import Store
from ...job.model import Content
from ...quantity.style import mass as mass_text
from ...route.model import FileLook
from ...route.rebuild import Cache, rebuild
from .model import NoPicture, Shot, checked
from .posing import Posed, posed_body_of_part, posed_part
from .render import Progress, rendered, settled

#: Free space about each picture, a line of words under it (pixels), most pictures in a row, and pixels of all.
_GAP, _LINE, _IN_A_ROW, _PIXELS = 24, 20, 4, 60_000_000
_PAPER, _INK, _FAINT = (250, 249, 246), (34, 40, 46), (98, 103, 108)


class Tile(NamedTuple):
    """One part, and the lines under its picture."""

    pose: Callable[[], Posed]
    lines: tuple[str, ...]


def tiles_of_job(content: Content, shot: Shot, cache: Cache, store: Store | None) -> list[Tile]:
    """A tile a body that is shown, with its material and mass."""
    result = rebuild(content.plan(store.find if store else None), cache)
    tiles = []
    for id_, body in result.bodies.items():
        if not content.body(id_).shown:
            continue
        file, material = result.looks.get(id_, FileLook()), content.material_of(id_)
        name = _title(content) if len(result.bodies) == 1 else content.body_name(id_, file)
        words = material.name, mass_text(material.grams(body.volume)), content.look(id_, file).finish
        tiles.append(Tile(_posing(content, shot, cache, store, id_), (name, ", ".join(filter(None, words)))))
    return tiles


def _posing(content: Content, shot: Shot, cache: Cache, store: Store | None, id_: str) -> Callable[[], Posed]:
    return lambda: posed_part(content, shot, cache, store, id_)


def _title(content: Content) -> str:
    return " ".join(filter(None, (content.header.number, content.header.name)))


def tiles_of_assembly(assembly: Assembly, shot: Shot, store: Store) -> list[Tile]:
    """A tile a line of the bill: item, what it is called, how many, what of, how heavy."""
    tiles = []
    for line in bill(assembly):
        part = line.part
        called = f"{line.item}  {part.called}" + (f", {part.name}" if part.number else "")
        heavy = mass_text(line.grams) if line.grams is not None else ""
        words = ", ".join(filter(None, (f"{line.many} off", part.material, heavy)))
        tiles.append(Tile(lambda part=part: posed_body_of_part(part, shot, store), (called, words)))  # type: ignore[misc]
    return tiles


def contact_sheet(
    tiles: Sequence[Tile], shot: Shot, title: str, told: Callable[[Progress], object], going: Callable[[], object]
) -> Image.Image:
    """Pictures of several parts in rows, each as large as it can be; ``shot`` says how each is taken. Raises NoPicture
    for none, or more than a sheet has room for.
    """
    if not tiles:
        raise NoPicture("There is no part to be pictured.")
    checked(shot)
    across = min(_IN_A_ROW, len(tiles))
    wide, high = shot.size
    under = _LINE * max(len(t.lines) for t in tiles)
    rows = -(-len(tiles) // across)
    size = (across * (wide + _GAP) + _GAP, rows * (high + under + _GAP) + 2 * _GAP + _LINE)
    if size[0] * size[1] > _PIXELS:
        raise NoPicture(f"{len(tiles)} pictures of {wide} x {high} are too much for one sheet. Choose a smaller size.")
    sheet = Image.new("RGB", size, _PAPER)
    draw, plain, large = ImageDraw.Draw(sheet), _font(15), _font(19)
    draw.text((_GAP, _GAP), title, _INK, large)
    for n, tile in enumerate(tiles):
        x, y = _GAP + n % across * (wide + _GAP), 2 * _GAP + _LINE + n // across * (high + under + _GAP)
        posed = tile.pose()
        picture = settled(rendered(posed.subject, shot, posed.toward, posed.over, going))
        sheet.paste(picture, (x, y), picture if picture.mode == "RGBA" else None)
        for k, line in enumerate(tile.lines):
            words, ink = _short(line, draw, plain, wide - 8), _FAINT if k else _INK
            draw.text((x + 4, y + high + 4 + k * _LINE), words, ink, plain)
        told(Progress(n + 1, len(tiles), sheet.copy, sheet.copy))
    return sheet


def _font(size: int) -> ImageFont.FreeTypeFont:
    with resources.as_file(resources.files("lathed_solid") / "fonts" / "Inter-Medium.otf") as path:
        return ImageFont.truetype(str(path), size)


def _short(text: str, draw: ImageDraw.ImageDraw, font: ImageFont.FreeTypeFont, room: float) -> str:
    while len(text) > 1 and draw.textlength(text, font) > room:
        text = text[:-2].rstrip() + "…"
    return text
