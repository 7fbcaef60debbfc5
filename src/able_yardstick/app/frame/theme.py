"""Colours, fonts and the style sheet of the two themes."""

from dataclasses import asdict, dataclass
from functools import cache
from pathlib import Path
from string import Template
from typing import Literal

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

ThemeName = Literal["day", "night"]
SMALLEST_PX = 12
_HERE = Path(__file__).parent


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
        return QColor(_color(getattr(self, name), alpha))


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
    return QFont(_font(max(size, SMALLEST_PX), weight))


@cache
def _font(size: int, weight: QFont.Weight) -> QFont:
    made = QFont(_family())
    made.setPixelSize(size)
    made.setWeight(weight)
    made.setFeature(QFont.Tag("tnum"), 1)
    return made


@cache
def _color(text: str, alpha: int) -> QColor:
    color = QColor(text)
    color.setAlpha(alpha)
    return color


@cache
def _family() -> str:
    return "Inter" if QFontDatabase.hasFamily("Inter") else "DejaVu Sans"


def bold(size: int = 13) -> QFont:
    """The semi-bold cut."""
    return font(size, QFont.Weight.DemiBold)


def dress(application: QApplication, theme: Theme) -> None:
    """Give the whole application a theme's font and colours; `style_sheet` is the window's."""
    application.setFont(font())
    application.setPalette(_palette(theme))


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
    icons = (_HERE / "icons").as_posix()
    return Template((_HERE / "style.qss").read_text("utf-8")).substitute(asdict(theme), icons=icons)
