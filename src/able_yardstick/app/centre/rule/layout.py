"""Sizes shared by the Rule and the plots, so that one axis stands above the other to the pixel."""

from PySide6.QtWidgets import QWidget

from ..sight import Sight
from .graduations import Ends

GUTTER = 212
TITLE_X = 12
READOUT_X = 128
READOUT_WIDTH = 76
RIGHT = 18
ROW_HEIGHT = 42


def ends_of(widget: QWidget, sight: Sight) -> Ends:
    """The axis across a widget as wide as the centre."""
    return Ends(*sight.view, GUTTER, widget.width() - RIGHT)
