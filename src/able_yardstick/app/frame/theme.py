"""Colours, fonts and the style sheet of the two themes."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Literal

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

ThemeName = Literal["day", "night"]
SMALLEST_PX = 11


@dataclass(frozen=True)
class Theme:
    """Colours by what they are for. Text colours stand out from `paper` and `desk` by at least 4.5 to 1."""

    name: ThemeName
    desk: str
    paper: str
    gutter: str
    ink: str
    muted: str
    line: str
    faint: str
    accent: str
    accent_fill: str
    teal: str
    blue: str
    red: str
    green: str
    amber: str
    allowed: str
    primary: str
    primary_ink: str

    def color(self, name: str, alpha: int = 255) -> QColor:
        """A colour by its field's name."""
        color = QColor(getattr(self, name))
        color.setAlpha(alpha)
        return color


DAY = Theme(
    name="day", desk="#F5F2EA", paper="#FFFEF9", gutter="#EEE9DD", ink="#1F282D", muted="#565F66", line="#CFC7B5",
    faint="#E6E1D5", accent="#9A6410", accent_fill="#F4E8CC", teal="#10746D", blue="#2C4E8C", red="#B3352A",
    green="#2B6B24", amber="#D18400", allowed="#DCEBD5", primary="#1F2A30", primary_ink="#FFFDF6",
)  # fmt: skip
NIGHT = Theme(
    name="night", desk="#191F22", paper="#20272B", gutter="#2A3237", ink="#F1EADB", muted="#A9B1B5", line="#434C51",
    faint="#30383C", accent="#E5AC4B", accent_fill="#3B301D", teal="#55C8BC", blue="#93B7F5", red="#FF7769",
    green="#86CB74", amber="#F0A62F", allowed="#2A3B2F", primary="#F1E9D6", primary_ink="#1B2225",
)  # fmt: skip
THEMES: dict[ThemeName, Theme] = {"day": DAY, "night": NIGHT}


def font(size: int = 13, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The interface font at a size in pixels, its figures all of one width."""
    made = QFont(_family())
    made.setPixelSize(max(size, SMALLEST_PX))
    made.setWeight(weight)
    made.setFeature(QFont.Tag("tnum"), 1)
    return made


@cache
def _family() -> str:
    return "Inter" if QFontDatabase.hasFamily("Inter") else "DejaVu Sans"


def bold(size: int = 13) -> QFont:
    """The semi-bold cut."""
    return font(size, QFont.Weight.DemiBold)


def dress(application: QApplication, theme: Theme) -> None:
    """Give the whole application a theme."""
    application.setFont(font())
    application.setPalette(_palette(theme))
    application.setStyleSheet(style_sheet(theme))


def _palette(theme: Theme) -> QPalette:
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: theme.desk,
        QPalette.ColorRole.Base: theme.paper,
        QPalette.ColorRole.AlternateBase: theme.desk,
        QPalette.ColorRole.Button: theme.paper,
        QPalette.ColorRole.Text: theme.ink,
        QPalette.ColorRole.WindowText: theme.ink,
        QPalette.ColorRole.ButtonText: theme.ink,
        QPalette.ColorRole.ToolTipBase: theme.paper,
        QPalette.ColorRole.ToolTipText: theme.ink,
        QPalette.ColorRole.PlaceholderText: theme.muted,
        QPalette.ColorRole.Highlight: theme.accent_fill,
        QPalette.ColorRole.HighlightedText: theme.ink,
    }
    for role, color in roles.items():
        palette.setColor(role, QColor(color))
    return palette


def style_sheet(theme: Theme) -> str:
    """The look of every standard widget: at rest, hovered, focused, disabled and wrong."""
    t = theme
    icons = (Path(__file__).parent / "icons").as_posix()
    return f"""
QMainWindow, QDialog, #desk {{ background: {t.desk}; }}
QWidget#bar, QWidget#status, QWidget#panel {{ background: {t.paper}; }}
QWidget#bar {{ border-bottom: 1px solid {t.line}; }}
QWidget#status {{ border-top: 1px solid {t.line}; }}
QWidget#panel {{ border-left: 1px solid {t.line}; }}
QWidget#actions {{ background: {t.paper}; border-top: 1px solid {t.line}; }}
QFrame#card {{ background: {t.paper}; border: 1px solid {t.line}; border-radius: 6px; }}
QFrame#note {{ background: {t.gutter}; border: 1px solid {t.line}; border-radius: 5px; }}
QFrame#separator {{ background: {t.line}; max-height: 1px; border: none; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QLabel {{ background: transparent; }}
QLabel[role="muted"] {{ color: {t.muted}; }}
QLabel[role="error"] {{ color: {t.red}; }}
QLabel[role="good"] {{ color: {t.green}; }}
QLabel[role="look"] {{ color: {t.accent}; }}
QLabel[role="signal"] {{ color: {t.teal}; }}
QLineEdit, QComboBox, QPlainTextEdit, QSpinBox {{
  background: {t.paper}; color: {t.ink}; border: 1px solid {t.line}; border-radius: 5px; padding: 3px 7px;
  selection-background-color: {t.accent_fill}; selection-color: {t.ink}; min-height: 20px; }}
QLineEdit:hover, QComboBox:hover, QSpinBox:hover {{ border-color: {t.muted}; }}
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus, QSpinBox:focus {{
  border: 2px solid {t.accent}; padding: 2px 6px; }}
QLineEdit:disabled, QComboBox:disabled {{ color: {t.muted}; background: {t.gutter}; }}
QLineEdit[wrong="true"] {{ border: 2px solid {t.red}; padding: 2px 6px; }}
QLineEdit#readout {{ background: {t.paper}; border: 1px solid {t.line}; padding: 0 4px; min-height: 18px; }}
QLineEdit#readout:focus {{ border: 2px solid {t.accent}; padding: 0 3px; }}
QLineEdit#readout[wrong="true"] {{ border: 2px solid {t.red}; padding: 0 3px; }}
QComboBox::drop-down {{ border: none; width: 20px; }}
QComboBox::down-arrow {{ image: url({icons}/arrow-{t.name}.svg); width: 10px; height: 6px; margin-right: 8px; }}
QComboBox {{ combobox-popup: 0; }}
QComboBox QAbstractItemView, QComboBox QAbstractItemView:focus {{ background: {t.paper}; color: {t.ink};
  border: 1px solid {t.line}; outline: none; selection-background-color: {t.accent_fill};
  selection-color: {t.ink}; }}
QPushButton, QToolButton {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.line}; border-radius: 5px;
  padding: 5px 12px; min-height: 18px; }}
