"""A stretch of a log as a table: moments in rows, what each column is in its head, and what does not fit."""

import csv

import numpy as np
import pytest
from openpyxl import load_workbook

from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import Met
from able_yardstick.core.words.errors import BadTable, NoSuchThing
from able_yardstick.files.log import export
from able_yardstick.files.log.export import (
    chosen_series,
    log_table,
    save_log_csv,
    save_log_parquet,
    save_log_xlsx,
)
from able_yardstick.files.log.reader import LogFile
from able_yardstick.files.log.writer import LoggedFeed, LogWriter

FEEDS = (
    LoggedFeed("PT-201", "pt-201", "raw", "PT-201 raw", "Kiln controller", "counts", "counts"),
    LoggedFeed("TE-205", "te-205", "raw", "TE-205 raw", "Kiln controller", "counts", "counts"),
    LoggedFeed("PT-201", "pt-201", "reference", "gauge", "Reference bench", "counts", "kPa"),
)
BEGAN = 1_764_426_600.0  # 2025-11-29T14:30:00Z


@pytest.fixture
def log(tmp_path):
    path = tmp_path / "a.yardlog"
    fast, slow = np.arange(10) * 0.01, np.arange(2) * 0.1
    with LogWriter(path, FEEDS, {}) as writer:
        writer.append({
            0: clocked(fast, np.arange(10) + 100.0, "counts"), 1: clocked(fast, [*range(9), np.nan], "counts"),
            2: clocked(slow, [99.5, 100.25], "kPa"),
        })  # fmt: skip
    with LogFile(path) as read:
        yield read


def clocked(times, values, unit):
    found = Series.of(50 + times, np.asarray(values, dtype=float), Met("counts", unit))
    states = np.where(np.isfinite(found.values), 0, 2).astype(np.uint8)
    return Series(found.times_s, BEGAN + times, found.values, found.sequences, states, {}, found.met)


def test_moments_that_came_together_are_one_row(log, tmp_path):
    table = log_table(log, log.series())
    assert table.values.shape == (11, 3)
    save_log_csv(tmp_path / "a.csv", table)
    rows = list(csv.reader((tmp_path / "a.csv").read_text("utf-8").splitlines()))
    assert rows[0] == ["time, UTC", "s", "PT-201 raw", "TE-205 raw", "PT-201 reference"]
    assert rows[1][2:] == ["counts", "counts", "kPa"]
    assert rows[2][4] == "Reference bench"
    assert rows[3] == ["2025-11-29T14:30:00.000", "0.0", "100.0", "0.0", "99.5"]
    assert rows[4][4] == ""
    assert rows[12][2:4] == ["109.0", ""]
    assert rows[-1][-1] == "100.25"


def test_a_stretch_of_some_channels(log):
    series = chosen_series(log, ["pt-201"])
    assert [one.feed.role for one in series] == ["raw", "reference"]
    table = log_table(log, series, BEGAN + 0.02, BEGAN + 0.05)
    assert table.values[:, 0].tolist() == [102.0, 103.0, 104.0]
    with pytest.raises(NoSuchThing, match=r"no channel XX-1. It has PT-201, TE-205"):
        chosen_series(log, ["XX-1"])


def test_a_workbook_has_numbers_and_what_does_not_fit_is_refused(log, tmp_path, monkeypatch):
    table = log_table(log, log.series())
    save_log_xlsx(tmp_path / "a.xlsx", table)
    rows = list(load_workbook(tmp_path / "a.xlsx").active.values)
    assert rows[3] == ("2025-11-29T14:30:00.000", 0, 100, 0, 99.5)
    monkeypatch.setattr(export, "_MOST_ROWS", 5)
    with pytest.raises(BadTable, match="do not fit in a sheet"):
        save_log_xlsx(tmp_path / "b.xlsx", table)


def test_parquet_comes_back_or_says_what_is_missing(log, tmp_path):
    table = log_table(log, log.series())
    try:
        from pyarrow import parquet
    except ImportError:
        with pytest.raises(BadTable, match="not installed"):
            save_log_parquet(tmp_path / "a.parquet", table)
        return
    save_log_parquet(tmp_path / "a.parquet", table)
    found = parquet.read_table(tmp_path / "a.parquet")
    assert found.column("PT-201 raw").to_pylist()[:2] == [100.0, 101.0]
    assert found.schema.field("PT-201 reference").metadata[b"unit"] == b"kPa"
