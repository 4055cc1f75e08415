"""A family over a cluster: the same figures as without one, and a worker that dies costs nobody anything."""

import contextlib
import os
import signal
import warnings

import psutil
import pytest

from lathed_solid.core.issue.formats import FORMATS
from lathed_solid.core.job.family import read_table
from lathed_solid.worker.cluster import HERE, NoCluster, run_on
from lathed_solid.worker.family import Family

TABLE = "name,#1,#6\n" + "".join(f"v{d},{d},\n" for d in (114, 116, 120, 122)) + "thin,,30\nno,20,\nbad,pears,\n"


@pytest.fixture(autouse=True)
def others():
    """What the cluster's own libraries warn of is not ours to mend."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        yield


def figures(lines):
    return [(e.name, e.state, e.key, e.volume, e.grams, e.proved, e.out) for e in lines]


def workers():
    found = []
    for process in psutil.Process().children(recursive=True):
        with contextlib.suppress(psutil.Error):  # gone meanwhile
            if "multiprocessing.spawn" in " ".join(process.cmdline()):
                found.append(process)
    return found


@pytest.mark.faults
def test_the_same_figures_and_files_although_a_worker_is_killed(flange, tmp_path):
    here = Family(flange, read_table(TABLE), tmp_path, None, "", lambda line, there: None).run(2)
    killed = []

    def told(line, there):
        if not killed and line.state == "proved":
            killed.append(workers()[0].pid)
            os.kill(killed[0], signal.SIGKILL)

    (tmp_path / "c").mkdir()
    family = Family(flange, read_table(TABLE), tmp_path / "c", FORMATS["step"], "", told)
    far = run_on(family, HERE, 2)
    assert killed
    assert figures(far)[:5] == figures(here)[:5]
    assert [(e.state, e.words) for e in far[5:]] == [(e.state, e.words) for e in here[5:]]
    assert {p.stem for p in (tmp_path / "c").glob("*.step")} == {e.name for e in far if e.state == "proved"}
    again = []
    Family(flange, read_table(TABLE), tmp_path / "c", None, "", lambda line, there: again.append(there)).run(1)
    assert again.count(True) >= 5, "what a cluster has done is gone on with here"


def test_a_cluster_that_is_not_there_is_told(flange, tmp_path):
    family = Family(flange, read_table(TABLE), tmp_path, None, "", lambda line, there: None)
    with pytest.raises(NoCluster, match="cannot be reached"):
        run_on(family, "nonsense://1", 1)
