"""Rendered pictures: what is in them, measured on their pixels."""

from __future__ import annotations

import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.gp import gp_Pnt
from PIL import Image, ImageDraw
from scipy.spatial import ConvexHull

from lathed_solid.core.fit.model import Assembly, Instance, Pose
from lathed_solid.core.issue.picture.contact import contact_sheet, tiles_of_assembly, tiles_of_job
from lathed_solid.core.issue.picture.lens import camera
from lathed_solid.core.issue.picture.model import NoPicture, Shot, checked, pixels, turned_to
from lathed_solid.core.issue.picture.posing import posed_assembly, posed_part
from lathed_solid.core.issue.picture.render import rendered, settled
from lathed_solid.core.issue.picture.subject import Coat, Piece, subject
from lathed_solid.core.issue.picture.taking import take
from lathed_solid.core.job import edits
from lathed_solid.core.job.assembling.files import load_assembly
from lathed_solid.core.job.assembling.shots import shot_of_content
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.storage import load
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.standards.finishes import color_under, finish, finish_in

EXAMPLES = Path(__file__).parents[2] / "examples"
SMALL = Shot(size=(160, 120), quality="draft", ground="clear", shadow=False)


@pytest.fixture(scope="module")
def store(tmp_path_factory):
    return Store(tmp_path_factory.mktemp("store"))


@pytest.fixture(scope="module")
def cache():
    return Cache()


@pytest.fixture(scope="module")
def flange(store):
    return load(EXAMPLES / "skp-02.lathed", store).job.content


def _picture(content, shot, cache, store):
    posed = posed_part(content, shot, cache, store)
    return np.asarray(settled(rendered(posed.subject, shot, posed.toward, posed.over)).convert("RGBA"), float)


def _color(seen):
    """Mean colour of what is wholly part."""
    return seen[seen[..., 3] > 254][:, :3].mean(axis=0)


@pytest.mark.parametrize(
    ("note", "name"),
    [
        ("anodised black", "anodised"), ("Ra 0.8 ground", "ground"), ("zinc plated", "plated"), ("RAL 7016 painted", "painted"),
        ("as cast", "cast"), ("bead blasted", "blasted"), ("turned all over", "turned"), ("Ra 1.6", ""), ("", ""),
    ],
)  # fmt: skip
def test_a_finish_is_found_in_the_words_of_a_note(note, name):
    found = finish_in(note)
    assert (found.name if found else "") == name


def test_a_dye_colours_what_may_be_dyed():
    steel = (0.66, 0.68, 0.71)
    assert max(color_under("anodised black", steel)) < 0.1
    red, green, blue = color_under("painted red", steel)
    assert red > 3 * max(green, blue)
    assert color_under("ground black", steel) == steel  # bare metal stays the colour it has


@given(turn=st.floats(-179, 179), height=st.floats(-88, 88), up=st.sampled_from(["x", "y", "z"]))
def test_where_the_eye_stands_is_read_back(turn, height, up):
    found = turned_to(Shot(turn=turn, height=height, up=up).toward_eye(), up)
    assert found == pytest.approx((turn, height), abs=0.06)


@settings(max_examples=60, deadline=None)
@given(
    corners=st.lists(st.tuples(*(st.floats(-80, 80),) * 3), min_size=4, max_size=12, unique=True),
    turn=st.floats(-180, 180), height=st.floats(-85, 85), lens=st.sampled_from([20.0, 50.0, 85.0, 300.0]),
)  # fmt: skip
def test_all_of_it_is_in_the_picture_and_it_fills_it(corners, turn, height, lens):
    points = np.array(corners, float)
    if np.ptp(points, axis=0).min() < 1.0:
        return
    shot = Shot(turn=turn, height=height, lens=lens)
    cam = camera(points, shot.toward_eye(), (0, 0, 1), lens, (320, 240))
    away = points - cam.eye
    far = -(away @ cam.out)
    across = np.abs(away @ cam.right) / far / cam.half[0]
    upward = np.abs(away @ cam.up) / far / cam.half[1]
    assert far.min() > 0
    assert max(across.max(), upward.max()) == pytest.approx(0.82, abs=1e-6)


