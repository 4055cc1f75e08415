"""What the cursor points at: round faces about one axis are told apart, whatever order the kernel has them in."""

import pytest
from PyQt6.QtTest import QTest


@pytest.mark.parametrize("cut", [False, True])
def test_a_click_into_a_bore_takes_the_bore_and_beside_it_the_outside(desk, cut):
    desk.open_example("skp-02")
    part = desk.window.part
    desk.look("I")
    if cut:
        desk.window.section.toggle()
        desk.settled()
    view, surfaces = part.surface.view, desk.session.current.shown.surfaces
    wanted = {"bore": (10.0, True), "rim": (59.0, False), "hub": (21.0, False)}
    seen = set()
    for x in range(30, part.surface.width() - 30, 6):
        for y in range(30, part.surface.height() - 30, 6):
            shape = part.scene.hover(x, y)
            index = part.scene.body.index(shape) if shape is not None and part.scene.is_face(shape) else 0
            at = part.scene.detected_point()
            if not index or at is None:
                continue
            # What is said to be hit lies under the pixel, and on the face it is said to be on.
            px, py = view.Convert(*at)
            assert abs(px - x) <= 9 and abs(py - y) <= 9
            face = surfaces[index - 1]
            if face.kind == "cylinder" and face.axis[2] ** 2 > 0.99:
                away = (at[0] - face.origin[0]) ** 2 + (at[1] - face.origin[1]) ** 2
                assert away**0.5 == pytest.approx(face.radius, abs=0.35), (index, face.radius, at)
                seen |= {name for name, (r, hollow) in wanted.items() if (face.radius, face.hollow) == (r, hollow)}
    assert {"bore", "rim"} <= seen
    QTest.qWait(10)
