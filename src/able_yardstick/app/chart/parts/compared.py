"""Two sensors of one quantity over the stretch: difference, trend, lag, when they began to part, which is suspect."""

import numpy as np
from PySide6.QtWidgets import QPushButton

from ....core.journal.sample import Series
from ....core.lookout.courses import Courses, TraceName
from ....core.lookout.pairs import PairResult, compare_pair
from ....core.lookout.parting import CONFIDENCE
from ....core.lookout.suspects import Sensed, suspect_of, suspicions
from ....core.lookout.watchable import in_unit_of, watchable
from ....core.words.errors import YardstickError
from ....core.words.numerals import significant
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, Complaint, label
from ...panel.figures import FigureRow, FigureTable
from ..state import ChartState, Laid
from ..time_axis import clock_words
from .part import ChartPart

_ROLES = ("value", "made")
_MOST_THIRDS = 8
_TOLD = 0.5  # of a sample's step: a shorter lag is none


class ComparedPart(ChartPart):
    """Which two, and what the stretch says of them."""

    def __init__(self, bench: Workbench, state: ChartState) -> None:
        super().__init__(bench, state, "pair", "Two sensors compared")
        self._first, self._second = "", ""
        self.first = ChoiceField("First", (), self._put_first)
        self.second = ChoiceField("Second", (), self._put_second)
        self.compare = QPushButton("Compare them")
        self.compare.clicked.connect(self.try_to_compare)
        self.complaint, self.says = Complaint(), label("", "", 12)
        self.evidence = FigureTable("Which is suspect")
        self.add(self.first, self.second, self.compare, self.complaint, self.says, self.evidence)

    def show_now(self, theme: Theme) -> None:
        self._theme = theme
        values = [one for one in self.state.traces if one.role in _ROLES]
        choices = [(one.id, f"{one.tag}, {one.unit}") for one in values]
        ids = [one.id for one in values]
        stated = () if self.state.courses is None else self.state.courses.job.watch.pairs
        pair = next((one.channels for one in stated if set(one.channels) <= set(ids)), ids[:2])
        if self._first not in ids or self._second not in ids:
            self._first, self._second = (pair[0], pair[1]) if len(pair) > 1 else ("", "")
        for field, chosen in ((self.first, self._first), (self.second, self._second)):
            field.offer(choices)
            field.show_value(chosen)
            field.setEnabled(len(ids) > 1)
        self.compare.setEnabled(len(ids) > 1)

    def _put_first(self, channel: str) -> None:
        self._first = channel

    def _put_second(self, channel: str) -> None:
        self._second = channel

    def try_to_compare(self) -> None:
        """Compare the two over the stretch; a refusal stands below."""
        courses = self.state.courses
        if courses is None:
            return
        try:
            self._compare(courses)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")

    def _compare(self, courses: Courses) -> None:
        job, stretch = courses.job, self.state.sight.stretch_s
        first, second = watchable(job, self._first), watchable(job, self._second)
        values = [_read(courses, self._trace(one), stretch) for one in (self._first, self._second)]
        values[1] = values[1].scaled(in_unit_of(first, second.unit, values[1].values))
        found = compare_pair(values[0], values[1])
        others = [one for one in self.state.traces if one.role == "value" and one.id not in (first.id, second.id)]
        thirds = {one.tag: _read(courses, one, stretch) for one in others[:_MOST_THIRDS]}
        rows = suspicions(job, Sensed(first, values[0]), Sensed(second, values[1]), thirds)
        self.says.setText(_sentences(courses, found, (first.tag, second.tag), first.unit, suspect_of(rows)))
        table = [
            FigureRow(row.evidence, row.against, note=f"{first.tag}: {row.first}. {second.tag}: {row.second}.",
                      heavy=bool(row.against))
            for row in rows
        ]  # fmt: skip
        self.evidence.show_rows(("evidence", "against"), table, self._theme)
        self.show_summary(f"{significant(found.mean, 2)} {first.unit} on the mean")
        gap = Series.of(found.course.times_s, found.course.difference)
        self.state.lay(Laid(f"{second.tag} − {first.tag}", f"\u200b{first.unit}", gap))

    def _trace(self, channel_id: str) -> TraceName:
        return next(one for one in self.state.traces if one.id == channel_id and one.role in _ROLES)


def _read(courses: Courses, trace: TraceName, stretch_s: tuple[float, float]) -> Series:
    return courses.read(trace, *stretch_s)


def _sentences(courses: Courses, found: PairResult, tags: tuple[str, str], unit: str, suspect: str) -> str:
    """What the stretch says, in sentences."""
    side = "more" if found.mean > 0 else "less"
    told = [f"{tags[1]} reads {significant(abs(found.mean), 2)} {unit} {side} than {tags[0]} on the mean, "
            f"spread {significant(found.spread, 2)}; {_signed(found.trend)} {unit} an hour "
            f"± {significant(2 * found.trend_doubt, 2)}."]  # fmt: skip
    if found.lag_s is not None and abs(found.lag_s) > _TOLD * float(np.median(np.diff(found.course.times_s))):
        late, early = (tags[1], tags[0]) if found.lag_s > 0 else (tags[0], tags[1])
        told.append(f"{late} follows {early} by {significant(abs(found.lag_s), 2)} s, which is taken into account.")
    parting = found.parting
    if parting is None:
        told.append("Nothing tells that they began to part in it.")
    else:
        at, low, high = (clock_words(courses.wall_s(one)) for one in (parting.at_s, parting.low_s, parting.high_s))
        told.append(
            f"They began to part at {at} (between {low} and {high}, {CONFIDENCE:.0%}), by a {parting.course} of "
            f"{_signed(parting.size)} {unit}."
        )
    told.append(f"{suspect} is suspect." if suspect else "Nothing tells which of the two is wrong.")
    return " ".join(told)


def _signed(number: float) -> str:
    return f"{'+' if number > 0 else '−'}{significant(abs(number), 2)}"
