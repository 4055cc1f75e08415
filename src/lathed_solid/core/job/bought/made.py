"""A bought part made from its table: an ordinary job, with callouts, a route, and the standard it is by."""

from __future__ import annotations

from collections.abc import Callable

from ...standards.fasteners import CATALOGUE, Kind, figures
from ...standards.materials import material
from ..model import Content, Header
from ..settle import settle
from . import plain, threaded


def bought(kind: Kind, size: str, length: float = 0.0, modelled: bool = False) -> Content:
    """The job of a bought part; ``length`` mm where its kind has one; its threads ``modelled`` in the solid. Raises
    NotTabled or Refusal.
    """
    what = CATALOGUE[kind]
    row = figures(kind, size)
    number = f"{what.source} {size}" + (f"x{length:g}" if what.has_length else "")
    modelled = modelled and what.has_thread
    header = Header(
        name=what.title,
        number=number + (" modelled" if modelled else ""),
        revision="",
        material=material("Carbon steel"),
        remarks=f"Made from the table of {what.source}. Sizes without limits are the nominal ones.",
    )
    content = _MAKERS[kind](Content(header=header), size, row, length)
    return settle(threaded.modelled(content) if modelled else content).content


_MAKERS: dict[Kind, Callable[[Content, str, tuple[float, ...], float], Content]] = {
    "socket_cap": threaded.socket_cap,
    "socket_set": threaded.socket_set,
    "hexagon_head": threaded.hexagon_head,
    "stud": threaded.stud,
    "hexagon_nut": threaded.hexagon_nut,
    "washer": plain.washer,
    "parallel_pin": plain.parallel_pin,
    "taper_pin": plain.taper_pin,
    "parallel_key": plain.parallel_key,
    "woodruff_key": plain.woodruff_key,
    "circlip_shaft": plain.circlip,
    "circlip_bore": plain.circlip,
    "roller": plain.roller,
    "ball": plain.ball,
    "ball_bearing": plain.ball_bearing,
}
