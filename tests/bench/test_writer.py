"""Writing a table into a controller: never half in force, read back cell by cell, and put back."""

import time

import numpy as np
import pytest

from able_yardstick.bench.errors import BadAnswer, NoLink
from able_yardstick.bench.modbus import Modbus
from able_yardstick.bench.rig.layout import NEWEST, RING, SHOWN, SLOT_HEAD, scan_history
from able_yardstick.bench.writer import Place, read_table, write_table
from able_yardstick.core.document.controller import TableLayout
from able_yardstick.core.forms.integer import Ratio
from able_yardstick.core.forms.straight import EndValues, RawPair, SlopeOffset
from able_yardstick.core.forms.table import Knots
from able_yardstick.core.journal.table_image import HEAD, TableImage, bank_words, image_of, table_words
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.results.loading import image_to_write, target_of
from able_yardstick.core.wire.landing import wired_channels
from able_yardstick.core.words.errors import BadTable, NotApplicable

MEANT = TableImage(signals=(0.0, 1.5, 5.0), values=(-1.0, 2.25, 21.0), held=True)
OLD = TableImage(signals=(0.0, 5.0), values=(0.0, 10.0))


class Memory:
    """A controller's registers, which tell at every write which table is in force then."""

    def __init__(self, layout, start=100):
        self.place = Place(start, layout)
        self.words = np.zeros(start + table_words(layout) + 50, dtype=np.uint16)
        self.words[start + HEAD : start + HEAD + bank_words(layout)] = OLD.words(layout)
        self.seen = []
        self.spoil = None
        self.fail_at = None

    def read(self, address, count):
        return self.words[address : address + count].copy()

    def write(self, address, words):
        if self.fail_at is not None and len(self.seen) == self.fail_at:
            raise NoLink("the cable is out")
        for n, word in enumerate(words):  # the slowest controller there is: one register after the other
            self.words[address + n] = word
            marked = bool(self.words[self.place.address + 1])
            self.seen.append((read_table(self, self.place)[0], marked))
        if self.spoil is not None and address > self.place.address + HEAD - 1:
            self.words[address + self.spoil] ^= 1


@pytest.mark.parametrize("banks", [1, 2])
@pytest.mark.parametrize("order", ["high word first", "low word first"])
def test_no_half_written_table_is_ever_in_force_unmarked(banks, order):
    memory = Memory(TableLayout(rows=16, banks=banks, word_order=order))
    memory.words[memory.place.address + HEAD :] = 0
    memory.words[memory.place.address + HEAD : memory.place.address + HEAD + bank_words(memory.place.layout)] = (
        OLD.words(memory.place.layout)
    )
    found = write_table(memory, memory.place, MEANT)
    assert found.differences == ()
    assert (found.before, found.after) == (OLD, MEANT)
    assert all(table in (OLD, MEANT) or marked for table, marked in memory.seen)
    assert memory.words[memory.place.address + 1] == 0
    again = write_table(memory, memory.place, found.before)
    assert (again.before, again.after) == (MEANT, OLD)


@pytest.mark.parametrize("banks", [1, 2])
def test_a_cell_that_did_not_take_is_named_and_not_put_in_force(banks):
    memory = Memory(TableLayout(banks=banks))
    memory.spoil = 6  # the high word of the second signal
    found = write_table(memory, memory.place, MEANT)
    assert found.differences[0].startswith("knot 2: signal 1.5 was meant,")
    if banks == 2:
        assert read_table(memory, memory.place)[0] == OLD
    else:
        assert memory.words[memory.place.address + 1] == 1  # still marked


def test_a_link_that_breaks_midway_leaves_the_old_table_in_force():
    memory = Memory(TableLayout())
    memory.fail_at = bank_words(memory.place.layout)  # after the idle bank, before the switch-over
    with pytest.raises(NoLink, match="the cable is out"):
        write_table(memory, memory.place, MEANT)
    assert read_table(memory, memory.place)[0] == OLD


def test_more_knots_than_the_controller_keeps_are_refused_before_anything_is_written():
    memory = Memory(TableLayout(rows=2))
    with pytest.raises(
        NotApplicable, match=r"has 3 knots, but this controller keeps 2 for a channel\. Ask for at most 2"
    ):
        write_table(memory, memory.place, MEANT)
    assert memory.seen == []


