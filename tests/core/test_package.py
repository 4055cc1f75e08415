"""What leaves the workshop with a revision: whole, the same whenever it is made, refused when out of limits."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from pathlib import Path

import ezdxf
import msgspec
import pypdfium2
import pytest

from lathed_solid.core.issue.package import Wanted, write_package
from lathed_solid.core.job import edits
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.revisions import issue
from lathed_solid.core.job.storage import load
from lathed_solid.core.plan.shop import Shop
from lathed_solid.core.route.rebuild import Cache

EXAMPLES = Path(__file__).parents[2] / "examples"
WANTED = Wanted(Shop(), "hss")


@pytest.fixture(scope="module")
def job(tmp_path_factory):
    """SKP-07 issued as A, a limit changed, issued as B."""
    store = Store(tmp_path_factory.mktemp("store"))
    made = issue(load(EXAMPLES / "skp-07.lathed", store).job, "2026-11-28", 46_788.0, 126.33)
    made = msgspec.structs.replace(made, content=edits.edit_callout(made.content, 1, "70 ±0.1"))
    made = issue(made, "2026-11-29", 46_788.0, 126.33)
    return made, store


def test_a_package_is_whole_and_the_same_again(job, tmp_path):
    made, store = job
    cache = Cache()
    for name in ("a.zip", "b.zip"):
        write_package(made, "B", tmp_path / name, WANTED, cache, store)
    assert (tmp_path / "a.zip").read_bytes() == (tmp_path / "b.zip").read_bytes()
    with zipfile.ZipFile(tmp_path / "a.zip") as archive:
        files = {n: archive.read(n) for n in archive.namelist()}
    told = json.loads(files["manifest.json"])
    assert {f["name"]: f["sha256"] for f in told["files"]} == {
        n: hashlib.sha256(d).hexdigest() for n, d in files.items() if n != "manifest.json"
    }
    assert told["revision"] == "B" and told["since"] == "A" and told["proved"] is True
    assert told["changes"] == [{"what": "callout 1", "before": "70", "after": "70 ±0.1"}]
    paper = pypdfium2.PdfDocument(files["SKP-07-B.pdf"])
    said = [p.get_textpage().get_text_range() for p in paper]
    assert len(paper) >= 3 and "70 ±0.1" in said[0] and any("Operation sheet" in t for t in said)
    assert not ezdxf.read(io.StringIO(files["SKP-07-B.dxf"].decode())).audit().errors
    (tmp_path / "again.lathed").write_bytes(files["SKP-07-B.lathed"])
    back = load(tmp_path / "again.lathed", Store(tmp_path / "store"))
    assert back.lost == () and back.job.content == made.revisions[1].content
    assert [r.label for r in back.job.revisions] == ["A", "B"]


def test_a_folder_with_files_is_left_alone_and_what_is_out_is_refused(job, tmp_path):
    made, store = job
    (tmp_path / "full").mkdir()
    (tmp_path / "full" / "mine.txt").write_text("mine")
    with pytest.raises(CannotWrite, match="not empty"):
        write_package(made, "A", tmp_path / "full", WANTED, Cache(), store)
    assert [p.name for p in (tmp_path / "full").iterdir()] == ["mine.txt"]
    with pytest.raises(CannotWrite, match="has not been issued"):
        write_package(made, "Z", tmp_path / "z.zip", WANTED, Cache(), store)
    header = msgspec.structs.replace(made.content.header.stated, volume=50_000.0)
    out = issue(
        msgspec.structs.replace(made, content=edits.set_header(made.content, stated=header)), "2026-11-30", None, None
    )
    with pytest.raises(CannotWrite, match="out of limits: stated volume"):
        write_package(out, "C", tmp_path / "c.zip", WANTED, Cache(), store)
    assert not (tmp_path / "c.zip").exists()
