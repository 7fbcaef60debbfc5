"""What is drawn of each source: its rate against what was asked, its gaps, its last minute."""

import time

import numpy as np
import pytest
from acting import press, words

from able_yardstick.app.frame.live import LiveBench
from able_yardstick.app.sources.link_rows import WINDOW_S, rows_of
from able_yardstick.app.sources.picture import LinksPicture, feed_signs
from able_yardstick.bench.hub import Hub
from able_yardstick.bench.link import LinkStatus


class StillLink:
    """A link whose streams hold what was put there."""

    stale_after_s = 1.0

    def __init__(self, spec, rate_hz):
        from able_yardstick.bench.stream import Stream

        self.spec = spec
        self.streams = {feed.name: Stream() for feed in spec.every_feed}
        self.status = LinkStatus("answering", "a fake", rate_hz, "", 0, 0, 0)


def rows_with(job, values_at, monkeypatch, rate_hz=8.0):
    """The rows of the demo's sources with the reference bench giving a value at each of some ages in s."""
    live = LiveBench.__new__(LiveBench)
    live.hub = Hub()
    source = next(one for one in job.sources if one.id == "reference-bench" or one.title == "SCPI instrument")
    link = StillLink(source, rate_hz)
    now_s = time.monotonic()
    ages = np.array(sorted(values_at, reverse=True))
    feed = next(one for one in source.every_feed if one.channel == "pt-201")
    count = len(ages)
    link.streams[feed.name].append(
        now_s - ages, now_s - ages, 100 + 0.1 * np.sin(ages), np.arange(count), now_s
    )  # fmt: skip
    monkeypatch.setattr(Hub, "link", lambda _self, key: link if key == source.id else None)
    monkeypatch.setattr(LiveBench, "is_on", property(lambda _self: True))
    return {row.source.id: row for row in rows_of(job, live, "pt-201")}[source.id], feed


def test_a_steady_link_has_its_rate_its_trace_and_no_gap(demo_job, monkeypatch):
    row, feed = rows_with(demo_job, np.arange(0.0, 40.0, 0.125), monkeypatch)
    assert (row.feed, row.unit) == (feed.name, feed.unit)
    assert row.share == pytest.approx(1.0)
    assert row.gaps == ()
    assert len(row.values) == len(row.times_s) == 320
    assert -WINDOW_S <= row.times_s.min() <= row.times_s.max() <= 0


def test_a_gap_is_seen_where_nothing_came(demo_job, monkeypatch):
    ages = [age for age in np.arange(0.0, 40.0, 0.125) if not 10 < age < 17]
    row, _feed = rows_with(demo_job, ages, monkeypatch, rate_hz=6.0)
    assert len(row.gaps) == 1
    assert row.gaps[0].begin_s == pytest.approx(-17, abs=0.3)
    assert row.gaps[0].end_s == pytest.approx(-10, abs=0.3)
    assert row.share == pytest.approx(0.75)


def test_many_values_are_drawn_by_their_extremes(demo_job, monkeypatch):
    row, _feed = rows_with(demo_job, np.arange(0.0, 50.0, 0.002), monkeypatch)
    assert len(row.values) <= 600
    assert row.values.max() == pytest.approx(100.1, abs=1e-3)


def test_what_a_source_gives_of_a_channel_is_told_by_signs(demo_job):
    signs = {source.name: feed_signs(source, "pt-201") for source in demo_job.sources}
    assert signs["Kiln controller"] == "▼□⚑"
    assert signs["Reference bench"] == "○"


def test_the_centre_belongs_to_the_view_and_escape_leads_back(window, qtbot):
    from PySide6.QtCore import Qt

    window.bench.go("fit")
    for side, title in (("sources", "Sources"), ("references", "References")):
        window.show_side(side)
        assert title in words(window.pages)
        assert window.centre.isHidden()
        qtbot.keyClick(window, Qt.Key.Key_Escape)
        assert not window.centre.isHidden()
    window.show_side("sources")
    assert [row.source.name for row in window.findChild(LinksPicture).rows] == [
        source.name for source in window.bench.job.sources
    ]
    press(window.pages, "Back to the steps")
    assert window.bench.step == "fit"
    assert not window.centre.isHidden()


def test_an_instrument_is_chosen_in_the_picture(window, qtbot):
    from PySide6.QtCore import QPoint, Qt

    from able_yardstick.app.references.picture import ReferencesPicture

    window.show_side("references")
    picture = window.findChild(ReferencesPicture)
    inside = picture.widget()
    inside.grab()
    qtbot.mouseClick(inside, Qt.MouseButton.LeftButton, pos=QPoint(60, 40 + 108 + 30))
    assert window.panel_shown.reference.id == window.bench.job.references[1].id
