"""Drawing a sketch with its sizes: nothing covers anything, and nothing needs a window."""

from __future__ import annotations

import pytest

from lathed_solid.core.drafting.figures import bounds, figure_of
from lathed_solid.core.drafting.layout import lay_out
from lathed_solid.core.drafting.place import Box, Scale
from lathed_solid.core.drafting.words import size_texts
from lathed_solid.core.quantity import Style

from .sketch.drawn import LEDGER, typed


@pytest.mark.parametrize(("width", "height"), [(690, 265), (1000, 420)])
def test_texts_of_sizes_do_not_cover_each_other(arbor, width, height):
    sketch, scale = arbor.sketch("k1"), Scale()
    scale.fit(bounds(sketch), width, height, (46, 38, 46, 150))
    texts = [f.text_at for f in lay_out(sketch, scale)]
    assert len(texts) >= 17
    for i, a in enumerate(texts):
        for b in texts[i + 1 :]:
            assert not (abs(a.x - b.x) < 24 and abs(a.y - b.y) < 16), (a, b)


def test_every_size_has_a_figure_whose_lines_lie_on_what_it_sizes():
    sketch, scale = typed("rect 60 x 40", "circle Ø10 at 12,8"), Scale()
    scale.fit(bounds(sketch), 600, 400, (40, 40, 40, 80))
    every = {d.id: figure_of(sketch, d, scale) for d in sketch.dimensions}
    assert {f.dimension.id for f in lay_out(sketch, scale)} == set(every)
    width = next(d for d in sketch.dimensions if size_texts(sketch, LEDGER, Style())[d.id] == "60")
    (a, b), *_ = every[width.id].lines
    assert abs(a.x - b.x) == pytest.approx(60 * scale.scale)


def test_a_place_of_the_sketch_comes_back_from_the_drawing():
    scale = Scale()
    scale.fit(Box(-5, -15, 60, 30), 800, 300, (10, 20, 30, 40))
    at = scale.at(12.5, -3.25)
    assert scale.back(*at) == pytest.approx((12.5, -3.25))
    scale.zoom_about(*at, 3.7)
    assert scale.at(12.5, -3.25) == pytest.approx(at)
    assert Box(0, 0, 10, 10).meets(Box(9, 9, 4, 4)) and not Box(0, 0, 10, 10).meets(Box(10, 0, 5, 5))
