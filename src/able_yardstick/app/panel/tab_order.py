"""Where Tab goes in a panel: as the eye does, row by row, whenever its parts were made."""

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QWidget

_ROW_PX = 12  # what has its middle so near stands in one row


def tab_on(panel: QWidget, parts: Sequence[QWidget], focused: QWidget | None, forward: bool) -> bool:
    """Move the focus on from one widget in a panel, one part after the other; behind the last one, out of it.

    Gives whether it moved.
    """
    order = [one for part in parts for one in _by_sight(part)]
    if focused is None or focused not in order:
        return False
    at = order.index(focused) + (1 if forward else -1)
    to = order[at] if 0 <= at < len(order) else _outside(panel, focused, forward)
    if to is None:
        return False
    to.setFocus(Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason)
    return True


def _by_sight(part: QWidget) -> list[QWidget]:
    tabbed = [one for one in part.findChildren(QWidget) if _takes(one)]
    middles = [(one.mapTo(part, QPoint(0, one.height() // 2)), one) for one in tabbed]
    rows: list[list[tuple[int, QWidget]]] = []
    top = 0
    for where, one in sorted(middles, key=lambda pair: pair[0].y()):
        if not rows or where.y() > top + _ROW_PX:
            rows.append([])
            top = where.y()
        rows[-1].append((where.x(), one))
    return [one for row in rows for _, one in sorted(row, key=lambda pair: pair[0])]


def _takes(widget: QWidget) -> bool:
    tabbed = bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
    return tabbed and widget.isVisible() and widget.isEnabled() and widget.focusProxy() is None


def _outside(panel: QWidget, focused: QWidget, forward: bool) -> QWidget | None:
    """The nearest widget of the window's own order that is not in the panel."""
    step: Callable[[QWidget], QWidget | None] = QWidget.nextInFocusChain if forward else QWidget.previousInFocusChain
    one = step(focused)
    while one is not None and one is not focused:
        if _takes(one) and not panel.isAncestorOf(one) and one.window() is panel.window():
            return one
        one = step(one)
    return None
