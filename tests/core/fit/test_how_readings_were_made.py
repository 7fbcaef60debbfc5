"""Readings that were typed to so many digits, and readings that nobody took."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.fit.assumption_cost import assumption_cost
from able_yardstick.core.fit.budget import fit_budget
from able_yardstick.core.fit.inputs import fit_inputs
from able_yardstick.core.fit.on_offer import candidate_of
from able_yardstick.core.gather.reading_doubts import half_digit_of
from able_yardstick.core.job.entries import capture, correct
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.pack.doubts import doubts_about
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.results.choices import use_curve
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.numerals import last_digit

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)


@pytest.mark.parametrize(
    ("text", "digit"), [("2.50", 0.01), ("250", 1.0), ("0,5", 0.1), ("1 250.125", 0.001), ("2.5e-3", 1e-4), ("−3", 1.0)]
)
def test_the_last_digit_of_what_was_typed(text, digit):
    assert last_digit(text) == pytest.approx(digit, rel=1e-12)


def typed(job, *rows, origin="measured"):
    """IT-207 (0 to 50 A as 0 to 5 V) with readings typed: reference in A, signal as text in V."""
    readings = [
        Reading(
            id=f"r{n}", channel="it-207", captured=NOON, reference=reference, reference_unit="A",
            raw=Raw(mean=float(text), digit=last_digit(text)), origin=origin if n == 0 else "measured",
        )
        for n, (reference, text) in enumerate(rows)
    ]  # fmt: skip
    return capture(job, readings)


ROWS = ((0.0, "0.01"), (20.0, "2"), (40.0, "4.01"))


def test_u_holds_the_digit_that_signals_were_typed_to(demo_job):
    """To 10 mV, where the longest of them has two decimals: half of it is 5 mV, 0.05 A, a limit."""
    job = typed(demo_job, *ROWS)
    inputs = fit_inputs(job, job.continuous("it-207"))
    assert inputs.half_digit == pytest.approx(0.005)
    budget = fit_budget(inputs, candidate_of(inputs, "line").fitted, 2.0)
    row = next(row for row in budget.rows if row.name == "last digit typed")
    assert row.standard == pytest.approx(0.05 / 3**0.5, rel=1e-2)
    counts = Raw(mean=2000.0, node="counts", unit="counts", digit=1.0)
    rows = tuple(row._replace(reading=row.reading.with_(raw=counts)) for row in job.amended("it-207", "gather"))
    assert half_digit_of(job.continuous("it-207"), rows) == 0.0  # which is the converter's own step


def test_a_curve_through_an_assumed_reading_says_so_wherever_it_is_used(demo_job):
    job = use_curve(typed(demo_job, *ROWS, origin="assumed"), "it-207", "line", NOON)
    channel = job.continuous("it-207")
    assert job.fit_of("it-207").assumed == "one reading is itself assumed"
    fit = next(one for one in progress_of(job, channel) if one.step == "fit")
    assert (fit.state, fit.says) == ("begun", "curve chosen, but it rests on an assumed reading")
    assert "The curve rests on a reading that was only assumed." in doubts_about(job, channel, packed_now(job, channel))


def test_what_an_assumed_zero_costs_is_told(demo_job):
    """Of three evenly spaced readings the first weighs 5/6 at its own place and -1/6 at the far end."""
    job = typed(demo_job, (0.0, "0.00"), (20.0, "2.00"), (40.0, "4.00"), origin="assumed")
    (cost,) = assumption_cost(fit_inputs(job, job.continuous("it-207")), "line")
    assert (cost.reference, cost.value) == pytest.approx((0.0, 0.0), abs=1e-9)
    assert cost.share == pytest.approx(0.01 * 5 / 6)


def test_where_a_reading_is_from_can_be_corrected(demo_job):
    job = correct(typed(demo_job, *ROWS, origin="assumed"), "r0", NOON, origin="measured")
    assert fit_inputs(job, job.continuous("it-207")).assumed_rows == ()
    assert job.amended("it-207", "gather")[0].corrected
