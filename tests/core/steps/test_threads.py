"""Modelled threads: true profile, any hand, starts and phase; volumes against the helicoid integral."""

import math

import numpy as np
import pytest

from lathed_solid.core.kernel.cut.boolean import apart
from lathed_solid.core.kernel.form.helicoid import Fade, Piece, helical_solid, straight, thread_sleeve, threaded_rod
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.kernel.ground.topology import volume as volume_of
from lathed_solid.core.kernel.measure.surfaces import measure_face
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.thread import Thread
from lathed_solid.core.standards.thread_profiles import profile
from lathed_solid.core.standards.threads import parse_designation

from .parts import built, failure, route, sketch

FRAME = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def groove_area(pieces, lead):
    """Area square to the axis inside the profile, mm²: the integral of r² over a turn, halved."""
    total = 0.0
    for p in pieces:
        total += float(np.trapezoid(p.radius**2, p.at)) if len(p.at) > 64 else _simpson(p)
    return math.pi * total / lead


def _simpson(p):
    """Exact for straight pieces: r² along the axis is a parabola."""
    a, b = float(p.radius[0]), float(p.radius[-1])
    if np.allclose(p.radius, np.linspace(a, b, len(p.radius))):
        return float(p.at[-1] - p.at[0]) * (a * a + a * b + b * b) / 3
    return float(np.trapezoid(p.radius**2, p.at))


def pieces(text, blank, internal=False, allowance=0.0):
    return [Piece(*p) for p in profile(parse_designation(text), blank, internal, allowance)]


def sound(shape):
    from OCP.BRepCheck import BRepCheck_Analyzer

    return BRepCheck_Analyzer(shape).IsValid()


@pytest.mark.parametrize(
    ("text", "blank"),
    [("M12x1.75", 6), ("M6", 3), ("1/4-20 UNC", 3.175), ("Tr20x4", 10), ("Tr20x8(P4)", 10), ("M12x1.75 - LH", 6), ("G1/2", 10.4775)],
)  # fmt: skip
def test_a_rod_is_the_helicoid_of_its_profile(text, blank):
    thread = parse_designation(text)
    section = pieces(text, blank)
    rod = threaded_rod(FRAME, section, thread.lead, 1.0, 1.0 + 5 * thread.lead, left_hand=thread.left_hand)
    assert sound(rod.solid)
    expected = groove_area(profile(thread, blank, False), thread.lead) * 5 * thread.lead
    assert volume_of(rod.solid) == pytest.approx(expected, rel=1e-5)


def test_the_profile_has_the_standards_sizes():
    """ISO 724: M12x1.75 pitch diameter 10.863, root of the bolt 9.853; half pitch groove and ridge on the pitch line."""
    found = profile(parse_designation("M12x1.75"), 6, False)
    radii = np.concatenate([p.radius for p in found])
    assert 2 * radii.min() == pytest.approx(9.853, abs=5e-4)
    rising, falling = (next(p for p in found if p.name == n) for n in ("rising", "falling"))
    left = np.interp(10.863 / 2, rising.radius, rising.at)
    right = np.interp(-10.863 / 2, -falling.radius, falling.at)
    assert right - left == pytest.approx(1.75 / 2, abs=5e-4)
    flank = math.degrees(math.atan2(np.ptp(rising.at), np.ptp(rising.radius)))
    assert flank == pytest.approx(30)


def test_a_sleeve_and_its_fades():
    section = pieces("M12x1.75", 6)
    plain = thread_sleeve(FRAME, section, 1.75, 0, 14, 9.5)
    faded = thread_sleeve(FRAME, section, 1.75, 0, 14, 9.5, fade=Fade(low=1.75, high=1.75))
    whole = math.pi * 9.5**2 * 14
    area = groove_area(profile(parse_designation("M12x1.75"), 6, False), 1.75)
    assert sound(plain.solid)
    assert sound(faded.solid)
    assert volume_of(plain.solid) == pytest.approx(whole - area * 14, rel=1e-5)
    assert whole - area * 14 - volume_of(faded.solid) > 0


BLANK = sketch("k1", "rect 0,0 30,12", base="turning")
#: 1 mm at 45° on the right end.
CHAMFERED = sketch("k1", "line 0,0 30,0 30,10 29,12 0,12 close", base="turning")
SHANK = FaceRef("s1/l3/side")