def test_the_part_is_where_a_lens_puts_it(cache, store, tmp_path):
    """A block against the outline of its corners, projected without any ray."""
    content = load(EXAMPLES / "skp-07.lathed", store).job.content
    shot = msgspec.structs.replace(SMALL, size=(320, 240), lens=40.0)
    posed = posed_part(content, shot, cache, store)
    seen = np.asarray(settled(rendered(posed.subject, shot, posed.toward, posed.over)))[..., 3]
    points = posed.subject.facets.points
    cam = camera(points, posed.toward, posed.over, shot.lens, shot.size)
    away = points - cam.eye
    far = -(away @ cam.out)
    flat = np.column_stack([away @ cam.right / far / cam.half[0], away @ cam.up / far / cam.half[1]])
    places = np.column_stack([(flat[:, 0] + 1) / 2 * 320, (1 - flat[:, 1]) / 2 * 240])
    hull = Image.new("L", (320, 240))
    ImageDraw.Draw(hull).polygon([tuple(p) for p in places[ConvexHull(places).vertices]], fill=255)
    inside = np.asarray(hull) > 0
    assert (seen[~inside] > 128).mean() < 0.002  # nothing of it lies outside its corners' outline
    rim = {side: (seen > 128).any(axis=k) for k, side in enumerate(("columns", "rows"))}
    wanted = {side: inside.any(axis=k) for k, side in enumerate(("columns", "rows"))}
    for side in rim:
        assert np.abs(np.flatnonzero(rim[side])[[0, -1]] - np.flatnonzero(wanted[side])[[0, -1]]).max() <= 1


def test_the_same_shot_gives_the_same_picture(flange, cache, store):
    first, second = (take(flange, "still", SMALL, None, 1, cache, store) for _ in range(2))
    assert first == second
    other = msgspec.structs.replace(SMALL, light="two lamps")
    assert take(flange, "still", other, None, 1, cache, store) != first


def test_finish_of_body_and_face_is_seen(flange, cache, store):
    body = next(iter(rebuild(flange.plan(store.find), cache).bodies))
    plain = _color(_picture(flange, SMALL, cache, store))
    blue = edits.change_body(flange, body, finish="anodised blue")
    r, _, b = _color(_picture(blue, SMALL, cache, store))
    assert b > 1.6 * r and abs(plain[0] - plain[2]) < 12
    dark = _color(_picture(edits.change_body(flange, body, finish="black oxide"), SMALL, cache, store))
    assert dark.mean() < 0.5 * plain.mean()
    from_top = msgspec.structs.replace(SMALL, height=90.0, turn=0.0)
    red = edits.change_faces(flange, [FaceRef("s1/b.end/side")], finish="painted red")
    seen, before = _picture(red, from_top, cache, store), _picture(flange, from_top, cache, store)
    reddish = (seen[..., 0] > 1.5 * seen[..., 2]) & (seen[..., 3] > 254)
    assert 0.2 < reddish.sum() / (before[..., 3] > 254).sum() < 0.9  # that face, and only it


def test_a_thread_that_is_not_modelled_is_seen(cache, store):
    spindle = load(EXAMPLES / "skp-01.lathed", store).job.content
    bare = msgspec.structs.replace(
        spindle, routes=(msgspec.structs.replace(spindle.routes[0], steps=tuple(
            s for s in spindle.steps if type(s).__name__ != "Thread"
        )),),
    )  # fmt: skip
    shot = msgspec.structs.replace(SMALL, turn=0.0, height=0.0, up="x", size=(600, 200), quality="draft")

    def ripple(content):
        """How much the light changes to and fro along the lying part, column by column."""
        seen = _picture(content, shot, cache, store)
        there = seen[80:120, :, 3] > 254
        line = (seen[80:120, :, :3].mean(axis=2) * there).sum(axis=0) / np.maximum(there.sum(axis=0), 1)
        return np.abs(np.diff(line, 2)) * (there.sum(axis=0) > 3)[1:-1]

    marked, plain = ripple(spindle), ripple(bare)
    threaded = np.flatnonzero((marked > 4 * np.median(plain) + 6) & (marked > 2 * plain))
    assert len(threaded) > 6  # many columns of flanks at the ends that are threaded


