"""The OpenGL widget that the kernel's viewer draws into, and its camera. No model in here."""

from __future__ import annotations

import gc
import math
import time
from typing import cast

from OCP.AIS import AIS_InteractiveContext
from OCP.Aspect import Aspect_DisplayConnection, Aspect_GradientFillMethod, Aspect_NeutralWindow
from OCP.gp import gp_Dir
from OCP.Graphic3d import Graphic3d_RenderTransparentMethod, Graphic3d_TypeOfShadingModel
from OCP.OpenGl import OpenGl_Context, OpenGl_FrameBuffer, OpenGl_GraphicDriver
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.V3d import V3d_Viewer
from PyQt6.QtCore import QPoint, QPointF, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtOpenGLWidgets import QOpenGLWidget
from PyQt6.QtWidgets import QWidget

from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.quiet import quiet
from ..timing import one_shot

#: So long (ms) the view rests before it is drawn finely: where that takes over ``_QUICK`` seconds, longer.
_REST, _LONG_REST, _QUICK = 160, 700, 0.03


def kernel_color(color: QColor) -> Quantity_Color:
    return Quantity_Color(color.redF(), color.greenF(), color.blueF(), Quantity_TypeOfColor.Quantity_TOC_sRGB)


class Surface(QOpenGLWidget):
    """Draws the viewer's scene. ``ready`` is emitted once the first context exists."""

    ready = pyqtSignal()
    painted = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        quiet()
        # Kept for as long as the widget lives: the driver closes it, and Qt would fall when it lets go of OpenGL.
        self._display = Aspect_DisplayConnection()
        self._driver = OpenGl_GraphicDriver(self._display, False)
        options = self._driver.ChangeOptions()
        options.buffersNoSwap = options.buffersOpaqueAlpha = options.sRGBDisable = True
        options.useSystemBuffer = False
        self.viewer = V3d_Viewer(self._driver)
        self.viewer.SetDefaultLights()
        self.viewer.SetLightOn()
        self.view = self.viewer.CreateView()
        self.view.SetImmediateUpdate(False)
        self.displayed = AIS_InteractiveContext(self.viewer)
        self.displayed.SetPixelTolerance(4)
        self._window: Aspect_NeutralWindow | None = None
        self._rest = one_shot(self, _REST)
        self._rest.timeout.connect(lambda: self._quality(True))
        self._moving = True

    @property
    def is_seen(self) -> bool:
        """Whether the view has its window: it has none before it is first painted, nor once it is gone."""
        return self._window is not None

    # --- Qt's drawing
    def initializeGL(self) -> None:
        first = self._window is None
        current = OpenGl_Context()
        current.Init(False)
        self._window = Aspect_NeutralWindow()
        self._window.SetSize(max(1, self.width()), max(1, self.height()))
        self._window.SetVirtual(True)
        self._window.SetNativeHandle(int(self.winId()))
        self.view.SetWindow(self._window, current.RenderingContext())
        params = self.view.ChangeRenderingParams()
        # The first picture comes sooner when it is coarse; it is refined once it rests.
        params.NbMsaaSamples = 0
        params.TransparencyMethod = Graphic3d_RenderTransparentMethod.Graphic3d_RTM_BLEND_OIT
        if first:
            self.view.SetShadingModel(Graphic3d_TypeOfShadingModel.Graphic3d_TypeOfShadingModel_Gouraud)
            self._rest.start()
            self.ready.emit()

    def paintGL(self) -> None:
        if self._window is None:
            return
        shared = self._driver.GetSharedContext()
        frame = OpenGl_FrameBuffer()
        frame.InitWrapper(shared)
        self._window.SetSize(frame.GetVPSizeX(), frame.GetVPSizeY())
        self.view.MustBeResized()
        self.view.Invalidate()
        shared.SetDefaultFrameBuffer(frame)
        self.view.InvalidateImmediate()
        begun = time.perf_counter()
        self.view.Redraw()
        if not self._moving:  # without a graphics card the fine picture takes its time: it waits until nothing follows
            slow = time.perf_counter() - begun > _QUICK
            self._rest.setInterval(_LONG_REST if slow else _REST)
        self.painted.emit()

    def ground(self, top: QColor, bottom: QColor) -> None:
        fill = Aspect_GradientFillMethod.Aspect_GradientFillMethod_Vertical
        self.view.SetBgGradientColors(kernel_color(top), kernel_color(bottom), fill, False)
        self.update()

    def _quality(self, fine: bool) -> None:
        """Coarse while the view moves, fine one frame after it rests."""
        if fine == (not self._moving):
            return
        self._moving = not fine
        self.view.ChangeRenderingParams().NbMsaaSamples = 4 if fine else 0
        model = Graphic3d_TypeOfShadingModel
        self.view.SetShadingModel(
            model.Graphic3d_TypeOfShadingModel_Phong if fine else model.Graphic3d_TypeOfShadingModel_Gouraud
        )
        self.update()

    def moved(self) -> None:
        """The camera has changed: draw coarsely now, finely after a rest."""
        self._quality(False)
        self._rest.start()
        self.update()

    def draw_now(self) -> None:
        """A new part is drawn at once and coarsely, before the rest of the window; finely when nothing follows."""
        self.moved()
        self.repaint()

    # --- camera
    def pixel(self, position: QPoint | QPointF) -> tuple[int, int]:
        ratio = self.devicePixelRatioF()
        return round(position.x() * ratio), round(position.y() * ratio)

    def look(self, direction: Vector, up: Vector) -> None:
        """Look from ``direction`` (part to eye)."""
        self.view.SetProj(*direction)
        self.view.Camera().SetUp(_dir(up))
        self.moved()

    def fit(self, left: int = 0) -> None:
        """All of it in the view, clear of ``left`` pixels on its left where it can be."""
        self.view.FitAll(0.2, False)
        self.view.ZFitAll()
        low, high = self._seen()
        ratio, margin = self.devicePixelRatioF(), 0.06 * min(self.width(), self.height())
        free = ratio * (self.width() - left - 2 * margin)
        if 0 < free < high - low:
            self.view.SetScale(self.view.Scale() * free / (high - low))
            low, high = self._seen()
        lacking = ratio * (left + margin) - low
        if lacking > 0:
            self.view.Pan(round(min(lacking, ratio * (self.width() - margin) - high)), 0)
        self.moved()

    def _seen(self) -> tuple[float, float]:
        """Where what is shown begins and ends across the view, pixels."""
        box = self.view.View().MinMaxValues(False)
        if box.IsVoid():
            return 0.0, 0.0
        low, high = box.CornerMin(), box.CornerMax()
        corners = ((x, y, z) for x in (low.X(), high.X()) for y in (low.Y(), high.Y()) for z in (low.Z(), high.Z()))
        across = [self.view.Convert(*corner)[0] for corner in corners]
        return min(across), max(across)

    def pan(self, dx: int, dy: int) -> None:
        self.view.Pan(dx, -dy)
        self.moved()

    def zoom(self, x: int, y: int, steps: float) -> None:
        """Zoom about a pixel; the point under the cursor stays."""
        self.view.StartZoomAtPoint(x, y)
        self.view.ZoomAtPoint(0, 0, round(steps * 24), 0)
        self.moved()

    def towards_eye(self) -> Vector:
        """The direction from the part to the eye."""
        d = self.view.Camera().Direction()
        return -d.X(), -d.Y(), -d.Z()

    def grain(self, unit: float) -> float:
        """A round step of length that is about three pixels just now, in units of so many mm."""
        least = max(3 * self.view.Convert(100) / 100 / unit, 1e-6)
        power = 10.0 ** math.floor(math.log10(least))
        return float(next(step * power for step in (1, 2, 5, 10) if step * power >= least))

    def along(self, place: Vector, way: Vector, move: QPointF) -> float:
        """How many mm along ``way`` from ``place`` a move of the mouse is; seen end on, up counts."""
        ratio = self.devicePixelRatioF()
        start = self.view.Convert(*place)
        size = self.view.Convert(100)  # mm that 100 pixels are
        far = (p + size * w for p, w in zip(place, way, strict=True))
        end = cast(tuple[int, int], self.view.Convert(*far))
        u, v = end[0] - start[0], end[1] - start[1]
        if math.hypot(u, v) < 15:
            return float(-move.y() * ratio * size / 100)
        return float((move.x() * u + move.y() * v) * ratio / (u * u + v * v) * size)

    def across(self, pixel: tuple[int, int], through: Vector) -> Vector:
        """The place under a pixel in the plane through a place that is square to the eye, mm."""
        x, y, z, u, v, w = (float(c) for c in self.view.ConvertWithProj(*pixel))
        gap = (through[0] - x) * u + (through[1] - y) * v + (through[2] - z) * w
        return x + gap * u, y + gap * v, z + gap * w

    def turning(self, move: QPointF) -> tuple[Vector, float]:
        """The direction in the room about which a move of the mouse turns something, and by how much (radians)."""
        size = math.hypot(move.x(), move.y())
        eye, up = self.towards_eye(), self.view.Camera().Up()
        right = (
            up.Y() * eye[2] - up.Z() * eye[1],
            up.Z() * eye[0] - up.X() * eye[2],
            up.X() * eye[1] - up.Y() * eye[0],
        )
        if size == 0:
            return eye, 0.0
        a, b = move.x() / size, move.y() / size
        about = (a * up.X() + b * right[0], a * up.Y() + b * right[1], a * up.Z() + b * right[2])
        return about, math.radians(0.5 * size)

    def orbit_start(self, x: int, y: int) -> None:
        self.view.StartRotation(x, y, 0.0)

    def orbit(self, x: int, y: int) -> None:
        self.view.Rotation(x, y)
        self.moved()

    def turn(self, right: float, up: float) -> None:
        """Turn the view by degrees (keyboard)."""
        self.view.Rotate(math.radians(right), math.radians(up), 0.0, True)
        self.moved()

    def shut(self) -> None:
        """Let go of everything in the order the driver needs; the widget draws no more."""
        if self._window is None:
            return
        self.makeCurrent()
        self._rest.stop()
        self._window = None
        self.displayed.RemoveAll(False)
        self.view.Remove()
        del self.displayed, self.view, self.viewer
        gc.collect()
        del self._driver
        gc.collect()
        self.doneCurrent()


def _dir(v: tuple[float, float, float]) -> gp_Dir:
    from OCP.gp import gp_Dir

    return gp_Dir(*v)
