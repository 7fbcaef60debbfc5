"""A controller's shown values beside what its table makes of the counts, by hand."""

import numpy as np

from able_yardstick.core.journal.sample import EMPTY, Series
from able_yardstick.core.journal.table_image import TableImage
from able_yardstick.core.pack.agreement import agreement_of
from able_yardstick.core.path.converter import Converter

TABLE = TableImage(signals=(0.0, 2.0, 5.0), values=(0.0, 10.0, 21.0), held=True)
CONVERTER = Converter(bits=12, full_count=4095, low=0.0, high=5.0)
COUNTS = np.array([0, 819, 1638, 2457, 4095])  # 0, 1, 2, 3 and 5 V
BY_HAND = np.float32([0.0, 5.0, 10.0, 10.0 + 11.0 / 3.0, 21.0]).astype(float)


def scans(counts=COUNTS):
    return Series.of(np.arange(len(counts)) * 1.0, np.asarray(counts, dtype=float))


def test_values_that_the_table_makes_agree_to_the_last_digit():
    found = agreement_of(TABLE, CONVERTER, scans(), Series.of(scans().times_s + 0.05, BY_HAND))
    assert found == (5, 5, 0.0, 21.0, 0.0, 0.0)
    assert found.is_full


def test_one_last_digit_more_is_another_table():
    other = BY_HAND.copy()
    other[3] = float(np.nextafter(np.float32(other[3]), np.float32(99)))
    found = agreement_of(TABLE, CONVERTER, scans(), Series.of(scans().times_s + 0.05, other))
    assert (found.compared, found.equal) == (5, 4)
    assert (found.shown, found.made) == (other[3], BY_HAND[3])
    assert not found.is_full


def test_a_value_of_a_scan_that_was_not_read_is_of_a_count_between_those_that_were():
    around = Series.of(np.array([-1.0, 0.0, 1.0]), np.array([819.0, 819.0, 2457.0]))
    between = float(TABLE.shown(np.array([1638]), CONVERTER)[0])
    beyond = float(TABLE.shown(np.array([2458]), CONVERTER)[0])
    assert agreement_of(TABLE, CONVERTER, around, Series.of(np.array([0.2]), np.array([between]))).is_full
    assert not agreement_of(TABLE, CONVERTER, around, Series.of(np.array([0.2]), np.array([beyond]))).is_full


def test_a_value_from_before_the_first_count_says_nothing():
    """The window on the counts opens while the signal moves: what made the value lies before it."""
    after = Series.of(np.array([1.0, 1.1, 1.2, 1.3]), np.array([819.0, 809.0, 799.0, 789.0]))
    before = float(TABLE.shown(np.array([830]), CONVERTER)[0])
    assert agreement_of(TABLE, CONVERTER, after, Series.of(np.array([1.01]), np.array([before]))) is None


def test_a_value_newer_than_every_count_waits_for_the_next():
    beyond = float(TABLE.shown(np.array([2458]), CONVERTER)[0])
    until = Series.of(np.array([0.0, 1.0]), np.array([0.0, 819.0]))
    values = Series.of(np.array([0.05, 1.1]), np.array([0.0, beyond]))
    assert agreement_of(TABLE, CONVERTER, until, values) == (1, 1, 0.0, 0.0, 0.0, 0.0)
    later = Series.of(np.array([0.0, 1.0, 2.0]), np.array([0.0, 819.0, 819.0]))
    found = agreement_of(TABLE, CONVERTER, later, values)
    assert (found.compared, found.equal) == (2, 1)
    later = Series.of(np.array([0.0, 1.0, 2.0]), np.array([0.0, 819.0, 2460.0]))
    assert agreement_of(TABLE, CONVERTER, later, values).is_full


def test_a_value_belongs_to_a_scan_around_it_and_to_no_later_one():
    quick = Series.of(np.array([0.0, 0.05, 0.10]), np.array([0.0, 819.0, 1638.0]))
    at = np.array([0.12])
    assert agreement_of(TABLE, CONVERTER, quick, Series.of(at, np.array([5.0]))).is_full
    assert agreement_of(TABLE, CONVERTER, quick, Series.of(at + 2, np.array([5.0]))) is None
    assert agreement_of(TABLE, CONVERTER, quick, EMPTY) is None
