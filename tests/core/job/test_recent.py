"""The list of jobs worked on last."""

from __future__ import annotations

from lathed_solid.core.job.recent import Recent, left_open, recent, worked_on


def test_the_last_one_comes_first_and_what_is_gone_is_left_out(tmp_path):
    state, jobs = tmp_path / "state", [tmp_path / f"{n}.lathed" for n in range(20)]
    for job in jobs:
        job.write_bytes(b"x")
        worked_on(state, job)
    worked_on(state, jobs[5])
    worked = recent(state).worked
    assert worked[:2] == (str(jobs[5]), str(jobs[19])) and len(worked) == len(set(worked)) == 16
    jobs[19].unlink()
    assert str(jobs[19]) not in recent(state).worked
    left_open(state, jobs[:2])
    assert recent(state).left_open == (str(jobs[0]), str(jobs[1])) and recent(state).worked[0] == str(jobs[5])


def test_a_list_that_cannot_be_read_or_written_is_no_trouble(tmp_path):
    assert recent(tmp_path / "nothing") == Recent()
    (tmp_path / "recent.json").write_text('{"worked": 3}')
    assert recent(tmp_path) == Recent()
    (tmp_path / "recent.json").unlink()
    (tmp_path / "recent.json").mkdir()
    worked_on(tmp_path, tmp_path / "a.lathed")
    assert recent(tmp_path) == Recent()
