"""Every kind of source says all of itself: what opens it, its name, its settings, and how its numbers are typed."""

from typing import get_args

import pytest

from able_yardstick.app.sources.editor import SourceEditor
from able_yardstick.app.sources.feeds_table import FeedsTable
from able_yardstick.app.sources.kinds import KINDS, kind_of
from able_yardstick.bench.link import opened_by
from able_yardstick.core.document.sources import (
    AnySource,
    ColumnFeed,
    Feed,
    LinesSource,
    ManualSource,
    ModbusSource,
    QueryFeed,
    RegisterFeed,
    ReplaySource,
    ScanHistory,
    ScpiSource,
)

RECORDS = get_args(get_args(AnySource)[0])
RAW = {"name": "raw", "channel": "pt-201", "unit": "V"}
EXAMPLES = [
    ModbusSource(
        id="a", name="A", history=ScanHistory(newest_address=1, first_address=10, stride=20, slots=8),
        feeds=(RegisterFeed(name="shown", role="shown", address=3, type="f32", scale=0.1),),
        history_feeds=(RegisterFeed(**RAW, address=4, type="s32", word_order="low word first"),),
    ),
    ScpiSource(id="b", name="B", feeds=(QueryFeed(**RAW, node="pin", query="MEAS?", set_command="V {value}"),)),
    LinesSource(id="c", name="C", feeds=(ColumnFeed(**RAW, node="pin", column="P1"),)),
    ReplaySource(id="d", name="D", path="a.csv", feeds=(ColumnFeed(**RAW, node="output", column="P2"),)),
    ManualSource(id="e", name="E", feeds=(Feed(name="eye", role="reference", unit="kPa", reference="rp-12"),)),
]  # fmt: skip


def test_the_examples_are_of_every_kind():
    assert {type(one) for one in EXAMPLES} == set(RECORDS) == {kind.record for kind in KINDS}


class TestEverySource:
    """Laws of the kinds; one that forgets something fails here."""

    @pytest.mark.parametrize("source", EXAMPLES, ids=lambda one: one.kind)
    def test_it_is_opened_by_its_own_class(self, source):
        opened = opened_by(source)
        assert opened.spec is source
        assert opened.period_s > 0
        assert opened.stale_after_s > 0

    @pytest.mark.parametrize("source", EXAMPLES, ids=lambda one: one.kind)
    def test_it_has_a_title_and_says_where_it_is(self, source):
        assert source.title
        assert source.address

    @pytest.mark.parametrize("source", EXAMPLES, ids=lambda one: one.kind)
    def test_its_numbers_come_back_from_the_table_as_they_were(self, source, demo_job, qtbot):
        table = FeedsTable(source, demo_job)
        qtbot.addWidget(table)
        read = table.feeds()
        assert tuple(feed for name in kind_of(source).lists for feed in read[name]) == tuple(
            feed for name in kind_of(source).lists for feed in getattr(source, name)
        )

    @pytest.mark.parametrize("source", EXAMPLES, ids=lambda one: one.kind)
    def test_its_settings_come_back_from_the_dialog_as_they_were(self, source, demo_job, qtbot):
        editor = SourceEditor(source, demo_job, None)
        qtbot.addWidget(editor)
        assert editor.made() == source

    @pytest.mark.parametrize("source", EXAMPLES, ids=lambda one: one.kind)
    def test_a_new_number_has_a_cell_for_each_column(self, source):
        kind = kind_of(source)
        assert len(kind.blank) == len(kind.columns) == len(kind.texts(source, source.every_feed[0]))


def test_a_unit_of_a_number_says_what_it_is_taken_for(demo_job, qtbot):
    source = EXAMPLES[-1].with_(feeds=(Feed(name="eye", role="reference", unit="ton"),))
    table = FeedsTable(source, demo_job)
    qtbot.addWidget(table)
    assert "taken as the short ton, 907.185 kg" in table.notes.text()
    table.table.item(0, 3).setText("kg")
    assert table.notes.text() == ""
