"""What is written into a controller shows at every count what the form does, or is refused."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.controller import TableLayout
from able_yardstick.core.forms.any_form import FORMS
from able_yardstick.core.forms.integer import Ratio
from able_yardstick.core.forms.straight import EndValues, RawPair, SlopeOffset
from able_yardstick.core.forms.table import Knots
from able_yardstick.core.journal.table_image import TableImage, image_of
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.words.errors import NotApplicable

CONVERTERS = (Converter(), Converter(low=0.0, high=10.0, bits=16, full_count=65535), Converter(low=-5.0, high=5.0))
LAYOUT = TableLayout(rows=16)
limits = st.none() | st.floats(-40, 300)


@st.composite
def writable(draw):
    """Every form that can be written, with limits on no side, one or both, held or not."""
    kind = draw(st.sampled_from(["slope", "ends", "span", "knots"]))
    values = draw(st.lists(st.floats(-300, 300), min_size=2, max_size=2, unique=True))
    clamp = draw(st.booleans())
    if kind == "slope":
        low, high = draw(limits), draw(limits)
        if low is not None and high is not None:
            low, high = min(low, high), max(low, high) + 1
        slope = draw(st.floats(-100, 100).filter(lambda one: abs(one) > 0.01))
        return SlopeOffset(slope=slope, offset=values[0], lower_limit=low, upper_limit=high)
    if kind == "ends":
        return EndValues(signal_low=0.5, signal_high=4.5, value_low=values[0], value_high=values[1], clamp=clamp)
    if kind == "span":
        return RawPair(raw_low=100, raw_high=4000, value_low=values[0], value_high=values[1], clamp=clamp)
    signals = sorted(draw(st.lists(st.integers(1, 480), min_size=2, max_size=12, unique=True)))
    rows = draw(st.lists(st.floats(-300, 300), min_size=len(signals), max_size=len(signals)))
    return Knots(signals=tuple(one / 100 for one in signals), values=tuple(rows), clamp=clamp)


@given(writable(), st.sampled_from(CONVERTERS))
def test_what_is_written_decodes_to_the_forms_own_numbers_at_every_count(form, converter):
    try:
        image = image_of(form, converter)
    except ValueError as refusal:
        pytest.skip(str(refusal))
    back = TableImage.from_words(image.words(LAYOUT), LAYOUT)
    counts = converter.every_count()
    wanted, found = form.shown(counts, converter), back.shown(counts, converter)
    scale = np.max(np.abs(wanted)) + np.max(np.abs(np.diff(image.values))) + 1e-30
    steep = np.max(np.abs(np.diff(image.values) / np.diff(image.signals))) * np.max(np.abs(image.signals))
    assert np.max(np.abs(found - wanted)) <= 1e-6 * (scale + steep)


def test_a_limit_on_one_side_is_kept_on_that_side_only():
    # 62.5 kPa/V − 31.25 kPa over 0 to 5 V ends at 281.25 kPa; held at 260 above, it still goes to −31.25 below
    form = SlopeOffset(slope=62.5, offset=-31.25, upper_limit=260.0)
    shown = image_of(form, Converter()).shown(np.array([0, 2048, 4095]), Converter())
    assert shown == pytest.approx([-31.25, 62.5 * 2048 / 4095 * 5 - 31.25, 260.0], abs=1e-4)


def test_a_form_that_is_no_table_is_refused_in_words():
    with pytest.raises(NotApplicable, match="keeps tables and straight lines"):
        image_of(Ratio(multiplier=1, divisor=2, constant=0), Converter())


def test_a_table_whose_signals_single_precision_cannot_tell_apart_is_refused():
    close = Knots(signals=(1.0, 1.00000001, 2.0), values=(0.0, 100.0, 200.0))
    with pytest.raises((NotApplicable, ValueError)):
        image_of(close, Converter())


def test_every_form_there_is_can_be_written_or_says_why_not():
    assert {form.model_fields["kind"].default for form in FORMS} >= {"slope", "ends", "span", "knots"}