def test_a_cut_lays_the_inside_open(flange, cache, store):
    whole = _picture(flange, SMALL, cache, store)
    for cut in ("quarter", "half"):
        seen = _picture(flange, msgspec.structs.replace(SMALL, cut=cut), cache, store)
        tan = (seen[..., 0] > 1.25 * seen[..., 2]) & (seen[..., 3] > 254)
        assert tan.sum() > 60
        assert not ((whole[..., 0] > 1.25 * whole[..., 2]) & (whole[..., 3] > 254)).any()


def test_the_shadow_lies_on_the_ground_only(flange, cache, store):
    with_shadow = _picture(flange, msgspec.structs.replace(SMALL, shadow=True), cache, store)
    without = _picture(flange, SMALL, cache, store)
    assert ((without[..., 3] > 0) & (without[..., 3] < 255)).sum() < 0.1 * (without[..., 3] > 0).sum()
    soft = (with_shadow[..., 3] > 5) & (without[..., 3] == 0)
    assert soft.sum() > 500 and np.percentile(with_shadow[soft][:, :3], 95) < 5  # black, but for the part's own rim


@pytest.mark.parametrize("ground", ["paper", "white", "slate"])
def test_the_ground_fills_the_picture(flange, cache, store, ground):
    shot = msgspec.structs.replace(SMALL, ground=ground, light="dark bench")
    data = settled(rendered(*_posed(flange, shot, cache, store)))
    corner = data.getpixel((0, 0))
    assert data.mode == "RGB" and (max(corner) < 90 if ground == "slate" else min(corner) > 220)


def _posed(content, shot, cache, store):
    posed = posed_part(content, shot, cache, store)
    return posed.subject, shot, posed.toward, posed.over


def test_once_round_in_pictures_and_as_one_that_moves(flange, cache, store, tmp_path):
    shot = msgspec.structs.replace(SMALL, size=(80, 64), ground="white")
    told = []
    take(flange, "turn", shot, tmp_path / "round.gif", 6, cache, store, lambda p: told.append((p.done, p.of)))
    with Image.open(tmp_path / "round.gif") as moving:
        assert moving.n_frames == 6 and moving.size == (80, 64)
    assert told == [(k, 6) for k in range(1, 7)]
    take(flange, "turn", shot, tmp_path / "round", 4, cache, store)
    frames = [np.asarray(Image.open(p), float) for p in sorted((tmp_path / "round").iterdir())]
    assert len(frames) == 4 and all(np.abs(frames[0] - f).max() > 40 for f in frames[1:])
    tops = [np.flatnonzero((f.min(axis=2) < 250).any(axis=1))[0] for f in frames]
    assert max(tops) - min(tops) <= 2  # it turns on the spot
    with pytest.raises(NoPicture):
        take(flange, "turn", shot, tmp_path / "r.gif", 2, cache, store)
    with pytest.raises(CannotWrite):
        take(flange, "turn", shot, tmp_path / "r.mp4", 6, cache, store)


def test_an_assembly_pulled_apart_and_its_parts_on_a_sheet(store):
    assembly = load_assembly(EXAMPLES / "skp-00.lathed", store).assembly
    shot = msgspec.structs.replace(SMALL, size=(120, 90))

    def tall(apart):
        posed = posed_assembly(assembly, msgspec.structs.replace(shot, apart=apart), store)
        return float(np.ptp(posed.subject.facets.points, axis=0).max())

    assert tall(1.0) > 1.5 * tall(0.0)
    cut = posed_assembly(assembly, msgspec.structs.replace(shot, cut="half"), store)
    assert len(cut.subject.facets.corners) > 0
    tiles = tiles_of_assembly(assembly, shot, store)
    assert len(tiles) == len(assembly.parts) and "12 off" in " ".join(t.lines[1] for t in tiles)
    small = msgspec.structs.replace(shot, size=(64, 64))
    sheet = contact_sheet(tiles[:5], small, "Parts", lambda p: None, lambda: None)
    assert sheet.width == 4 * (64 + 24) + 24
    with pytest.raises(NoPicture):
        contact_sheet(tiles * 40, msgspec.structs.replace(shot, size=(2400, 1800)), "", lambda p: None, lambda: None)


