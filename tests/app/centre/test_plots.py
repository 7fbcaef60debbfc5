"""What the plots show, as arrays and words, for channels at every state of work."""

from datetime import UTC, datetime

import numpy as np
import pytest
from PySide6.QtGui import QImage, QPainter

from able_yardstick.app.centre.plots.content import curve_content, error_content, pictured
from able_yardstick.app.centre.plots.jaws import Jaws, draw_jaws
from able_yardstick.app.frame.theme import THEMES
from able_yardstick.app.steps.all_steps import STEPS
from able_yardstick.core.forms.cost import packing_errors
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.entries import capture
from able_yardstick.core.job.in_force import curve_in_use
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.pack.ready import make_ready
from able_yardstick.core.results.choices import keep_packing, use_curve
from able_yardstick.core.state.progress import STEP_NAMES
from able_yardstick.core.state.scales import axis_of
from able_yardstick.core.wire.error_budget import along_range
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 11, 20, 12, 0, tzinfo=UTC)


def contents(job, tag, step, candidate=None):
    channel = job.continuous(job.tagged(tag).id)
    make_ready(job, channel, (channel.pack_spec,))  # as the panel has it made
    shown = pictured(job, channel, STEPS[step].plots, candidate)
    return (
        curve_content(job, channel, STEPS[step].plots, axis_of(channel), shown),
        error_content(job, channel, STEPS[step].plots, axis_of(channel), shown),
        channel,
        shown,
    )


def marks(content, kind):
    found = [mark for mark in content.marks if mark.kind == kind]
    return found[0] if found else None


@pytest.mark.parametrize("step", STEP_NAMES)
@pytest.mark.parametrize("tag", ["PT-201", "PT-202", "WT-206", "IT-207", "AT-208", "AT-209", "FT-210"])
def test_every_channel_has_something_to_show_at_every_step(demo_job, tag, step):
    curve, error, channel, _ = contents(demo_job, tag, step)
    for content in (curve, error):
        low, high = content.y_range
        assert low < high
        assert content.words
        for line in content.lines:
            assert np.all(np.isfinite(line.y))
    assert curve.y_range[0] < min(channel.range) < max(channel.range) < curve.y_range[1]
    assert error.y_range[0] == pytest.approx(-error.y_range[1])


def test_errors_of_readings_are_curve_minus_reference(demo_job):
    _, error, _, shown = contents(demo_job, "PT-201", "fit", "line")
    up = marks(error, "up")
    row = next(row for row in demo_job.amended("pt-201", "gather") if row.reading.direction == "up").reading
    assert up.y[0] == pytest.approx(float(shown.curve.value(row.raw.mean)) - row.reference)
    assert error.words.startswith("curve minus reference")


def test_an_excluded_reading_is_shown_in_the_curve_plot_and_left_out_of_the_errors(demo_job):
    curve, error, _, _ = contents(demo_job, "PT-202", "fit")
    assert len(marks(curve, "excluded").x) == 1
    assert marks(error, "excluded") is None


def test_a_thin_band_is_widened_in_the_error_plot_and_says_so(demo_job):
    _, error, channel, shown = contents(demo_job, "PT-202", "fit", "line")
    band = next(band for band in error.bands if band.style == "confidence")
    true = shown.fitted.band(band.x)
    assert "drawn 10 times as wide" in error.words
    assert band.high == pytest.approx(10 * true)
    tolerance = next(band for band in error.bands if band.style == "tolerance")
    assert tolerance.high == pytest.approx(np.full_like(tolerance.high, 0.01 * channel.span))


def test_the_reach_is_that_of_the_readings_and_what_lies_beyond_is_drawn_apart(demo_job):
    curve, _, _, shown = contents(demo_job, "PT-201", "fit", "line")
    assert curve.reach == shown.curve.domain
    inside = next(line for line in curve.lines if line.style == "curve")
    beyond = [line for line in curve.lines if line.style == "beyond"]
    assert (inside.x.min(), inside.x.max()) == shown.curve.domain
    assert len(beyond) == 2
    assert beyond[0].x.max() <= shown.curve.domain[0]


def test_packing_is_shown_at_every_count(demo_job):
    curve, error, channel, _ = contents(demo_job, "AT-208", "pack")
    packed = packed_now(demo_job, channel)
    mine = next(line for line in error.lines if line.style == "error")
    assert len(mine.x) == 4096
    assert mine.y == pytest.approx(
        packing_errors(
            packed.form, pictured(demo_job, channel, STEPS["pack"].plots, None).curve, channel.path.converter
        )
    )
    assert marks(curve, "knot").x.tolist() == list(packed.form.signals)
    assert error.words.startswith("packed minus calibration at every one of 4096 counts; dashed: evenly spaced")
    even = next(line for line in error.lines if line.style == "even")
    assert np.max(np.abs(even.y)) > 1.3 * np.max(np.abs(mine.y))
    assert [float(line.y[0]) for line in error.lines if line.style == "bound"] == [packed.bound, -packed.bound]


