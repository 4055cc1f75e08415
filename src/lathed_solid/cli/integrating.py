"""Commands about the desktop: a menu entry, icon, file type and small pictures of jobs, and their undoing."""

from __future__ import annotations

import io
import os
import shutil
import subprocess
import sys
from importlib import resources
from pathlib import Path

import click

from .group import Refused, main

_TYPE = "application/x-lathed-solid"
_NAME = "lathed-solid"


def _data_home() -> Path:
    """Where a user's own desktop files go (XDG base directory specification)."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def files_for(command: str, icon: str) -> dict[str, str]:
    """What is written, by its place below the data folder (desktop entry, shared MIME-info and thumbnailer
    conventions).
    """
    quoted = command.replace("\\", "\\\\").replace('"', '\\"')
    return {
        f"applications/{_NAME}.desktop": f"""[Desktop Entry]
Type=Application
Name=Lathed Solid
Comment=Dimensioned drawings become proven solid models
Exec="{quoted}" open %F
Icon={_NAME}
Terminal=false
Categories=Graphics;Engineering;Science;
MimeType={_TYPE};
StartupNotify=true
""",
        f"mime/packages/{_NAME}.xml": f"""<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{_TYPE}">
    <comment>Lathed Solid job</comment>
    <sub-class-of type="application/zip"/>
    <glob pattern="*.lathed"/>
  </mime-type>
</mime-info>
""",
        f"thumbnailers/{_NAME}.thumbnailer": f"""[Thumbnailer Entry]
TryExec={command}
Exec="{quoted}" thumbnail %i %o %s
MimeType={_TYPE};
""",
        f"icons/hicolor/scalable/apps/{_NAME}.svg": icon,
    }


@main.command()
@click.option("--undo", is_flag=True, help="Take all of it away again.")
def integrate(undo: bool) -> None:
    """Put a menu entry, an icon, the file type *.lathed and small pictures of jobs into your own desktop."""
    home = _data_home()
    icon = (resources.files("lathed_solid") / "desk" / "theme" / "icons" / "app.svg").read_text("utf-8")
    for place, text in files_for(_command(), icon).items():
        path = home / place
        try:
            if undo:
                path.unlink(missing_ok=True)
                continue
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, "utf-8")
        except OSError as error:
            raise Refused(f"{path} could not be {'removed' if undo else 'written'}: {error.strerror}.") from error
        click.echo(f"wrote {path}")
    for tool, folder in (("update-mime-database", "mime"), ("update-desktop-database", "applications")):
        if shutil.which(tool) and (home / folder).is_dir():
            subprocess.run([tool, str(home / folder)], check=False, capture_output=True)
    click.echo("Taken away." if undo else "Done. Some desktops show it after the next login.")


def _command() -> str:
    """The program as it is called from anywhere."""
    beside = Path(sys.executable).with_name(_NAME)
    return str(beside) if beside.exists() else shutil.which(_NAME) or _NAME


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("output", type=click.Path(path_type=Path))
@click.argument("size", type=click.IntRange(16, 1024), default=256)
def thumbnail(file: Path, output: Path, size: int) -> None:
    """Write the small picture that FILE was saved with to OUTPUT (PNG), no larger than SIZE pixels."""
    from PIL import Image

    from ..core.job.files import write_atomic
    from ..core.job.storage import read_preview

    data = read_preview(file)
    if not data:
        raise Refused(f"{file.name} has no picture of its own yet: it gets one when it is saved from the window.")
    try:
        picture = Image.open(io.BytesIO(data))
        picture.thumbnail((size, size))
    except (OSError, ValueError) as error:
        raise Refused(f"The picture in {file.name} is damaged.") from error
    out = io.BytesIO()
    picture.save(out, "PNG")
    write_atomic(output, out.getvalue())