QPushButton:hover, QToolButton:hover {{ background: {t.gutter}; border-color: {t.muted}; }}
QPushButton:pressed {{ background: {t.accent_fill}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {t.accent}; padding: 4px 11px; }}
QPushButton:disabled, QToolButton:disabled {{ color: {t.muted}; background: {t.gutter}; border-color: {t.faint}; }}
QPushButton#tile {{ text-align: left; padding: 8px 14px; }}
QPushButton#tile:focus {{ padding: 7px 13px; }}
QPushButton#primary {{ background: {t.primary}; color: {t.primary_ink}; border-color: {t.primary}; padding: 8px 12px; }}
QPushButton#primary:hover {{ background: {t.muted}; }}
QPushButton#primary:focus {{ border: 2px solid {t.accent}; padding: 7px 11px; }}
QPushButton#primary:disabled {{ background: {t.gutter}; color: {t.muted}; border-color: {t.line}; }}
QToolButton {{ padding: 4px 8px; }}
QToolButton[live="true"] {{ border-color: {t.teal}; }}
QToolButton:focus {{ padding: 3px 7px; }}
QToolButton:checked {{ background: {t.accent_fill}; border-color: {t.accent}; }}
QToolButton#flat {{ border-color: transparent; background: transparent; }}
QToolButton#small {{ border-color: transparent; background: transparent; padding: 1px 5px; min-height: 16px; }}
QToolButton#small:hover {{ background: {t.gutter}; }}
QToolButton#small:focus {{ border: 2px solid {t.accent}; padding: 0 4px; }}
QToolButton#flat:hover {{ background: {t.gutter}; }}
QToolButton#flat:focus {{ border: 2px solid {t.accent}; }}
QToolButton::menu-indicator {{ image: none; }}
QRadioButton, QCheckBox {{ spacing: 7px; background: transparent; }}
QRadioButton::indicator, QCheckBox::indicator {{ width: 12px; height: 12px; border: 1px solid {t.muted};
  background: {t.paper}; }}
QRadioButton::indicator {{ border-radius: 7px; }}
QCheckBox::indicator {{ border-radius: 3px; }}
QRadioButton::indicator:checked, QCheckBox::indicator:checked {{ background: {t.accent}; border-color: {t.accent}; }}
QRadioButton::indicator:checked {{ image: url({icons}/dot-{t.name}.svg); }}
QCheckBox::indicator:checked {{ image: url({icons}/tick-{t.name}.svg); }}
QRadioButton::indicator:disabled {{ background: {t.gutter}; border-color: {t.line}; }}
QRadioButton:disabled {{ color: {t.muted}; }}
QRadioButton:focus, QCheckBox:focus {{ color: {t.accent}; }}
QMenu {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.line}; padding: 4px; }}
QMenu::item {{ padding: 5px 22px 5px 12px; border-radius: 4px; }}
QMenu::item:selected {{ background: {t.accent_fill}; }}
QMenu::item:disabled {{ color: {t.muted}; }}
QMenu::separator {{ height: 1px; background: {t.line}; margin: 4px 6px; }}
QTableView, QListView {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.line}; border-radius: 5px;
  gridline-color: {t.faint}; selection-background-color: {t.accent_fill}; selection-color: {t.ink}; outline: none; }}
QTableView:focus, QListView:focus {{ border: 1px solid {t.accent}; }}
QTableView QLineEdit {{ border-radius: 0; padding: 0 2px; min-height: 0; }}
QTreeWidget#commands {{ background: {t.paper}; color: {t.ink}; border: none; outline: none;
  selection-background-color: {t.accent_fill}; selection-color: {t.ink}; }}
QTreeWidget#commands::item {{ padding: 3px 6px; }}
QTreeWidget#commands::item:selected {{ background: {t.accent_fill}; color: {t.ink}; }}
QTreeWidget#commands::item:disabled {{ color: {t.muted}; }}
QHeaderView {{ background: {t.paper}; }}
QHeaderView::section {{ background: {t.gutter}; color: {t.muted}; border: none; border-bottom: 1px solid {t.line};
  padding: 4px 5px; }}
QHeaderView::section:hover {{ color: {t.ink}; }}
QTableCornerButton::section {{ background: {t.gutter}; border: none; }}
QSplitter::handle {{ background: {t.line}; }}
QSplitter::handle:hover {{ background: {t.accent}; }}
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
QScrollBar::handle {{ background: {t.line}; border-radius: 4px; min-height: 28px; min-width: 28px; margin: 1px; }}
QScrollBar::handle:hover {{ background: {t.muted}; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QToolTip {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.line}; padding: 4px; }}
"""
