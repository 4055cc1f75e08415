"""What a sketch keeps of the part under it, how far it may reach, and how near a place is to a curve."""

import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content, Job
from lathed_solid.core.job.settle import settle
from lathed_solid.core.sketch.curves import at, nearest
from lathed_solid.core.sketch.model import Circle, Dimension, Ellipse, Line, Plane, Point, Projected, Sketch, Spline
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.shadow import without_part
from lathed_solid.core.sketch.solver.soundness import sound

A, B, C = "part0000000a", "part0000000b", "part0000000c"


def test_an_edge_of_the_part_that_is_kept_keeps_the_one_it_shares_a_point_with():
    def edge(name):
        return Projected(id=name, mode="edge", a="s1/a/side", b=f"s1/{name}/side")

    sketch = Sketch(
        id="k1",
        name="x",
        plane=Plane("face", on="s1/end"),
        entities=(
            Point(f"{B}.1.b", 5.0, 5.0),
            Point(f"{A}.1.a", 0.0, 0.0),
            Line(f"{A}.1", f"{A}.1.a", f"{B}.1.b"),
            Point(f"{B}.1.a", 9.0, 9.0),
            Line(f"{B}.1", f"{B}.1.a", f"{B}.1.b"),
            Point(f"{C}.1.a", 1.0, 9.0),
            Point("p1", 3.0, 3.0),
            Line("l1", "p1", f"{A}.1.a"),
        ),
        projected=(edge(A), edge(B), edge(C)),
    )
    kept = without_part(sketch)
    assert {p.id for p in kept.projected} == {A, B}
    assert sound(kept).aside == ()


@pytest.mark.parametrize("text", ["99999999999", "2000000"])
def test_what_reaches_farther_than_a_part_is_refused_and_never_lost_in_a_file(text):
    content, id_ = edits.add_sketch(Content(), "Far", Plane("end"))
    shape = (Point("p1", 0.0, 0.0), Point("p2", 10.0, 0.0), Line("l1", "p1", "p2"), Circle("c1", "p1", 3.0))
    sized = Sketch(
        id=id_, name="Far", plane=Plane("end"), entities=shape,
        dimensions=(Dimension(id="d1", kind="distance", of=("p1", "p2"), text=text),),
    )  # fmt: skip
    settled = settle(edits.set_sketch(content, sized))
    assert "kilometre" in settled.problems[id_], "it keeps its pose, and says why"
    job = Job(content=settled.content)
    again = storage.decode(storage.to_json(job), "x")
    assert again.lost == () and again.job == job
    with pytest.raises(SketchError, match="more than a kilometre off"):
        edits.set_sketch(content, Sketch(id=id_, name="Far", plane=Plane("end"), entities=(Point("p1", 1e7, 0.0),)))


places = st.tuples(st.floats(-50, 50), st.floats(-50, 50))


@example([(-32.0, 0.0), (-8.0, 0.5), (0.0, 0.0), (0.0, 1.0)], True, (0.0, 0.0))
@given(st.lists(places, min_size=4, max_size=6, unique=True), st.booleans(), places)
def test_no_place_of_a_curve_is_nearer_than_the_nearest(through, round_, place):
    points = {f"p{i}": Point(f"p{i}", x, y) for i, (x, y) in enumerate(through)}
    if min(math.dist(a, b) for i, a in enumerate(through) for b in through[:i]) < 0.5:
        return
    curve = Ellipse("e1", "p0", "p1", 4.0) if round_ else Spline("s1", tuple(points))
    away, foot = nearest(curve, points, *place)
    assert math.dist(foot, place) == pytest.approx(away)
    seen = min(math.dist(at(curve, points, k / 997), place) for k in range(998))
    assert away <= seen + 1e-9