@pytest.mark.parametrize("note", ["M12x1.75 - 6g", "M12x1.75 - 6g - LH"])
def test_a_thread_on_a_shank_by_its_class(note):
    blank = route(
        Revolve(id="s1", sketch="k1"),
        Thread(id="s2", face=SHANK, note=note, length="20", form="modelled"),
        sketches=(BLANK,),
    )
    found = built(blank)
    thread = parse_designation(note)
    # 18.25 mm of full thread and one pitch of run-out, where the groove's depth falls to nothing.
    middle = (-0.034 - 0.034 - 0.15) / 4
    full = profile(thread, 6, False, middle)
    missing = math.pi * 36 - clipped_area(full, 1.75, 6.0)
    assert math.pi * 36 * 30 - found.body.volume == pytest.approx(missing * (18.25 + 0.5 * 1.75), rel=0.02)
    assert found.marks[0].thread == thread
    crest = [n for names in found.body.names.values() for n in names if n == "s1/l3/side"]
    assert crest


def clipped_area(found, lead, radius):
    """Area square to the axis inside the profile and the blank."""
    z = np.linspace(0, lead, 20001)
    r = np.interp(z, *(np.concatenate([getattr(p, f) for p in found]) for f in ("at", "radius")), period=lead)
    return math.pi * float(np.trapezoid(np.minimum(r, radius) ** 2, z)) / lead


def test_a_full_thread_against_the_integral():
    """M12x1.75 right through a stud: within 0.1 % of the helicoid integral of what its groove takes away."""
    stud = bar_of(12, 40, Thread(id="s2", face=SHANK, note="M12x1.75", fit="basic", form="modelled"))
    body = built(stud).body
    kept = clipped_area(profile(parse_designation("M12x1.75"), 6, False), 1.75, 6.0)
    assert body.volume == pytest.approx(kept * 40, rel=1e-3)


def bar_of(d, length, *steps):
    return route(
        Revolve(id="s1", sketch="k1"), *steps, sketches=(sketch("k1", f"rect 0,0 {length},{d}", base="turning"),)
    )


def rod(found, lead, blank, ends, fade=(0.0, 0.0), bound=lambda z: math.inf):
    """Volume inside a thread from one end to the other, cut off by a turned ``bound``; it fades over ``fade``."""
    s, z = np.linspace(0, lead, 4001)[:-1], np.linspace(*ends, 8001)
    r = np.interp(s, *(np.concatenate([getattr(p, f) for p in found]) for f in ("at", "radius")), period=lead)
    low, high = ((z - ends[0]) / (fade[0] or 1e-12), (ends[1] - z) / (fade[1] or 1e-12))
    depth = np.clip(np.minimum(low, high), 0, 1)
    square = [np.mean(np.minimum(blank + d * (r - blank), bound(at)) ** 2) for d, at in zip(depth, z, strict=True)]
    return math.pi * float(np.trapezoid(square, z))


@pytest.mark.parametrize("start", ["left", "right"])
@pytest.mark.parametrize("note", ["M12x1.75", "M12x1.75 - LH", "Tr12x3"])
def test_a_thread_that_ends_on_its_shank(note, start):
    """Within 2e-5 of the integral; the plain rest stays an exact cylinder with the face's name."""
    length, thread = 20, parse_designation(note)
    step = Thread(id="s2", face=SHANK, note=note, length=f"{length}", fit="basic", form="modelled", start=start)
    body = built(bar_of(12, 30, step)).body
    fade = (0.0, thread.pitch) if start == "left" else (thread.pitch, 0.0)
    threaded = rod(profile(thread, 6, False, past=0.0), thread.lead, 6.0, (0.0, length), fade)
    assert body.volume == pytest.approx(threaded + math.pi * 36 * 10, rel=2e-5)
    plain = [s for s in (measure_face(body.face(i), i) for i in body.find("s1/l3/side")) if s.kind == "cylinder"]
    assert [s.radius for s in plain] == pytest.approx([6.0])
    assert plain[0].span[1] - plain[0].span[0] == pytest.approx(10, abs=1e-6)
    assert len(body.names) == body.face_count


@pytest.mark.parametrize(
    ("outline", "note", "bound"),
    [
        ("line 0,0 30,0 30,10 29,12 0,12 close", "M12x1.75", lambda z: min(6, 35 - z)),
        ("line 0,0 30,0 30,10 29,12 1,12 0,10 close", "M12x1.75 - LH", lambda z: min(6, 35 - z, z + 5)),
        ("line 0,0 30,0 30,9.4 28,12 0,12 close", "M12x1.75", lambda z: min(6, 6 - 0.65 * (z - 28))),
    ],
)
def test_a_thread_runs_through_its_chamfers(outline, note, bound):
    thread, blank = parse_designation(note), sketch("k1", outline, base="turning")
    face = FaceRef("s1/l4/side")
    step = Thread(id="s2", face=face, note=note, fit="basic", form="modelled")
    body = built(route(Revolve(id="s1", sketch="k1"), step, sketches=(blank,))).body
    found = profile(thread, 6, False)
    assert body.volume == pytest.approx(rod(found, thread.lead, 6.0, (0.0, 30.0), bound=bound), rel=2e-5)
    assert body.find("s2/root")
    assert all(measure_face(body.face(i), i).kind == "cone" for i in body.find("s1/l3/side"))
    assert body.face_count < 60  # exchanged, not cut: that would leave slivers of the shank