def test_checks_that_fail_are_told_from_those_that_pass(demo_job):
    _, error, _, _ = contents(demo_job, "AT-209", "prove")
    assert len(marks(error, "failed").x) == 3
    assert marks(error, "left") is None
    assert error.stems


def test_the_mistake_that_is_named_is_drawn_through_the_errors(demo_job):
    _, error, _, _ = contents(demo_job, "AT-209", "prove")
    named = next(line for line in error.lines if line.style == "mistake")
    failed = marks(error, "failed")
    assert np.interp(failed.x, named.x, named.y) == pytest.approx(failed.y, abs=0.06)
    assert "dashed: ground offset" in error.words


def test_without_one_the_shift_they_share_is_drawn_and_what_they_would_miss(demo_job):
    _, error, _, _ = contents(demo_job, "AT-208", "prove")
    shift = next(line for line in error.lines if line.style == "shift")
    assert shift.y[0] == pytest.approx(np.mean(marks(error, "left").y))
    missed = next(band for band in error.bands if band.style == "missed")
    assert missed.high == pytest.approx(-missed.low)
    assert missed.high.max() > 0.14  # at least the error allowed itself may hide
    assert "what these checks would miss" in error.words


def test_checks_of_another_packing_are_shown_as_such(demo_job):
    channel = demo_job.continuous("pt-201")
    spec = channel.pack_spec.with_(form="ends", value_step=1.0)
    job = change_channel(demo_job, channel.with_(pack_spec=spec))
    job = keep_packing(job, "pt-201", channel_time(demo_job))
    curve, error, _, _ = contents(job, "PT-201", "prove")
    assert len(marks(curve, "stale").x) == len(marks(error, "stale").x) == 5
    assert not [line for line in error.lines if line.style == "shift"]


def channel_time(job):
    return job.readings[-1].captured


def test_as_found_stands_beside_as_left_where_it_was_seen(demo_job):
    _, error, _, _ = contents(demo_job, "PT-201", "prove")
    within, beyond = marks(error, "found"), marks(error, "found failed")
    assert (len(within.x), len(beyond.x)) == (24, 12)  # as the as-found line of the pane says
    row = demo_job.amended("pt-201", "gather")[0].reading
    assert any(np.isclose(np.concatenate([within.y, beyond.y]), row.shown - row.reference))


@pytest.mark.parametrize(
    ("source", "caption"),
    [("assumed", "assumed"), ("similar part", "similar part"), ("data sheet of the type", "data sheet")],
)
def test_where_a_described_curve_is_from_is_the_same_word_in_every_picture(demo_job, source, caption):
    """IT-207 as described, before and after it was chosen at Fit."""
    channel = demo_job.continuous("it-207")
    said = channel.with_(transducer=channel.transducer.with_(source=source))
    job = change_channel(demo_job, said)
    for one in (job, use_curve(job, "it-207", "nominal", datetime(2026, 11, 29, tzinfo=UTC))):
        assert curve_in_use(one, said).caption == caption
        for step in ("describe", "gather", "fit", "pack"):
            assert contents(one, "IT-207", step)[0].words.startswith(caption)


def test_a_channel_of_which_nothing_is_known_says_what_to_do(demo_job):
    job = add_channel(demo_job, new_continuous("n", "m", "NEW-1"))
    curve, error, _, shown = contents(job, "NEW-1", "describe")
    assert shown is None
    assert "give two rated points, or paste readings" in curve.words
    assert error.words == "no readings to compare with yet"
    assert contents(job, "NEW-1", "pack")[1].words == "nothing packed to compare yet"


def test_what_stands_on_screen_is_drawn_where_its_numbers_say(demo_job, qtbot):
    from PySide6.QtCore import QPoint

    from able_yardstick.app.centre.plots.plot import AlignedPlot
    from able_yardstick.app.centre.sight import Sight
    from able_yardstick.app.frame.theme import DAY

    sight = Sight()
    curve, _, channel, _ = contents(demo_job, "AT-208", "pack")
    sight.look_at("x", axis_of(channel), 2.5)
    plot = AlignedPlot("Oxygen", sight, DAY)
    qtbot.addWidget(plot)
    plot.resize(760, 300)
    plot.show_content(curve, "Oxygen", "% O2", DAY)
    image = plot.grab().toImage()
    knots = marks(curve, "knot")
    for x, y in zip(knots.x[1:-1], knots.y[1:-1], strict=True):
        spot = plot.pixel_of(float(x), float(y)).toPoint()
        inks = [image.pixelColor(spot + QPoint(dx, dy)).name() for dx in (-1, 0, 1) for dy in (-1, 0, 1)]
        assert DAY.ink.lower() in inks


