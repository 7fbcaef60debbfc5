"""Forms laid out from rows: every row is about a property of its record, and what is typed reaches it."""

import pytest
from acting import enter, go, scroll_bar
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtGui import QFontMetricsF, QImage, QPainter

from able_yardstick.app.centre.rule.graduations import Ends, graduate
from able_yardstick.app.frame.theme import THEMES, font
from able_yardstick.app.panel.fields import Complaint
from able_yardstick.app.panel.record_form import FieldRow, RecordForm
from able_yardstick.app.steps.describe.constant import lines_of_fields, lines_of_inputs, read_fields, read_inputs
from able_yardstick.app.steps.describe.contact import _PULL_UP
from able_yardstick.app.steps.describe.rating_rows import RATING_ROWS
from able_yardstick.app.steps.describe.transducer import _LIMITS
from able_yardstick.app.steps.wire.panel import _LANDING_ROWS
from able_yardstick.app.steps.wire.stage_rows import CONVERTER_ROWS, STAGE_ROWS
from able_yardstick.app.steps.wire.symbols import SYMBOLS, Pen
from able_yardstick.core.document.controller import Landing
from able_yardstick.core.document.register_constant import BitField, NamedInput
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.sensor.rating import RATING_KINDS, RatedTable, TwoPoints, Unrated
from able_yardstick.core.sensor.transducer import Transducer
from able_yardstick.core.stages import STAGE_KINDS, Amplifier, Divider, PulsePullUp, Shunt
from able_yardstick.core.state.scales import scales_of, signals_of
from able_yardstick.core.words.errors import BadTable

ROWS = [
    *((kind, row) for kind, rows in {**STAGE_ROWS, **RATING_ROWS}.items() for row in rows),
    *((Converter, row) for row in CONVERTER_ROWS),
    *((Transducer, row) for row in _LIMITS),
    *((PulsePullUp, row) for row in _PULL_UP),
    *((Landing, row) for row in _LANDING_ROWS),
]


@pytest.mark.parametrize(
    ("record", "row"), ROWS, ids=lambda part: getattr(part, "title", getattr(part, "__name__", ""))
)
def test_every_row_is_about_properties_its_record_has(record, row):
    assert set(row.names) <= set(record.model_fields)
    assert row.title
    optional = [record.model_fields[name].default is None for name in row.names]
    assert not any(optional) or row.optional, "what may be unknown can be left empty"


def test_every_stage_and_every_rating_with_figures_has_its_rows():
    assert set(STAGE_ROWS) == set(STAGE_KINDS)
    own = {TwoPoints, RatedTable, Unrated}
    assert set(RATING_ROWS) | own == set(RATING_KINDS)


def form_of(qtbot, rows, record):
    """A form on a record, and the record as the form changes it."""
    held = [record]

    def put(changes):
        held[0] = held[0].with_(**changes)

    form = RecordForm(rows, put)
    qtbot.addWidget(form)
    form.show()
    form.show_record(record, pin="V")
    return form, held


@pytest.mark.parametrize(
    ("rows", "record", "name", "texts", "found"),
    [
        (STAGE_ROWS[Shunt], Shunt(), "resistance_ohm", ("1 200,5",), {"resistance_ohm": 1200.5}),
        (STAGE_ROWS[Divider], Divider(), "top_ohm", ("1e5", "2200"), {"top_ohm": 1e5, "bottom_ohm": 2200}),
        (STAGE_ROWS[Amplifier], Amplifier(), "zero_v", ("-0.5", "0.01"), {"zero_v": -0.5, "zero_tolerance_v": 0.01}),
        (CONVERTER_ROWS, Converter(), "bits", ("16", "32000"), {"bits": 16, "full_count": 32000}),
        (CONVERTER_ROWS, Converter(input_ohm=5.0), "input_ohm", ("",), {"input_ohm": None}),
        (CONVERTER_ROWS, Converter(), "safe_low_v", ("", "6"), {"safe_low_v": None, "safe_high_v": 6}),
    ],
)
def test_what_is_typed_reaches_the_record(qtbot, rows, record, name, texts, found):
    form, held = form_of(qtbot, rows, record)
    enter(qtbot, form.fields[name], *texts)
    assert form.fields[name].error == ""
    assert {key: getattr(held[0], key) for key in found} == found


def test_a_refusal_of_the_record_stands_under_its_field_and_changes_nothing(qtbot):
    form, held = form_of(qtbot, STAGE_ROWS[Shunt], Shunt())
    enter(qtbot, form.fields["resistance_ohm"], "-5")
    assert "greater than 0" in form.fields["resistance_ohm"].error
    assert held[0] == Shunt()


def test_a_row_that_does_not_apply_is_not_shown(qtbot):
    form, held = form_of(qtbot, STAGE_ROWS[Amplifier], Amplifier())
    assert form.fields["stated_gain"].isVisible()
    assert not form.fields["law_a"].isVisible()
    enter(qtbot, form.fields["resistor"], "100")
    form.show_record(held[0])
    assert form.fields["law_a"].isVisible()
    assert not form.fields["stated_gain"].isVisible()