def test_a_thread_in_a_countersunk_hole():
    """The countersink's cone bounds the ridges; its face keeps its name."""
    bore = Hole(id="s3", face=FaceRef("s1/l2/side"), thread="M12x1.75 - 6H", seat="countersink", seat_diameter="12.8")
    step = Thread(id="s4", face=FaceRef("s3/0/side"), note="M12x1.75 - 6H", fit="basic", form="modelled")
    blank = sketch("k1", "rect 3,0 15,24", base="turning")
    body = built(route(Revolve(id="s1", sketch="k1"), bore, step, sketches=(blank,))).body
    thread = parse_designation("M12x1.75 - 6H")
    minor = built(route(Revolve(id="s1", sketch="k1"), bore, sketches=(blank,))).body
    radius = measure_face(minor.face(minor.find("s3/0/side")[0]), 1).radius
    found = profile(thread, radius, True, past=0.0)
    s, z = np.linspace(0, 1.75, 4001)[:-1], np.linspace(3, 15, 8001)
    r = np.interp(s, *(np.concatenate([getattr(p, f) for p in found]) for f in ("at", "radius")), period=1.75)
    hollow = [math.pi * np.mean(np.maximum(r, 6.4 - (15 - at)) ** 2) for at in z]
    assert body.volume == pytest.approx(math.pi * 144 * 12 - float(np.trapezoid(hollow, z)), rel=2e-5)
    assert body.find("s3/0/sink")


def test_a_nut_and_a_bolt_of_one_phase_do_not_overlap():
    """Class allowances leave air everywhere; half a turn out of phase they run into each other."""
    rod = built(bar_of(12, 5.5, Thread(id="s2", face=SHANK, note="M12x1.75 - 6g", form="modelled"))).body
    meshed, clashing = (NamedBody(built(nut_of(phase)).body.shape, ()) for phase in ("0°", "180°"))
    assert sum(p.volume for p in apart("keep", NamedBody(rod.shape, ()), [meshed])) < 1e-6
    assert sum(p.volume for p in apart("keep", NamedBody(rod.shape, ()), [clashing])) > 10


def nut_of(phase):
    blank = sketch("k1", "rect 3,0 4.4,24", base="turning")
    return route(
        Revolve(id="s1", sketch="k1"),
        Hole(id="s3", face=FaceRef("s1/l2/side"), thread="M12x1.75 - 6H"),
        Thread(id="s4", face=FaceRef("s3/0/side"), note="M12x1.75 - 6H", form="modelled", phase=phase),
        sketches=(blank,),
    )


def test_a_round_bottomed_profile_is_drawn():
    """A wood thread: a groove 3 wide with a round bottom, one pitch 5."""
    groove = sketch("k2", "arc 0,11 4,11 2,8", base="turning")
    stud = route(
        Revolve(id="s1", sketch="k1"),
        Thread(id="s2", face=SHANK, note="Tr12x5", form="modelled", profile="free", sketch="k2", length="20"),
        sketches=(BLANK, groove),
    )
    found = built(stud)
    assert found.body.find("s2/groove")
    assert found.body.volume < math.pi * 36 * 30 - 100


def test_what_cannot_be_threaded_says_why():
    wrong = bar_of(13, 30, Thread(id="s2", face=SHANK, note="M12x1.75", form="modelled"))
    assert "needs a face of about Ø12" in failure(wrong)
    long = bar_of(12, 10, Thread(id="s2", face=SHANK, note="M12x1.75", length="9", form="modelled", run_out="40"))
    assert "longer than the thread" in failure(long)


def test_helices_of_both_hands_and_any_start():
    square = [
        straight(n, a, b)
        for n, a, b in zip("abcd", [(0, 5), (2, 5), (2, 7), (0, 7)], [(2, 5), (2, 7), (0, 7), (0, 5)], strict=True)
    ]
    volumes = [
        volume_of(helical_solid(FRAME, square, 3, 2.5, start=a, left_hand=h).solid)
        for a in (0.0, 1.0)
        for h in (True, False)
    ]
    assert volumes == pytest.approx([4 * 2 * math.pi * 6 * 2.5] * 4, rel=5e-6)
