"""Numbers handed to others: what is pasted or read back is what was packed, to the last digit."""

import csv
import io
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.forms.base import Cells
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.words.errors import BadTable
from able_yardstick.files.exports import as_cells, as_rows, as_text, save_packing
from able_yardstick.files.tables import parse_grid, pick


@given(st.lists(st.tuples(st.floats(-1e9, 1e9), st.floats(-1e9, 1e9)), min_size=2, max_size=20))
def test_cells_paste_back_to_the_very_numbers(rows):
    cells = Cells(("signal, V", "value, kPa"), tuple(rows))
    pasted = [tuple(float(text) for text in line.split("\t")) for line in as_cells(cells).split("\n")]
    assert pasted == [tuple(float(n) for n in row) for row in rows]
    written = list(csv.reader(io.StringIO(as_rows(cells, ","))))
    assert written[0] == ["signal, V", "value, kPa"]
    assert [tuple(map(float, row)) for row in written[1:]] == pasted


def test_pasted_cells_are_read_by_our_own_reader():
    cells = Cells(("a", "b"), ((0.1, -2.5), (5, 1e-7)))
    assert pick(parse_grid(as_cells(cells)), (0, 1)).numbers == ((0.1, -2.5), (5.0, 1e-7))


def test_a_text_lines_its_columns_up():
    lines = as_text("T: table", Cells(("signal", "value"), ((0.5, 10.25), (12, -3))), "Worst: none.").splitlines()
    assert lines == ["T: table", "", "signal  value", "   0.5  10.25", "    12     -3", "", "Worst: none."]


def test_a_packing_is_saved_with_its_cost(tmp_path, demo_job):
    channel = demo_job.continuous("at-208")
    packed = packed_now(demo_job, channel)
    path = tmp_path / "n.json"
    save_packing(path, "AT-208", packed.form, packed.cost, "V", "% O2")
    found = json.loads(path.read_text("utf-8"))
    assert found["numbers"]["values"] == list(packed.form.values)
    assert found["worst_error"] == abs(packed.cost.overall.error)
    assert (found["unit"], found["signal_unit"], found["form"]) == ("% O2", "V", "knots")


@pytest.mark.parametrize(("name", "words"), [("x.doc", "Expected a name ending in"), ("no/x.csv", "cannot be written")])
def test_where_nothing_can_be_written_it_says_so(tmp_path, demo_job, name, words):
    packed = packed_now(demo_job, demo_job.continuous("at-208"))
    with pytest.raises(BadTable, match=words):
        save_packing(tmp_path / name, "AT-208", packed.form, packed.cost, "V", "% O2")
