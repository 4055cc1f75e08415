"""Perforated plates: what is done for each hole does not grow with their number."""

from lathed_solid.core.kernel.measure.inside import Inside
from lathed_solid.core.prove import counting

from .bench import Bench


def test_a_plate_of_many_holes_is_proved_hole_by_hole(monkeypatch):
    """Faces are asked by where they lie, never each against all: 144 holes, each looked at a few times."""
    asked = {"one": 0, "inside": 0}

    def counted_one(*args, real=counting._one):
        asked["one"] += 1
        return real(*args)

    def counted_inside(self, point, real=Inside.__call__):
        asked["inside"] += 1
        return real(self, point)

    monkeypatch.setattr(counting, "_one", counted_one)
    monkeypatch.setattr(Inside, "__call__", counted_inside)
    bench = Bench("120", "120", "10", "144x Ø4 THRU", "36x Ø3 5 deep")
    bench.block("rect #1 x #2", depth="#3")
    for number, many, gap in ((4, 12, 9), (5, 6, 18)):
        rows = [(k - (many - 1) / 2) * gap for k in range(many)]
        points = [f"point {x:g},{y:g}" for x in rows for y in rows]
        sketch = bench.sketch(*points, base="face", on="s1/end")
        fields = {} if number == 4 else {"extent": "depth", "depth": "#5.depth"}
        bench.hole("s1/end", placement="sketch", sketch=sketch, diameter=f"#{number}", **fields)
    proof = bench.proved().proof
    assert {(line.number, line.key): line.mark for line in proof.lines if line.mark != "in"} == {}
    assert asked["one"] < 5 * 180, "a hole is held against those whose axis is near"
    assert asked["inside"] <= 2 * 8 * 36, "flat mouths and floors say by themselves whether they are open"
