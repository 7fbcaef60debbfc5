"""What was seen of a contact over its visits: a row for each step that was rehearsed, a mark at each visit."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from ...core.drift.visit import Visit
from ..frame.painting import write
from ..frame.state_mark import draw_state
from ..frame.theme import Theme

ROW = 24.0
_MARKS = {True: "ok", False: "fault", None: "open"}


def steps_seen(visits: Sequence[Visit]) -> tuple[str, ...]:
    """The steps of all visits, in the order in which they were first rehearsed."""
    return tuple(dict.fromkeys(step for visit in visits for step, _answer in visit.seen or ()))


def paint_seen(painter: QPainter, theme: Theme, visits: Sequence[Visit], places: Sequence[float], at: QRectF) -> None:
    """Paint the rows from a corner on; `places` are the visits' own, across. What a visit did not try has no mark."""
    for row, step in enumerate(steps_seen(visits)):
        y = at.top() + row * ROW
        write(painter, theme, QRectF(at.left(), y, at.width(), ROW), step, "muted")
        for visit, x in zip(visits, places, strict=True):
            answers = dict(visit.seen or ())
            if step in answers:
                draw_state(painter, theme, _MARKS[answers[step]], QPointF(x, y + ROW / 2), 5)
