"""A family over kernel processes: the same figures however many, and a fall costs its own row only."""

import math
import os
import signal

import pytest

from lathed_solid.core.issue.formats import FORMATS
from lathed_solid.core.job.family import read_table
from lathed_solid.core.job.planning import set_blank
from lathed_solid.core.plan.shop import Price, Shop, with_prices
from lathed_solid.worker import faults
from lathed_solid.worker.family import TABLE, Family

TABLE_TEXT = "name,#1,#6\n" + "".join(f"v{d},{d},\n" for d in (114, 116, 120, 122)) + "thick,,30\n"


def carried_out(content, folder, kernels, form=None, text=TABLE_TEXT, told=lambda line, there: None):
    folder.mkdir(exist_ok=True)
    return Family(content, read_table(text), folder, form, "", told).run(kernels)


def test_one_process_or_two_give_the_same_and_files_are_written(flange, tmp_path):
    alone = carried_out(flange, tmp_path / "one", 1)
    both = carried_out(flange, tmp_path / "two", 2, FORMATS["step"])
    assert alone == both
    assert [e.name for e in both] == ["v114", "v116", "v120", "v122", "thick"]
    assert {e.state for e in both} == {"proved"}
    assert [e.volume for e in both[:4]] == sorted(e.volume for e in both[:4])
    assert {p.name for p in (tmp_path / "two").iterdir()} == {TABLE, *(f"{e.name}.step" for e in both)}


def test_every_member_has_its_own_stock_and_price(flange, tmp_path):
    """A bar of 120 holds the rim up to Ø118, one of 130 the others; the price is that of what a piece takes, saw cut and
    all. Other prices are other figures: the members are done again.
    """
    content = set_blank(flange, form="round", size="120", along="z")
    text = "name,#1\na,114\nb,122\n"

    def lines(price):
        shop = with_prices(Shop(), (Price(material=content.header.material.name, price=price),))
        family = Family(content, read_table(text), tmp_path, None, "", lambda line, there: None, shop=shop)
        return family.run(2)

    found = lines(5.0)
    assert [e.stock for e in found] == ["round bar 120", "round bar 130"]
    density = content.header.material.density * 1e-6
    per_piece = [5.0 * math.pi * d**2 / 4 * (28 + 2 + 2) * density for d in (120, 130)]
    assert [e.price for e in found] == pytest.approx(per_piece)
    assert [e.price for e in lines(5.0)] == pytest.approx(per_piece, abs=1e-4), "as kept in the folder's table"
    assert [e.price for e in lines(6.0)] == pytest.approx([1.2 * p for p in per_piece])


def test_what_is_done_is_not_done_again(flange, tmp_path):
    first = carried_out(flange, tmp_path / "f", 2, text=TABLE_TEXT.replace("thick,,30\n", ""))
    seen = []
    again = carried_out(flange, tmp_path / "f", 2, told=lambda line, there: seen.append((line.name, there)))
    for old, new in zip(first, again, strict=False):
        assert (new.name, new.state, new.key) == (old.name, old.state, old.key)
        assert new.volume == pytest.approx(old.volume, abs=1e-6)
    assert dict(seen) == {"v114": True, "v116": True, "v120": True, "v122": True, "thick": False}


def test_a_row_that_cannot_be_made_costs_no_other(flange, tmp_path):
    lines = carried_out(flange, tmp_path / "f", 2, text="name,#1\ngood,116\nno,20\nbad,pears\n")
    assert [(e.name, e.state) for e in lines] == [("good", "proved"), ("no", "failed"), ("bad", "failed")]
    assert "Row 4, #1" in lines[2].words
    assert "step “" in lines[1].words


@pytest.mark.faults
def test_a_process_that_is_killed_has_its_row_done_again(flange, tmp_path, monkeypatch):
    killed = []

    def kill_once(line, there):
        if not killed:
            kernel = next(k for k in lanes[0]._kernels if k.running is not None)
            killed.append(kernel._process.pid)
            os.kill(killed[0], signal.SIGKILL)

    from lathed_solid.worker import family, lane

    lanes = []

    class Watched(lane.Lane):
        def __init__(self, *args, **how):
            super().__init__(*args, **how)
            lanes.append(self)

    monkeypatch.setattr(family, "Lane", Watched)
    lines = carried_out(flange, tmp_path / "f", 2, told=kill_once)
    assert killed
    assert {e.state for e in lines} == {"proved"}


def test_a_variant_that_brings_the_kernel_down_is_named(flange, tmp_path, monkeypatch):
    monkeypatch.setenv(faults.VARIABLE, "s3=crash")
    lines = carried_out(flange, tmp_path / "f", 1, text="name,#1\na,116\n")
    assert lines[0].state == "failed"
    assert "kernel fell over this variant" in lines[0].words
