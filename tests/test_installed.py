"""The program as it is installed: a wheel of its own in a fresh environment, worked with from an empty folder."""

from __future__ import annotations

import os
import subprocess
import sys
import sysconfig
import zipfile
from pathlib import Path

import pytest
from click.testing import CliRunner
from PIL import Image

from lathed_solid.cli import main
from lathed_solid.core.job.storage import PREVIEW

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """The folder of the installed program; what it needs besides itself is that of these tests."""
    folder = tmp_path_factory.mktemp("installed")
    clean = {k: v for k, v in os.environ.items() if k != "PYTHONPATH"}
    run = {"check": True, "capture_output": True, "text": True, "env": clean}
    source = folder / "source"
    listed = subprocess.run(["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, **run).stdout.splitlines()
    for name in listed:
        if name.startswith(("src/", "examples/")) or "/" not in name:
            (source / name).parent.mkdir(parents=True, exist_ok=True)
            (source / name).write_bytes((ROOT / name).read_bytes())
    pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "-q"]
    subprocess.run(
        [*pip, "wheel", "--no-deps", "--no-index", "--no-build-isolation", "-w", str(folder), str(source)], **run
    )
    (wheel,) = folder.glob("*.whl")
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(folder / "env")], **run)
    python = str(folder / "env" / "bin" / "python")
    subprocess.run([*pip, "--python", python, "install", "--no-deps", "--no-index", str(wheel)], **run)
    place = Path(sysconfig.get_path("purelib", vars={"base": str(folder / "env")}))
    (place / "needs.pth").write_text(sysconfig.get_path("purelib") + "\n")  # only now: it has this program as well
    return folder / "env" / "bin", wheel


def test_an_installed_program_works_from_an_empty_folder(installed, tmp_path):
    folder, wheel = installed
    with zipfile.ZipFile(wheel) as archive:
        demo = [n for n in archive.namelist() if n.startswith("lathed_solid/demo/")]
        assert len(demo) == 8 and not [n for n in archive.namelist() if n.startswith("examples")]
    env = {k: v for k, v in os.environ.items() if k != "PYTHONPATH"}

    def call(*words: str) -> str:
        done = subprocess.run(words, cwd=tmp_path, env=env, capture_output=True, text=True, timeout=200)
        assert done.returncode == 0, done.stderr
        return done.stdout

    python, program = str(folder / "python"), str(folder / "lathed-solid")
    where = "import lathed_solid; from lathed_solid.desk.app import demo_files; print(*demo_files(), sep='\\n')"
    jobs = call(python, "-c", where).split()
    assert len(jobs) == 8 and all(str(folder.parent) in job for job in jobs)
    assert "six through holes" in call(program, "note", "6x dia 5.5 thru")
    assert "24" in call(program, "prove", jobs[1])
    call(program, "build", jobs[1], "-o", "a.stl")
    assert (tmp_path / "a.stl").stat().st_size > 10_000


def test_it_is_put_into_the_desktop_and_taken_away_again(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert CliRunner().invoke(main, ["integrate"]).exit_code == 0
    files = {str(p.relative_to(tmp_path)) for p in tmp_path.rglob("lathed-solid.*") if p.is_file()}
    assert files == {
        "applications/lathed-solid.desktop", "mime/packages/lathed-solid.xml",
        "thumbnailers/lathed-solid.thumbnailer", "icons/hicolor/scalable/apps/lathed-solid.svg",
    }  # fmt: skip
    entry = (tmp_path / "applications/lathed-solid.desktop").read_text()
    program = next(line for line in entry.splitlines() if line.startswith("Exec="))
    assert program.endswith('lathed-solid" open %F')
    assert CliRunner().invoke(main, ["integrate", "--undo"]).exit_code == 0
    assert not [p for p in tmp_path.rglob("lathed-solid.*") if p.is_file()]


def test_a_saved_job_has_a_small_picture(tmp_path):
    with zipfile.ZipFile(tmp_path / "a.lathed", "w") as archive:
        picture = tmp_path / "p.png"
        Image.new("RGB", (640, 400), "white").save(picture)
        archive.write(picture, PREVIEW)
    result = CliRunner().invoke(main, ["thumbnail", str(tmp_path / "a.lathed"), str(tmp_path / "o.png"), "128"])
    assert result.exit_code == 0
    with Image.open(tmp_path / "o.png") as small:
        assert small.size == (128, 80)
    (tmp_path / "b.lathed").write_bytes(b"no zip")
    result = CliRunner().invoke(main, ["thumbnail", str(tmp_path / "b.lathed"), str(tmp_path / "q.png")])
    assert result.exit_code == 3 and not (tmp_path / "q.png").exists()
