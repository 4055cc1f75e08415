"""Fonts and the style sheet made from a palette."""

from __future__ import annotations

from importlib import resources

from PyQt6.QtGui import QFont, QFontDatabase
from PyQt6.QtWidgets import QApplication

from .palette import Palette

#: The third face only fills in drafting symbols (↧ ⌀) that the others lack.
TEXT, FIGURES, SYMBOLS = "Inter", "Lathed Figures", "Lathed Sheet"


def load_fonts() -> None:
    """Make the shipped fonts known to Qt."""
    folder = resources.files("lathed_solid") / "fonts"
    for item in folder.iterdir():
        if item.name.endswith((".otf", ".ttf")):
            QFontDatabase.addApplicationFontFromData(item.read_bytes())


def text_font(size: float = 10, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The text face in points, scaled with the program's text size."""
    font = QFont([TEXT, SYMBOLS])
    font.setPointSizeF(size * _scale())
    font.setWeight(weight)
    return font


def figure_font(size: float = 10, bold: bool = False) -> QFont:
    """The face for numbers, in which all digits are equally wide."""
    font = QFont([FIGURES, SYMBOLS])
    font.setPointSizeF(size * _scale())
    font.setBold(bold)
    return font


def _scale() -> float:
    app = QApplication.instance()
    return float(app.property("textScale") or 1.0) if app else 1.0


def _arrow() -> str:
    """A file path the style sheet can load (style sheets cannot take tinted pixmaps)."""
    return str(resources.files(__package__) / "icons" / "arrow.svg").replace("\\", "/")


def style_sheet(p: Palette) -> str:
    """The whole program's style sheet."""
    s = _scale()
    return "".join(part(p, s) for part in (_ground, _buttons, _over_the_plate, _lists, _bars, _tabs_and_ticks, _bar))


def _ground(p: Palette, s: float) -> str:
    return f"""
* {{ font-family: "{TEXT}", "{SYMBOLS}"; font-size: {9.5 * s:.1f}pt; color: {p.ink}; }}
QMainWindow, QDialog {{ background: {p.paper}; }}
QWidget#panel, QWidget#sheet, QScrollArea, QScrollArea > QWidget > QWidget {{ background: {p.panel}; }}
QLabel#title {{ font-weight: 600; font-size: {10 * s:.1f}pt; }}
QLabel#faint {{ color: {p.faint}; font-size: {8.5 * s:.1f}pt; }}
QLabel#bad {{ color: {p.out}; font-size: {8.5 * s:.1f}pt; }}
QLabel#warn {{ color: {p.warn}; font-size: {8.5 * s:.1f}pt; }}
QLabel#figures {{ font-family: "{FIGURES}", "{SYMBOLS}"; }}
QLabel#mass {{ font-family: "{FIGURES}", "{SYMBOLS}"; font-size: {16 * s:.1f}pt; font-weight: bold; }}
QToolTip {{ background: {p.bar}; color: {p.bar_ink}; border: none; padding: 4px; }}
QLineEdit, QPlainTextEdit, QComboBox, QDoubleSpinBox {{ background: {p.raised}; border: 1px solid {p.rule};
  border-radius: 4px; padding: 3px 6px; selection-background-color: {p.brass}; selection-color: {p.raised}; }}
QLineEdit#formula {{ font-family: "{FIGURES}", "{SYMBOLS}"; }}
QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus, QDoubleSpinBox:focus {{ border: 2px solid {p.brass};
  padding: 2px 5px; }}
QLineEdit[bad="true"] {{ border: 2px solid {p.out}; padding: 2px 5px; }}
QComboBox QAbstractItemView {{ background: {p.raised}; selection-background-color: {p.brass_wash};
  selection-color: {p.ink}; border: 1px solid {p.rule}; }}
QProgressBar {{ background: {p.raised}; border: 1px solid {p.rule}; border-radius: 3px; }}
QProgressBar::chunk {{ background: {p.brass}; border-radius: 2px; }}
QComboBox::drop-down {{ border: none; width: 20px; }}
QComboBox::down-arrow {{ image: url("{_arrow()}"); width: 12px; height: 12px; }}
"""


def _buttons(p: Palette, s: float) -> str:
    return f"""
QPushButton, QToolButton {{ background: {p.raised}; border: 1px solid {p.rule}; border-radius: 4px;
  padding: 4px 10px; }}
QToolButton {{ padding: 4px; }}
QPushButton:hover, QToolButton:hover {{ border-color: {p.brass}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.brass}; padding: 3px 9px; }}
QToolButton:focus {{ padding: 3px; }}
QPushButton:pressed, QPushButton:checked, QToolButton:pressed, QToolButton:checked {{ background: {p.brass_wash};
  border-color: {p.brass}; }}
QPushButton:disabled, QToolButton:disabled {{ color: {p.rule}; }}
QToolButton#over {{ border-radius: 0; }}
QToolButton#group {{ padding-right: 13px; }}
QToolButton#group::menu-button {{ border: none; width: 12px; }}
QToolButton#group::menu-arrow {{ image: url("{_arrow()}"); width: 8px; height: 8px; }}
"""


def _over_the_plate(p: Palette, s: float) -> str:
    return f"""
QFrame#cursorfields {{ background: {p.bar}; border: 1px solid {p.gold}; border-radius: 4px; }}
QFrame#cursorfields QLabel {{ color: {p.bar_ink}; font-size: {8 * s:.1f}pt; background: transparent; }}
QFrame#cursorfields QLineEdit {{ background: {p.bar_field}; color: {p.bar_ink}; border: 1px solid {p.rule};
    border-radius: 3px; padding: 1px 4px; font-family: "{FIGURES}", "{SYMBOLS}"; font-size: {9 * s:.1f}pt; }}
QFrame#cursorfields QLineEdit:focus {{ border: 1px solid {p.gold}; }}
QPushButton#tag {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.brass}; border-radius: 3px;
  padding: 1px 6px; font-family: "{FIGURES}", "{SYMBOLS}"; font-size: {8 * s:.1f}pt; }}
QLabel#pin {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.brass}; border-radius: 3px;
  padding: 1px 5px; font-family: "{FIGURES}", "{SYMBOLS}"; font-size: {8 * s:.1f}pt; }}
QPushButton#tag:focus {{ border: 2px solid {p.brass}; }}
QWidget#cutting {{ background: {p.panel}; border: 1px solid {p.rule}; }}
QLabel#over {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.rule}; padding: 3px 8px;
  font-size: {8.5 * s:.1f}pt; }}
QPushButton#quiet, QToolButton#quiet {{ background: transparent; border: 1px solid transparent; padding: 3px 4px; }}
QPushButton#quiet:hover, QToolButton#quiet:hover {{ border-color: {p.rule}; }}
QPushButton#quiet:focus, QToolButton#quiet:focus {{ border: 2px solid {p.brass}; }}
"""


def _lists(p: Palette, s: float) -> str:
    return f"""
QMenu {{ background: {p.raised}; border: 1px solid {p.rule}; padding: 4px; }}
QMenu::item {{ padding: 5px 24px 5px 12px; border-radius: 3px; }}
QMenu::item:selected {{ background: {p.brass_wash}; }}
QMenu::item:disabled {{ color: {p.rule}; }}
QSplitter::handle {{ background: {p.rule}; }}
QSplitter::handle:horizontal {{ width: 1px; }}
QSplitter::handle:vertical {{ height: 3px; }}
QListView, QTableView, QTableWidget {{ background: {p.panel}; border: none; outline: none;
  gridline-color: {p.rule}; alternate-background-color: {p.paper}; }}
QListWidget::item {{ padding: 3px 6px; }}
QListWidget::item:selected {{ background: {p.brass_wash}; color: {p.ink}; }}
QFrame#popup {{ background: {p.panel}; border: 1px solid {p.rule}; border-radius: 4px; }}
QTableView::item:selected, QTableWidget::item:selected {{ background: {p.brass_wash}; color: {p.ink}; }}
QTableView::item:focus {{ border: 1px solid {p.brass}; }}
QHeaderView::section {{ background: {p.paper}; color: {p.faint}; border: none;
  border-bottom: 1px solid {p.rule}; border-right: 1px solid {p.rule}; padding: 4px 6px; }}
QTableCornerButton::section {{ background: {p.paper}; border: none; }}
"""


def _bars(p: Palette, s: float) -> str:
    return f"""
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
QScrollBar::handle {{ background: {p.rule}; border-radius: 4px; min-height: 24px; min-width: 24px; margin: 1px; }}
QScrollBar::handle:hover {{ background: {p.faint}; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QSlider::groove:horizontal {{ height: 4px; background: {p.rule}; border-radius: 2px; }}
QSlider::sub-page:horizontal {{ background: {p.brass}; border-radius: 2px; }}
QSlider::handle:horizontal {{ width: 12px; margin: -6px 0; background: {p.raised}; border: 1px solid {p.brass};
  border-radius: 4px; }}
QSlider::handle:horizontal:focus {{ border: 2px solid {p.brass}; }}
"""


def _tabs_and_ticks(p: Palette, s: float) -> str:
    return f"""
QTabWidget::pane {{ border: none; background: {p.panel}; }}
QTabBar {{ background: {p.paper}; }}
QTabBar::tab {{ background: transparent; color: {p.faint}; padding: 6px 12px; border: none;
  border-bottom: 2px solid transparent; }}
QTabBar::tab:selected {{ color: {p.ink}; font-weight: 600; border-bottom: 2px solid {p.brass}; }}
QTabBar::tab:focus {{ color: {p.brass}; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {p.faint}; border-radius: 3px;
  background: {p.raised}; }}
QCheckBox::indicator:checked {{ background: {p.brass}; border-color: {p.brass}; }}
QCheckBox:disabled {{ color: {p.rule}; }}
QFrame#rule {{ background: {p.rule}; max-height: 1px; min-height: 1px; border: none; }}
"""


def _bar(p: Palette, s: float) -> str:
    return f"""
QWidget#bar {{ background: {p.bar}; }}
QWidget#bar QLabel {{ color: {p.bar_ink}; }}
QWidget#bar QLineEdit {{ background: {p.bar_field}; color: {p.bar_ink}; border: 1px solid {p.bar_field};
  font-family: "{FIGURES}", "{SYMBOLS}"; font-size: {10.5 * s:.1f}pt; }}
QWidget#bar QLineEdit:focus {{ border: 2px solid {p.gold}; }}
QWidget#bar QLabel#readout {{ font-family: "{FIGURES}", "{SYMBOLS}"; color: {p.gold}; font-size: {11.5 * s:.1f}pt; }}
QWidget#bar QLabel#unit {{ color: {p.bar_ink}; font-family: "{FIGURES}", "{SYMBOLS}"; }}
"""
