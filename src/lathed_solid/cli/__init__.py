"""The command line: build and prove without a window, or open the program."""

from __future__ import annotations

import sys

import click

from . import drawings, fitting, integrating, making, picturing, proving, reading
from .group import FAULT, main

__all__ = ["drawings", "fitting", "integrating", "main", "making", "picturing", "proving", "reading", "run"]
#: Commands that load the kernel into their own process.
_ASIDE = {"build", "fit", "outline", "package", "picture", "prove", "routes", "sheets", "traveller", "why"}


def run() -> None:
    """The program: commands that load the kernel are carried out aside, so that its fall is told, not suffered."""
    if not set(sys.argv[1:2]) & _ASIDE:
        main()
        return
    from ..worker.aside import carried_out

    code, fell = carried_out(main)
    if fell:
        click.echo(
            f"Error: {fell} while working on this file. Nothing was written. Open it in the window: it marks the step "
            "that is to blame and keeps the rest.",
            err=True,
        )
    sys.exit(FAULT if fell else code)
