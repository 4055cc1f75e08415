"""Rendered pictures without a window."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.issue.picture.model import GROUNDS, LIGHTS, PASSES
from .group import Refused, load_job, main, new_store, on_route, route_option

if TYPE_CHECKING:
    from ..core.fit.model import Assembly
    from ..core.issue.picture.render import Progress
    from ..core.job.model import Content


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    required=True,
    help="picture.png, .jpg, .webp; a turn also .gif, or a folder.",
)
@click.option("--turn", type=float, default=None, help="Degrees to the right of straight in front.")
@click.option("--height", type=float, default=24.0, show_default=True, help="Degrees above level.")
@click.option("--up", type=click.Choice(["x", "y", "z"]), default=None, help="The axis that is up; x for turned parts.")
@click.option("--lens", type=float, default=85.0, show_default=True, help="Focal length on a 36 mm wide frame.")
@click.option("--light", type=click.Choice(LIGHTS), default=LIGHTS[0], show_default=True)
@click.option("--ground", type=click.Choice(GROUNDS), default=GROUNDS[0], show_default=True)
@click.option("--no-shadow", is_flag=True, help="No shadow on the ground.")
@click.option("--size", default="1280x960", show_default=True, help="Pixels across and up.")
@click.option("--quality", type=click.Choice(list(PASSES)), default="good", show_default=True)
@click.option("--cut", type=click.Choice(["quarter", "half"]), default=None, help="What is cut away.")
@click.option("--apart", type=click.FloatRange(0, 1), default=0.0, help="How far an assembly is pulled apart.")
@click.option("--round", "many", type=int, default=None, help="Once round in so many pictures.")
@click.option("--parts", is_flag=True, help="A contact sheet: every body, or every part of an assembly.")
@route_option
def picture(
    file: Path, output: Path, turn: float | None, up: str | None, size: str, no_shadow: bool, cut: str | None,
    many: int | None, parts: bool, route: str | None, **rest: object,
) -> None:  # fmt: skip
    """Render FILE, a job or an assembly: finish, light, shadow. A picture proves nothing."""
    import msgspec

    from ..core.issue.picture.model import Shot, pixels
    from ..core.issue.picture.taking import take
    from ..core.job.assembling.files import is_assembly, load_assembly
    from ..core.refusal import Refusal
    from ..core.route.rebuild import Cache

    store, unit = new_store(), "mm"
    try:
        if is_assembly(file):
            of: Content | Assembly = load_assembly(file, store).assembly
            lying = False
        else:
            of = content = on_route(load_job(file, store).content, route)
            unit, lying = content.header.style.unit, content.turned
        said = {
            **rest, "up": up or ("x" if lying else "z"),
            "turn": turn if turn is not None else -32.0 if lying else 35.0,
            "size": pixels(size), "shadow": not no_shadow, "cut": cut or "",
        }  # fmt: skip
        shot = msgspec.convert(said, Shot)
        take(of, "parts" if parts else "turn" if many else "still", shot, output, many or 1, Cache(), store, _told)
    except Refusal as error:
        raise Refused(error.said_in(unit)) from None
    click.echo(f"wrote {output}")


def _told(progress: Progress) -> None:
    if sys.stderr.isatty():
        click.echo(f"\r{progress.done} of {progress.of}", nl=progress.done == progress.of, err=True)