def test_the_bodies_of_a_job_are_its_parts(store, cache):
    content = load(EXAMPLES / "skp-01.lathed", store).job.content
    (tile,) = tiles_of_job(content, SMALL, cache, store)
    assert tile.lines[0].startswith("SKP-01") and " g" in tile.lines[1]


@pytest.mark.parametrize(
    "shot",
    [Shot(size=(20, 20)), Shot(size=(9000, 9000)), Shot(size=(6000, 6000)), Shot(lens=5), Shot(height=120), Shot(turn=math.nan)],
)  # fmt: skip
def test_what_cannot_be_taken_is_refused(shot):
    with pytest.raises(NoPicture):
        checked(shot)


def test_a_size_is_read_as_it_is_typed():
    assert pixels("1600 x 1200") == pixels("1600×1200") == (1600, 1200)
    with pytest.raises(NoPicture):
        pixels("large")


def test_a_part_keeps_its_finish_in_an_assembly_also_where_it_is_cut(flange, store):
    rim = "s1/b.od/side"
    shown = rebuild(flange.plan(store.find), Cache())
    (body,) = shown.bodies
    content = edits.change_faces(
        edits.change_body(flange, body, finish="black oxide"), [FaceRef(rim)], finish="painted red"
    )
    part = shot_of_content(content, "", "", store)
    store.put(part.solid)
    assert part.part.finish == "black oxide" and max(part.part.color) < 0.2
    (look,) = part.part.looks
    assert look.index in shown.body.find(rim) and look.color[0] > 3 * look.color[2]
    turned_over = Pose(turn=(0.0, 1.0, 0.0, 0.0), place=(5.0, 0.0, 0.0))
    assembly = Assembly(parts=(part.part,), instances=(Instance(id="i1", part=part.part.id, pose=turned_over),))
    for cut in ("", "half"):
        shot = msgspec.structs.replace(SMALL, cut=cut, height=10.0)
        posed = posed_assembly(assembly, shot, store)
        seen = np.asarray(settled(rendered(posed.subject, shot, posed.toward, posed.over)).convert("RGBA"), float)
        part_of_it = seen[..., 3] > 254
        red = part_of_it & (seen[..., 0] > 1.5 * seen[..., 2]) & (seen[..., 0] > 1.5 * seen[..., 1])
        assert red.sum() > (3 if cut else 30), "the painted rim is seen"
        dark = part_of_it & (seen[..., :3].max(axis=2) < 110) & ~red
        assert dark.sum() > 30, "and the blackened rest"


def test_what_is_inside_a_see_through_body_is_seen():
    """A dark core in a light shell of 40: where there is nothing in it, light goes through its front and its back."""

    def seen(see_through):
        shell = [Coat((0.9, 0.9, 0.9), finish("painted"), see_through=see_through)] * 6
        core = [Coat((0.7, 0.05, 0.05), finish("painted"))] * 6
        box = BRepPrimAPI_MakeBox
        what = subject([Piece(box(gp_Pnt(-20, -20, -20), 40, 40, 40).Shape(), shell),
                        Piece(box(gp_Pnt(-8, -8, -8), 16, 16, 16).Shape(), core)])  # fmt: skip
        shot = msgspec.structs.replace(SMALL, quality="good")
        return np.asarray(settled(rendered(what, shot, (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))).convert("RGBA"), float)

    whole, through = seen(False), seen(True)
    assert (whole[60, 80, :3].max() - whole[60, 80, :3].min()) < 12 and whole[60, 80, 3] == 255
    red = through[60, 80]
    assert red[3] > 250 and red[0] > red[1] + 25
    y, x = np.argwhere(whole[..., 3] == 255).min(axis=0) + 4
    assert through[y : y + 8, x : x + 8, 3].mean() / 255 == pytest.approx(1 - 0.62**2, abs=0.03)
    assert np.array_equal(seen(True), through), "the same shot gives the same picture"