def test_a_tick_that_is_refused_goes_back(qtbot):
    def refuse(_changes):
        raise BadTable("Not now.")

    form = RecordForm((FieldRow("shared", ("shares_supply",), kind="tick"),), refuse)
    qtbot.addWidget(form)
    form.show_record(Converter())
    form.fields["shares_supply"].box.click()
    assert not form.fields["shares_supply"].box.isChecked()
    assert form.fields["shares_supply"].error == "Not now."


def test_an_arrow_points_at_its_character_in_letters_of_one_width(qtbot):
    complaint = Complaint()
    qtbot.addWidget(complaint)
    complaint.setText("Expected a bracket.\n2 * (3 < 4\n       ▲")
    assert complaint.text() == "Expected a bracket.\n2 * (3 < 4\n       ▲"
    from PySide6.QtWidgets import QLabel

    assert "<pre>2 * (3 &lt; 4\n       ▲</pre>" in QLabel.text(complaint)


NAMES = st.from_regex(r"[a-z][a-z_0-9]{0,8}", fullmatch=True)
NUMBERS = st.floats(-1e9, 1e9).map(lambda x: float(f"{x:.9g}"))


@given(st.lists(st.builds(NamedInput, name=NAMES, value=NUMBERS, unit=st.sampled_from(["", "V", "W*h", "ms"]),
                          source=st.sampled_from(["", "plate", "measured, twice"])), max_size=4))  # fmt: skip
def test_inputs_written_as_lines_are_read_back(inputs):
    assert read_inputs("\n".join(lines_of_inputs(inputs))) == tuple(inputs)


@given(st.lists(st.builds(
    BitField, name=NAMES, register_value=st.integers(0, 2**32 - 1), lowest_bit=st.integers(0, 15),
    width=st.integers(1, 16), must_equal=NAMES,
    codes=st.lists(st.tuples(st.integers(0, 9), NUMBERS), min_size=1, max_size=3).map(tuple),
), max_size=3))  # fmt: skip
def test_bit_fields_written_as_lines_are_read_back(fields):
    assert read_fields("\n".join(lines_of_fields(fields))) == tuple(fields)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("gain", "Line 1: expected a line such as “filter code = 0x243 [9:8]"),
        ("\ngain = 0xB4 [4:5] 0=1; gain", "Line 2: the bits run from the higher to the lower, [5:4]"),
        ("gain = 0xB4 [5:4] a=1; gain", "Expected a number, found “a”"),
    ],
)
def test_a_wrong_bit_field_is_refused_with_its_line(text, words):
    with pytest.raises(BadTable) as refusal:
        read_fields(text)
    assert words in str(refusal.value)


# -- what is painted ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda theme: theme.name)
@pytest.mark.parametrize("kind", SYMBOLS)
def test_every_symbol_leaves_ink_between_its_wires(qapp, theme, kind):
    image = QImage(120, 120, QImage.Format.Format_RGB32)
    image.fill(theme.color("paper"))
    painter = QPainter(image)
    SYMBOLS[kind](Pen(painter, theme, 40.0, 80.0), 60.0)
    painter.end()
    paper = theme.color("paper").rgb()
    inked = sum(image.pixel(x, y) != paper for x in range(20, 100) for y in range(15, 105))
    assert inked > 60


def test_there_is_a_symbol_for_every_stage():
    assert {kind.model_fields["kind"].default for kind in STAGE_KINDS} <= set(SYMBOLS)


def test_a_scale_too_bent_for_even_steps_is_graduated_by_decades(qapp, demo_job):
    channel = demo_job.tagged("TE-205")
    scale = next(scale for scale in scales_of(demo_job, channel) if scale.key == "output")
    ends = Ends(-0.2, 5.2, 212.0, 412.0)
    width_of = QFontMetricsF(font(12)).horizontalAdvance
    found = graduate(scale, ends, width_of)
    labelled = [mark for mark in found.major if mark.text]
    assert len(labelled) >= 2
    values = [float(mark.text.replace("\u2009", "")) for mark in labelled]
    assert values == sorted(values)
    assert all(str(int(value))[0] in "125" for value in values)
    for mark, value in zip(labelled, values, strict=True):
        assert mark.x == pytest.approx(float(ends.x(float(signals_of(scale)([value])[0]))))


def test_the_hairline_ends_with_the_lane_of_breaks(window, qtbot):
    go(window, "PT-202", "wire")
    qtbot.wait(50)
    centre = window.centre
    lane = centre.break_lane
    bottom = lane.mapTo(centre, lane.rect().bottomLeft()).y()
    assert centre.hairline.bottom == pytest.approx(bottom, abs=3)
    go(window, "PT-202", "fit")
    qtbot.wait(50)
    assert centre.hairline.bottom > bottom


def test_the_panel_starts_at_its_top_for_another_channel(window, qtbot):
    panel = go(window, "PT-202", "wire")
    qtbot.wait(20)
    bar = scroll_bar(panel)
    bar.setValue(bar.maximum())
    assert bar.value() > 0
    go(window, "TT-203", "wire")
    assert bar.value() == 0


def test_a_count_that_is_not_whole_is_refused_not_rounded(qtbot):
    form, held = form_of(qtbot, CONVERTER_ROWS, Converter())
    enter(qtbot, form.fields["bits"], "12.5", "4095")
    assert form.fields["bits"].error == "Expected a whole number, found “12.5”."
    assert held[0] == Converter()
