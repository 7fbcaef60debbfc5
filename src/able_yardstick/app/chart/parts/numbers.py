"""The same log with other numbers: old and new together, their difference, the alarms that would have come or not."""

import numpy as np
from pydantic import ValidationError
from PySide6.QtWidgets import QPushButton

from ....core.document.channel import ContinuousChannel
from ....core.journal.sample import Series
from ....core.lookout.other_numbers import FORMULA, numbers_on_offer, values_by
from ....core.lookout.relogging import Relogged
from ....core.words.errors import YardstickError
from ....core.words.numerals import counted, significant
from ....core.words.record import first_complaint
from ....files.log.anew import reckoned_anew
from ....files.log.courses import LogCourses
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, Complaint, TextField, label
from ...panel.figures import FigureRow, FigureTable
from ..state import ChartState, Laid
from ..time_axis import clock_words
from .part import ChartPart

_MOST_SPANS = 6


class NumbersPart(ChartPart):
    """Which channel, which numbers, and what comes of it."""

    def __init__(self, bench: Workbench, state: ChartState) -> None:
        super().__init__(bench, state, "numbers", "With other numbers")
        self._channel, self._key, self._formula = "", "", ""
        self.channel = ChoiceField("Channel", (), self._put_channel)
        self.numbers = ChoiceField("Numbers", (), self._put_numbers)
        self.formula = TextField("Formula", self._put_formula, hint="of x, the signal at the pin", optional=True)
        self.reckon = QPushButton("Reckon it anew")
        self.reckon.clicked.connect(self.try_to_reckon)
        self.complaint, self.says = Complaint(), label("", "", 12)
        self.figures, self.alarms = FigureTable("Old against new"), FigureTable("Alarms gained and lost")
        self.add(self.channel, self.numbers, self.formula, self.reckon, self.complaint, self.figures, self.says)
        self.add(self.alarms)

    def show_now(self, theme: Theme) -> None:
        log = self.state.log
        channels = [] if log is None else _channels(log)
        self.channel.offer([(one.id, one.tag) for one in channels])
        if channels and self._channel not in {one.id for one in channels}:
            self._channel = channels[0].id
        chosen = next((one for one in channels if one.id == self._channel), None)
        offered = [] if log is None or chosen is None else numbers_on_offer(log.job, chosen)
        self.numbers.offer([(one.key, one.words) for one in offered])
        if offered and self._key not in {one.key for one in offered}:
            self._key = offered[0].key
        self.channel.show_value(self._channel)
        self.numbers.show_value(self._key)
        for part in (self.channel, self.numbers, self.reckon):
            part.setEnabled(chosen is not None)
        self.formula.setVisible(self._key == FORMULA)
        if not self.state.laid:
            self.figures.show_rows((), (), theme)
            self.alarms.show_rows((), (), theme)
        told = "Open a log: it is reckoned anew from its counts, by the controller's own arithmetic."
        self.says.setText(told if log is None else self._told if self.state.laid else "")
        self._theme = theme

    _told = ""

    def _put_channel(self, channel: str) -> None:
        self._channel = channel
        self.show_now(self._theme)

    def _put_numbers(self, key: str) -> None:
        self._key = key
        self.show_now(self._theme)

    def _put_formula(self, text: str) -> None:
        self._formula = text

    def try_to_reckon(self) -> None:
        """Reckon the stretch anew and lay it over the chart; a refusal stands below."""
        log = self.state.log
        if log is None:
            return
        try:
            channel = log.job.continuous(self._channel)
            found = reckoned_anew(
                log.log, channel, values_by(log.job, channel, self._key, self._formula), *self.state.sight.stretch_s
            )
        except ValidationError as error:
            self.complaint.setText(first_complaint(error))
            return
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self._told = "" if found.doubt is None else (
            "Only what was shown was logged: each value is taken back to the counts that show it, which leaves up to "
            f"± {significant(float(found.doubt.max()), 2)} {channel.unit}."
        )  # fmt: skip
        self._show(log, channel, found)
        old, new, gap = (Series.of(found.times_s, one) for one in (found.old, found.new, found.difference))
        unit = channel.unit
        self.state.lay(
            Laid(f"{channel.tag} old numbers", unit, old), Laid(f"{channel.tag} new numbers", unit, new),
            Laid("new − old", f"\u200b{unit}", gap),
        )  # fmt: skip

    def _show(self, log: LogCourses, channel: ContinuousChannel, found: Relogged) -> None:
        rows = [
            FigureRow(words, *(significant(number, 5) for number in (one.min(), one.mean(), one.max())))
            for words, one in (("old", found.old), ("new", found.new), ("new − old", found.difference))
        ]
        self.figures.show_rows((channel.unit, "least", "mean", "largest"), rows, self._theme)
        spans = [("comes", one) for one in found.gained] + [("comes not", one) for one in found.lost]
        told = [
            FigureRow(f"{span.kind} alarm {what}", clock_words(log.wall_s(span.start_s)),
                      clock_words(log.wall_s(span.end_s)))
            for what, span in spans[:_MOST_SPANS]
        ]  # fmt: skip
        more = len(spans) - len(told)
        if not spans and channel.alarms:
            told = [FigureRow("The alarms come as they came.", "", "")]
        head = (f"and {counted(more, 'more')}" if more > 0 else "", "from", "to") if spans else ("", "", "")
        self.alarms.show_rows(head, told, self._theme)
        self.show_summary(f"{channel.tag}: {significant(float(np.abs(found.difference).max()), 2)} at most")


def _channels(log: LogCourses) -> list[ContinuousChannel]:
    """The channels of which counts or shown values were logged."""
    ids = {one.feed.channel for one in log.log.series() if one.feed.role in ("raw", "shown")}
    return [one for one in log.job.channels if one.id in ids and isinstance(one, ContinuousChannel)]
