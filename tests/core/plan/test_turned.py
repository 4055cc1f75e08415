"""A solid of revolution gives its profile back: through STEP, from faces alone, and rebuilt to the same volume."""

import math
import random

import pytest

from lathed_solid.core.job import storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.drafted import turned_route
from lathed_solid.core.job.model import Content
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.files.step import write_step
from lathed_solid.core.kernel.form.outline import ArcSegment, Segment, flat_face
from lathed_solid.core.kernel.form.sweep import revolve
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.symmetry import main_axis
from lathed_solid.core.plan.turned import profile_of
from lathed_solid.core.route.rebuild import rebuild

from ...conftest import EXAMPLES

#: The half plane of a turned part: along Z, and out along X.
HALF = Frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), (1.0, 0.0, 0.0))


def random_profile(rng):
    """Stations with tapers, grooves and fillets outside; solid, bored through, or with a blind hole and its tip."""
    z, radius, places = 0.0, rng.uniform(8, 20), []
    places.append((z, radius))
    many = rng.randrange(2, 6)
    for k in range(many):
        length = rng.uniform(4, 20)
        kind = rng.choice(("straight", "taper", "groove", "straight"))
        end = radius if kind != "taper" else radius + rng.uniform(-2, 2)
        if kind == "groove" and length > 8:
            deep = radius - rng.uniform(0.5, 2)
            places += [(z + 2, radius), (z + 2, deep), (z + 4, deep), (z + 4, radius)]
        z, radius = z + length, end
        places.append((z, radius))
        step = rng.uniform(-2.5, 3.5)
        if abs(step) > 0.5 and k < many - 1:
            radius += step
            places.append((z, radius))
    return places, z


def pieces(rng):
    places, length = random_profile(rng)
    inside = rng.choice(("solid", "through", "blind"))
    bore = rng.uniform(1.5, 3.0)
    if inside == "through":
        outline = [(0.0, bore), *places, (length, bore)]
    elif inside == "blind":
        deep = 0.5 * length
        outline = [(0.0, bore), *places, (length, 0.0), (deep + bore / math.tan(math.radians(59)), 0.0), (deep, bore)]
    else:
        outline = [(0.0, 0.0), *places, (length, 0.0)]
    return rounded(outline, rng)


def rounded(outline, rng):
    """The outline's straight pieces; one square corner in three is a fillet or a round."""
    made, many = [], len(outline)
    corners = {}
    for k, p in enumerate(outline):
        a, b = outline[k - 1], outline[(k + 1) % many]
        square = abs((p[0] - a[0]) * (b[0] - p[0]) + (p[1] - a[1]) * (b[1] - p[1])) < 1e-9
        long = min(math.dist(a, p), math.dist(p, b)) > 1.2
        if square and long and min(p[1], a[1], b[1]) > 3.5 and rng.random() < 0.33:
            corners[k] = rng.uniform(0.2, 0.45)
    ends = []
    for k, p in enumerate(outline):
        a, b, r = outline[k - 1], outline[(k + 1) % many], corners.get(k, 0.0)
        toward = [tuple(r * (q[i] - p[i]) / math.dist(p, q) for i in range(2)) for q in (a, b)]
        ends.append(tuple((p[0] + t[0], p[1] + t[1]) for t in toward))
    for k in range(many):
        (into, out), (following, _) = ends[k], ends[(k + 1) % many]
        if k in corners:
            p, r = outline[k], corners[k]
            middle = (into[0] + out[0] - p[0], into[1] + out[1] - p[1])
            way = ((p[0] - middle[0]) / math.dist(p, middle), (p[1] - middle[1]) / math.dist(p, middle))
            through = (middle[0] + r * way[0], middle[1] + r * way[1])
            made.append(ArcSegment(f"a{k}", into, through, out))
        if math.dist(out, following) > 1e-9:
            made.append(Segment(f"l{k}", out, following))
    return tuple(made)


@pytest.mark.parametrize("seed", range(40))
def test_a_turned_profile_comes_back_through_step(tmp_path, seed):
    body = revolve(flat_face(pieces(random.Random(seed)), (), HALF), (0, 0, 0), (0, 0, 1), "t")
    write_step(body, tmp_path / "a.step", "a", (0.5, 0.5, 0.5))
    (read,) = read_solids((tmp_path / "a.step").read_bytes(), "a.step", "s1")
    surfaces = measure_faces(read.body)
    axis = main_axis(surfaces)
    assert axis is not None
    profile = profile_of(surfaces, *axis)
    assert profile is not None and profile.aside == ()
    assert profile.volume == pytest.approx(body.volume, rel=1e-9)
    drafted = turned_route(Content(), profile)
    assert rebuild(drafted.plan()).body.volume == pytest.approx(body.volume, rel=1e-6)


def from_step(tmp_path, name):
    """An example's job, and its part as a foreign solid: through STEP, without names."""
    store = Store(tmp_path)
    content = storage.load(EXAMPLES / f"{name}.lathed", store).job.content
    write_step(rebuild(content.plan(store.find)).body, tmp_path / "a.step", "a", (0.5, 0.5, 0.5))
    (read,) = read_solids((tmp_path / "a.step").read_bytes(), "a.step", "s1")
    return content, read.body


@pytest.mark.parametrize(("name", "turned", "aside"), [("skp-01", 40_238.433, 4), ("skp-02", 147_126.058, 28)])
def test_the_turned_bodies_of_the_examples(tmp_path, name, turned, aside):
    """The route's volume before its holes and flat, from the finished part's faces; the draft makes it again."""
    content, body = from_step(tmp_path, name)
    surfaces = measure_faces(body)
    profile = profile_of(surfaces, *main_axis(surfaces))
    assert profile.volume == pytest.approx(turned, abs=1e-2) and len(profile.aside) == aside
    drafted = turned_route(content, profile)
    assert [r.name for r in drafted.routes] == ["A", "B"] and len(drafted.steps) == 1
    assert drafted.routes[0] == content.routes[0], "never in the place of the present one"
    assert rebuild(drafted.plan()).body.volume == pytest.approx(turned, abs=1e-2)


@pytest.mark.parametrize("name", ["skp-04", "skp-05", "skp-06"])
def test_a_part_that_is_not_turned_gives_none(tmp_path, name):
    surfaces = measure_faces(from_step(tmp_path, name)[1])
    axis = main_axis(surfaces)
    assert axis is not None and profile_of(surfaces, *axis) is None