def test_the_copy_of_what_was_there_is_kept_before_the_first_cell_is_written():
    memory = Memory(TableLayout(banks=1))
    kept = []
    write_table(memory, memory.place, MEANT, lambda before: kept.append((before, len(memory.seen))))
    assert kept == [(OLD, 0)]


def test_registers_that_hold_something_else_are_refused():
    memory = Memory(TableLayout())
    memory.words[100] = 7
    with pytest.raises(BadAnswer, match="should say which bank is in force, 0 or 1, but holds 7"):
        write_table(memory, memory.place, MEANT)
    memory.words[100] = 0
    memory.words[100 + HEAD + 2 : 100 + HEAD + 4] = (0x7FC0, 0)  # single precision's “not a number”
    with pytest.raises(BadTable, match="Knot 1 in the controller's registers is no number"):
        write_table(memory, memory.place, MEANT)
    assert memory.seen == []


def test_straight_forms_are_written_as_two_pairs_and_others_are_refused():
    converter = Converter()
    ends = image_of(EndValues(signal_low=0.5, signal_high=4.5, value_low=0, value_high=250, clamp=True), converter)
    assert (ends.signals, ends.values, ends.held) == ((0.5, 4.5), (0.0, 250.0), True)
    raw = image_of(RawPair(raw_low=0, raw_high=4095, value_low=-31.25, value_high=281.25), converter)
    assert raw.values == (-31.25, 281.25)
    line = image_of(SlopeOffset(slope=62.5, offset=-31.25), converter)
    assert line.shown(np.array([0, 2047]), converter) == pytest.approx(
        [-31.25, 62.5 * 2047 * 5 / 4095 - 31.25], rel=1e-6
    )
    with pytest.raises(NotApplicable, match=r"“Integer ratio” is neither\. Choose another numeric form"):
        image_of(Ratio(multiplier=1, divisor=2, constant=0), converter)


def test_a_written_table_is_what_the_controller_shows_to_the_last_digit_over_a_sweep(rig_job, knobs, wait_until):
    """Counts and shown values of one scan, read over the wire while the plant sweeps its range."""
    channel = rig_job.tagged("AT-208")
    target = target_of(rig_job, channel)
    place = Place(target.address, target.layout)
    number = [one.id for one in wired_channels(rig_job)].index(channel.id)
    history = scan_history(rig_job)
    link = Modbus(target.source)
    link.open()
    try:
        packed = rig_job.pack_of(channel.id).form
        meant = TableImage(
            signals=tuple(np.float32(packed.signals).astype(float).tolist()),
            values=tuple(np.float32(np.array(packed.values) + 0.37).astype(float).tolist()),
            held=True,
        )
        assert isinstance(packed, Knots)
        done = write_table(link, place, meant)
        assert done.differences == ()
        assert done.before == image_to_write(rig_job, channel)  # what the rig came with is the packing kept
        pairs = {}
        for percent in (1.0, 4.0, 9.0, 13.0, 20.0):
            knobs.turn(do="move", tag="AT-208", value=percent)
            for _ in range(45):
                time.sleep(0.02)
                words = link.read(0, SHOWN + 2 * number + 2)  # one request, so one scan
                newest = int(words[NEWEST]) << 16 | int(words[NEWEST + 1])
                shown = np.frombuffer(words[-2:].astype(">u2").tobytes(), dtype=">f4")[0]
                slot = RING + (newest % history.slots) * history.stride
                scan = link.read(slot, history.stride)
                if (int(scan[0]) << 16 | int(scan[1])) == newest:
                    pairs[int(scan[SLOT_HEAD + number])] = float(shown)
        counts = np.array(sorted(pairs))
        assert len(counts) > 50
        assert np.ptp(counts) > 2000
        predicted = meant.shown(counts, channel.path.converter.nominal)
        assert predicted.tolist() == [pairs[count] for count in counts.tolist()]
        back = write_table(link, place, done.before)
        assert back.differences == ()
        assert read_table(link, place)[0] == done.before
    finally:
        link.close()