def test_the_jaws_close_on_the_tolerance_where_each_check_stands(demo_job, qtbot):
    from able_yardstick.app.centre.plots.jaws import JawsLane
    from able_yardstick.app.centre.sight import Sight
    from able_yardstick.app.frame.theme import DAY
    from able_yardstick.core.prove.checks import proof_of
    from able_yardstick.core.words.tolerance import Tolerance

    channel = demo_job.continuous("pt-201").with_(tolerance=Tolerance(constant=0.05, of_reading=0.004))
    job = change_channel(demo_job, channel)
    _, error, _, _ = contents(job, "PT-201", "prove")
    lane = JawsLane(Sight(), DAY)
    qtbot.addWidget(lane)
    lane.show_content(error, DAY)
    drawn = sorted(abs(jaws.share) for kind in ("left", "failed") for jaws in lane.errors(kind))
    assert drawn == pytest.approx(sorted(check.share for check in proof_of(job, channel).checks), rel=0.01)


def test_what_is_expected_before_any_calibration_is_shaded_at_describe(demo_job):
    channel = demo_job.tagged("TT-203")
    content = error_content(demo_job, channel, STEPS["describe"].plots, (0.0, 5.0), None)
    band = next(band for band in content.bands if band.style == "confidence")
    budgets = along_range(channel)
    assert band.high.tolist() == pytest.approx([one.expanded for one in budgets])
    assert np.all(np.diff(band.x) > 0)
    assert "expected before any calibration, 95 %" in content.words
    assert not any(band.style == "confidence" for band in error_content(
        demo_job, channel, STEPS["gather"].plots, (0.0, 5.0), None).bands)  # fmt: skip


def test_whiskers_are_twice_the_spread_of_the_window(demo_job):
    channel = demo_job.continuous("wt-206")
    shown = pictured(demo_job, channel, STEPS["gather"].plots, "line")
    found = error_content(demo_job, channel, STEPS["gather"].plots, (0.0, 10.0), shown).whiskers
    spread = next(row.reading.raw.spread for row in demo_job.amended("wt-206", "gather"))
    slope = abs(float(shown.curve.slope(5.0)))
    assert found.half_y == pytest.approx(np.full(36, 2 * spread * slope))
    across = curve_content(demo_job, channel, STEPS["gather"].plots, (0.0, 10.0), shown).whiskers
    assert across.half_x == pytest.approx(np.full(36, 2 * spread))


def test_assumed_points_stay_marked(demo_job):
    channel = demo_job.continuous("it-207")
    job = capture(demo_job, [
        Reading(id=f"a{n}", channel=channel.id, captured=NOON, reference=10.0 * n, reference_unit="A", origin=origin,
                raw=Raw(mean=1.0 * n, unit="V"))
        for n, origin in enumerate(("measured", "rated", "assumed"))
    ])  # fmt: skip
    marks = curve_content(job, channel, STEPS["gather"].plots, (0.0, 5.0), None).marks
    assert [mark.kind for mark in marks] == ["plain", "rated", "assumed"]


def test_u_is_in_view_where_no_tolerance_is_stated(demo_job):
    channel = demo_job.continuous("pt-201")
    job = change_channel(demo_job, channel.with_(tolerance=Tolerance()))
    _, error, _, _ = contents(job, "PT-201", "fit", "line")
    lines = [line for line in error.lines if line.style in ("further", "accepted")]
    assert lines
    assert max(float(np.max(line.y)) for line in lines) < error.y_range[1]


def test_jaws_are_coloured_by_the_judgement_and_not_by_a_limit_of_their_own():
    marks = {kind: Jaws(10.0, 1.0 + 1e-12, kind != "failed") for kind in ("left", "failed")}
    pictures = {}
    for kind, jaws in marks.items():
        image = QImage(60, 30, QImage.Format.Format_RGB32)
        image.fill(0xFFFFFF)
        painter = QPainter(image)
        draw_jaws(painter, THEMES["day"], jaws, 8, True)
        painter.end()
        pictures[kind] = {image.pixel(x, y) for x in range(60) for y in range(30)}
    red = THEMES["day"].color("red").rgb()
    assert red in pictures["failed"]
    assert red not in pictures["left"]
