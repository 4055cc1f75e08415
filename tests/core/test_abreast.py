"""Work divided among forks: in order, whatever becomes of one of them, and nothing left behind."""

import os
import signal
import time
from pathlib import Path

import pytest

from lathed_solid.core import abreast
from lathed_solid.core.abreast import each


@pytest.fixture(autouse=True)
def two_cores(monkeypatch):
    monkeypatch.setattr(abreast, "cores", lambda: 2)
    before = children()
    yield
    assert children() == before, "no fork is left"


def children():
    return Path(f"/proc/{os.getpid()}/task/{os.getpid()}/children").read_text().split()


def square(n):
    if n == 3:
        os.kill(os.getpid(), signal.SIGKILL)
    if n == 4:
        time.sleep(60)
    return n * n, os.getpid(), abreast.is_forked()


def test_what_comes_stands_in_its_order_and_was_made_elsewhere():
    found = list(each(square, [0, 1, 2, 5, 6, 7, 8]))
    assert [f[0] for f in found] == [0, 1, 4, 25, 36, 49, 64]
    assert len({f[1] for f in found}) == 2 and os.getpid() not in {f[1] for f in found} and all(f[2] for f in found)
    assert not abreast.is_forked()


def test_a_fork_that_falls_or_is_late_misses_one_and_the_rest_goes_on():
    missed = []
    found = list(each(square, [1, 2, 3, 4, 5, 6, 7], limit=0.5, missed=missed.append))
    assert [f and f[0] for f in found] == [1, 4, None, None, 25, 36, 49] and missed == [3, 4]


def test_with_one_core_or_one_thing_nothing_is_divided(monkeypatch):
    assert [f[1] for f in each(square, [2])] == [os.getpid()]
    assert [f[1] for f in each(square, [1, 2], many=1)] == [os.getpid()] * 2
    monkeypatch.setattr(abreast, "cores", lambda: 1)
    assert [f[1] for f in each(square, [1, 2])] == [os.getpid()] * 2


def test_who_waits_may_let_it_all_go_and_who_has_enough_need_not_wait():
    class LetGo(Exception):
        pass

    def going():
        raise LetGo

    with pytest.raises(LetGo):
        list(each(square, [4, 4, 4], going=going))
    some = each(square, [1, 4, 2, 4])
    assert next(some)[0] == 1
    some.close()


def test_what_goes_wrong_in_a_fork_is_told_here():
    with pytest.raises(RuntimeError, match=r"(?s)Traceback.*ZeroDivisionError"):
        list(each(lambda n: 1 / n, [1, 0, 2]))
