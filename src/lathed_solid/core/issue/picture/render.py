"""The picture gathered pass by pass: one look, one reflection and one glance at the sky for every pixel."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterator
from functools import partial
from typing import NamedTuple

import msgspec
import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from PIL import Image
from scipy.ndimage import gaussian_filter

from ...arrays import Floats, Ints, Truths
from ...job.looks import LETS_BY
from ...kernel.ground.figures import Vector
from .lens import Camera, camera
from .light import Room, room
from .model import PASSES, Ground, Shot, checked
from .shade import facing, lays, mirrored, reflectance, threaded, unit
from .smooth import Guide, smoothed
from .subject import Subject

#: So many rays are carried at once: what they need stays in the processor's cache.
_TILE = 1 << 17
#: Glances at the sky from every place and pass.
_GLANCES = 2
#: A ray starts this share of the part's size off the surface it left.
_OFF = 2e-4
#: Darkness of the ground where no sky is seen, and how far from the part shadows are looked for (of its size).
_SHADE, _REACH = 0.75, 3.0
#: A pixel with less of the part in it shows the ground; the grain of shadows is blurred over this share of the width.
_BARE, _SOFT = 0.02, 0.012
#: What a surface of the part looks like in another one: so bright of the room behind it, blurred so far.
_OTHER, _BLUR = 0.45, 0.5
#: Upper and lower colour of each ground, sRGB.
_GROUNDS: dict[Ground, tuple[tuple[int, int, int], tuple[int, int, int]] | None] = {
    "paper": ((242, 240, 235), (226, 223, 216)),
    "white": ((255, 255, 255), (255, 255, 255)),
    "slate": ((66, 73, 80), (34, 38, 43)),
    "clear": None,
}


#: Light goes through so many see-through surfaces.
_THROUGH = 16
#: Steps of sequences that fill 0 to 1 evenly together: powers of the root of x³ = x + 1, and of x⁴ = x + 1.
_EVENLY = (0.7548776662466927, 0.5698402909980532, 0.8191725133961645, 0.6710436067037893)


class Progress(NamedTuple):
    """After pass ``done`` of ``of``; ``picture`` puts together what has been gathered so far, ``glimpse`` does so
    quickly, with its grain.
    """

    done: int
    of: int
    picture: Callable[[], Image.Image]
    glimpse: Callable[[], Image.Image]


def rendered(
    what: Subject, shot: Shot, toward: Vector, over: Vector, going: Callable[[], object] = lambda: None,
    within: Floats | None = None,
) -> Iterator[Progress]:  # fmt: skip
    """Pass after pass; the last picture is the whole one. ``toward`` the eye and straight ``over`` are directions in
    the axes of the points; the places ``within`` (n, 3; those of the part if None) are all in the picture. The same
    shot gives the same picture. Raises NoPicture.
    """
    checked(shot)
    places = what.facets.points if within is None else within
    work = _Work(what, shot, camera(places, toward, over, shot.lens, shot.size))
    for done in range(1, PASSES[shot.quality] + 1):
        for begin in range(0, work.count, _TILE):
            going()
            work.gather(np.arange(begin, min(begin + _TILE, work.count)))
        work.passes = done
        yield Progress(done, PASSES[shot.quality], work.picture, partial(work.picture, False))


def settled(progress: Iterator[Progress]) -> Image.Image:
    """The whole picture."""
    last = None
    for step in progress:
        last = step
    assert last is not None
    return last.picture()


def _scene(corners: Floats) -> EmbreeScene:
    """Triangles (n, 3, 3) to be met by rays."""
    made = EmbreeScene()
    TriangleMesh(made, np.ascontiguousarray(corners, np.float32))
    return made


class _Work:
    """What has been gathered of one picture."""

    def __init__(self, what: Subject, shot: Shot, seen_by: Camera) -> None:
        self._what, self._shot, self._camera = what, shot, seen_by
        self._room: Room = room(shot.light, shot.ground)
        f = what.facets
        self._size = max(float(np.linalg.norm(np.ptp(f.points, axis=0))) / 2, 1e-6)
        self._middle = (f.points.min(0) + f.points.max(0)) / 2
        self._floor = float((f.points @ seen_by.over).min()) - 1e-3 * self._size
        #: Which triangles are see-through; all of them, and those that are not and so keep the sky off.
        self._clear: Truths = what.coats.see_through[what.coat]
        self.count = shot.size[0] * shot.size[1]
        self._chance = np.random.default_rng(self.count).random(self.count, np.float32)
        self._scene = _scene(f.points[f.corners])
        self._dense: EmbreeScene | None = self._scene
        if self._clear.any():
            self._dense = None if self._clear.all() else _scene(f.points[f.corners[~self._clear]])
        self._color = np.zeros((self.count, 3), np.float32)
        self._hits, self._shadow = np.zeros(self.count, np.float32), np.zeros(self.count, np.float32)
        self._normal, self._face = np.zeros((self.count, 3), np.float32), np.full(self.count, -1, np.int32)
        self.passes = 0
        self._rng = np.random.default_rng(zlib.crc32(msgspec.json.encode(shot)))

    # --- rays
    def _cast(self, places: Floats, ways: Floats) -> tuple[Ints, Floats, Floats]:
        """Triangle met (-1: none) and where in it, of each ray."""
        found = self._scene.run(
            np.ascontiguousarray(places, np.float32), np.ascontiguousarray(ways, np.float32), output=True
        )
        met = np.where(found["geomID"] >= 0, found["primID"], -1).astype(int)
        return met, found["u"], found["v"]

    def _met_at(self, of_corners: Floats, met: Ints, u: Floats, v: Floats) -> Floats:
        """What is told of corners (places, normals), where triangles were met."""
        shares = np.stack([1 - u - v, u, v], axis=1).astype(float)
        return np.asarray(np.einsum("nk,nkc->nc", shares, of_corners[self._what.facets.corners[met]]))

    def _hidden(self, places: Floats, ways: Floats) -> Truths:
        """Whether the part is met at all, but for what is see-through."""
        if self._dense is None:
            return np.zeros(len(places), bool)
        found = self._dense.run(
            np.ascontiguousarray(places, np.float32), np.ascontiguousarray(ways, np.float32), query="OCCLUDED"
        )
        hidden: Truths = np.asarray(found) >= 0
        return hidden

    def _glance(self, normals: Floats) -> Floats:
        """A direction by chance, the more likely the straighter it leaves the surface (cosine law)."""
        chance = self._rng.standard_normal(normals.shape, np.float32).astype(float)
        found: Floats = unit(normals * 1.0001 + unit(chance))
        return found

    # --- one pass
    def gather(self, pixels: Ints) -> None:
        wide, high = self._shot.size
        jitter = self._rng.random((len(pixels), 2), np.float32)
        x = (pixels % wide + jitter[:, 0]) / wide * 2 - 1
        y = 1 - (pixels // wide + jitter[:, 1]) / high * 2
        ways = self._camera.rays(x, y)
        met, u, v = self._cast(np.broadcast_to(self._camera.eye, ways.shape), ways)
        if self._clear.any():
            self._look_through(pixels, met, u, v, ways)
        on = np.flatnonzero(met >= 0)
        if len(on):
            at = pixels[on]
            light, normals = self._light_of(met[on], u[on], v[on], ways[on])
            self._color[at] += light
            self._normal[at] += normals
            self._face[at] = self._what.coat[met[on]]
            self._hits[at] += 1
        if self._shot.shadow:
            self._cast_shadow(pixels, np.flatnonzero(met < 0), ways)

    def _look_through(self, pixels: Ints, met: Ints, u: Floats, v: Floats, ways: Floats) -> None:
        """Rays that go on through what is see-through, as many as it lets by: they meet what is behind it. A pixel's
        turns are spread evenly over the passes, layer by layer, which leaves far less grain than chance would.
        """
        f, ahead = self._what.facets, np.flatnonzero(met >= 0)
        for layer in range(_THROUGH):
            ahead = ahead[self._clear[met[ahead]]]
            turn = (self._chance[pixels[ahead]] * (1 + 7 * layer) + self.passes * _EVENLY[layer % len(_EVENLY)]) % 1
            ahead = ahead[turn < LETS_BY]
            if not len(ahead):
                return
            places = self._met_at(f.points, met[ahead], u[ahead], v[ahead])
            met[ahead], u[ahead], v[ahead] = self._cast(places + ways[ahead] * (self._size * _OFF), ways[ahead])
            ahead = ahead[met[ahead] >= 0]

    def _light_of(self, met: Ints, u: Floats, v: Floats, ways: Floats) -> tuple[Floats, Floats]:
        """What reaches the eye from where the triangles were ``met`` (n, 3), and which way the surface leans there."""
        f, coats = self._what.facets, self._what.coats
        corners, coat = f.corners[met], self._what.coat[met]
        places = self._met_at(f.points, met, u, v)
        flat = np.cross(
            f.points[corners[:, 1]] - f.points[corners[:, 0]], f.points[corners[:, 2]] - f.points[corners[:, 0]]
        )
        true = facing(unit(flat), ways)
        normals = facing(unit(self._met_at(f.normals, met, u, v)), ways)
        normals = threaded(places, normals, coat, coats)
        start = places + true * (self._size * _OFF)
        look = mirrored(ways, normals, true, lays(places, normals, coat, coats), coat, coats, self._rng)
        bright = self._room.bright(self._camera.in_room(look.ways), look.spread)
        other, _, _ = self._cast(start, look.ways)
        own = np.flatnonzero(other >= 0)
        back = self._camera.in_room(f.normals[f.corners[other[own], 0]])
        bright[own] = _OTHER * self._room.bright(back, np.full(len(own), _BLUR))
        sky, seen = self._sky(start, normals)
        shine, scatter, metal = reflectance(coat, coats, look.cosine)
        dim = 1 - 0.45 * metal * (1 - seen)[:, None]  # metal in a corner sees less of the room
        light: Floats = shine * bright[:, None] * dim + scatter * (1.5 * sky)[:, None]
        return light, normals

    def _sky(self, start: Floats, normals: Floats) -> tuple[Floats, Floats]:
        """How bright the sky is over each place (n,), and the share of it that is seen: two glances by chance."""
        bright, seen = np.zeros(len(start)), np.zeros(len(start))
        for _ in range(_GLANCES):
            way = self._glance(normals)
            free = ~self._hidden(start, way)
            bright += self._room.bright(self._camera.in_room(way), np.full(len(way), 0.2)) * free / _GLANCES
            seen += free / _GLANCES
        return bright, seen

    def _cast_shadow(self, pixels: Ints, missed: Ints, ways: Floats) -> None:
        cam = self._camera
        fall = ways[missed] @ cam.over
        missed, fall = missed[fall < -1e-6], fall[fall < -1e-6]
        far = (self._floor - cam.eye @ cam.over) / fall
        missed, far = missed[far > 0], far[far > 0]
        places = cam.eye + ways[missed] * far[:, None]
        off = places - self._middle
        near = np.linalg.norm(off - (off @ cam.over)[:, None] * cam.over, axis=1) < _REACH * self._size
        missed, places = missed[near], places[near]
        if not len(missed):
            return
        up = np.broadcast_to(cam.over, places.shape)
        start, usual = places + up * (1e-3 * self._size), self._usual
        for _ in range(_GLANCES):
            way = self._glance(up)
            weight = self._room.bright(cam.in_room(way), np.full(len(way), 0.2))
            self._shadow[pixels[missed]] += self._hidden(start, way) * np.minimum(weight / usual, 2.0) / _GLANCES

    @property
    def _usual(self) -> float:
        """How bright the sky is on the whole, as a level surface has it."""
        half = self._room.maps[3][: self._room.maps.shape[1] // 2]
        rise = np.linspace(np.pi / 2, 0, len(half))
        weight = np.sin(rise) * np.cos(rise)
        return float((half.mean(axis=1) * weight).sum() / weight.sum())

    # --- put together
    def _soft_shadow(self, bare: Truths) -> Floats:
        """The shadow on the ground, grain blurred away; what lies under the part has no say."""
        dark = (np.clip(self._shadow / self.passes, 0, 1) * _SHADE).reshape(bare.shape)
        far = bare.shape[1] * _SOFT / min(self.passes, 16) ** 0.5
        share = gaussian_filter(bare.astype(np.float32), far)
        found: Floats = gaussian_filter(np.where(bare, dark, 0.0), far) / np.maximum(share, 1e-6)
        return np.where(share > 1e-6, found, 0.0)

    def _smooth(self, light: Floats) -> Floats:
        wide, high = self._shot.size
        normal = self._normal / np.maximum(np.linalg.norm(self._normal, axis=1, keepdims=True), 1e-9)
        whole = (self._hits >= self.passes).reshape(high, wide)
        guide = Guide(normal.reshape(high, wide, 3), self._face.reshape(high, wide).astype(int), whole)
        return smoothed(light.reshape(high, wide, 3), guide).reshape(-1, 3)

    def picture(self, fine: bool = True) -> Image.Image:
        """What has been gathered so far, on its ground; its grain taken out where it is to be ``fine``."""
        wide, high = self._shot.size
        cover = self._hits / self.passes
        light = self._color / np.maximum(self._hits, 1)[:, None] * self._room.exposure
        light = self._smooth(light) if fine else light
        light = light * (1 + light / 6) / (1 + light)  # bright spots stay below white (Reinhard's curve)
        color = np.where(light <= 0.0031308, 12.92 * light, 1.055 * np.clip(light, 0, 1) ** (1 / 2.4) - 0.055)
        shade = self._soft_shadow((cover < _BARE).reshape(high, wide)).ravel()
        alpha = cover + shade * (1 - cover)
        share = np.divide(cover, alpha, out=np.zeros_like(cover), where=alpha > 1e-6)
        rgba = np.column_stack([np.clip(color * share[:, None], 0, 1), alpha]).reshape(high, wide, 4)
        made = Image.fromarray((rgba * 255 + 0.5).astype(np.uint8), "RGBA")
        return _on(made, self._shot.ground)


def _on(picture: Image.Image, ground: Ground) -> Image.Image:
    colors = _GROUNDS[ground]
    if colors is None:
        return picture
    top, bottom = (np.array(c, float) for c in colors)
    share = np.linspace(0, 1, picture.height)[:, None]
    rows = (top * (1 - share) + bottom * share + 0.5).astype(np.uint8)
    filled = np.ascontiguousarray(np.broadcast_to(rows[:, None, :], (picture.height, picture.width, 3)))
    made = Image.fromarray(filled, "RGB").convert("RGBA")
    made.alpha_composite(picture)
    return made.convert("RGB")
