"""The group of commands, and what they share: opening a job, its store, refusals and exit codes."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

if TYPE_CHECKING:
    from ..core.job.attachments import Store
    from ..core.job.model import Content, Job


@click.group(
    epilog="Exit codes: 0 proved, or done; 1 out of limits, or routes that disagree; 2 wrong use; 3 cannot be read or "
    "built; 4 a fault of the kernel or the program."
)
@click.version_option(package_name="lathed-solid")
def main() -> None:
    """Lathed Solid: dimensioned drawings become proven solid models."""


def new_store() -> Store:
    """Where the job's files are unpacked while the command runs."""
    import atexit
    import shutil
    import tempfile

    from ..core.job.attachments import Store

    folder = tempfile.mkdtemp(prefix="lathed-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return Store(Path(folder))


#: Exit codes besides 0 (proved), 1 (out of limits) and 2 (wrong use): what cannot be read or built, and a fault.
UNREADABLE, FAULT = 3, 4


class Refused(click.ClickException):
    """A job that cannot be worked on at all."""

    exit_code = UNREADABLE


def load_job(path: Path, store: Store | None = None) -> Job:
    from ..core.job.storage import load
    from ..core.refusal import Refusal

    try:
        opened = load(path, store) if store else load(path)
    except Refusal as error:
        raise Refused(str(error)) from None
    for lost in opened.lost:
        click.echo(f"{path.name}: lost: {lost}", err=True)
    return opened.job


def on_route(content: Content, name: str | None) -> Content:
    from ..core.job.routes import named_route
    from ..core.refusal import Refusal

    try:
        return named_route(content, name) if name else content
    except Refusal as error:
        raise Refused(str(error)) from None


route_option = click.option("--route", default=None, help="Another of the part's routes, by its name (A, B …).")
