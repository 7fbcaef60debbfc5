"""Tables as people write them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.words.errors import BadTable
from able_yardstick.files.headings import Heading, split_heading
from able_yardstick.files.tables import parse_grid, pick, read_text, strict_columns

SAME = [
    "signal (V),pressure [kPa]\n0.5,0\n2.5,125.5\n",
    "# bench 3\nsignal (V);pressure [kPa]\n0,5;0\n2,5;125,5\n",
    "signal, V\tpressure / kPa\n0.5\t0\n2.5\t125.5\n",
    "signal (V)\tpressure (kPa)\n0,5\t0\n2,5\t125,5\n",
    '"signal (V)","pressure (kPa)"\n"0.5","0"\n"2.5","125.5"\n',
    "signal|pressure\nV|kPa\n0.5|0\n2.5|125.5\n",
]


@pytest.mark.parametrize("text", SAME)
def test_one_table_in_many_spellings(text):
    grid = parse_grid(text)
    assert grid.headings == (Heading("signal", "V"), Heading("pressure", "kPa"))
    assert pick(grid, (0, 1)).numbers == ((0.5, 0.0), (2.5, 125.5))


def test_cells_between_blanks_with_decimal_commas():
    grid = parse_grid("0,5 10,2\n1,5 20,4\n")
    assert (grid.has_header, pick(grid, (0, 1)).numbers) == (False, ((0.5, 10.2), (1.5, 20.4)))


def test_bad_rows_are_listed_by_line_and_good_ones_kept():
    found = pick(parse_grid("V,kPa\n1,10\n2,x\n\n3\n4,40\n"), (0, 1))
    assert found.numbers == ((1.0, 10.0), (4.0, 40.0))
    assert [str(problem) for problem in found.problems] == [
        "line 3, column 2: Expected a number, found “x”.",
        "line 5, column 2: Expected a number, found nothing (the row has 1 cells).",
    ]


def test_an_empty_cell_of_an_optional_column_is_nothing():
    assert pick(parse_grid("ref,raw,shown\n1,2,\n3,4,5\n"), (0, 1, 2), optional=(2,)).numbers == (
        (1.0, 2.0, None),
        (3.0, 4.0, 5.0),
    )


def test_a_strict_table_names_file_line_and_column(tmp_path):
    path = tmp_path / "p.csv"
    path.write_text("V,kPa\n1,10\n2,oops\n")
    with pytest.raises(BadTable, match=r"p\.csv, line 3, column 2: Expected a number, found “oops”"):
        strict_columns(path, parse_grid(read_text(path)), (0, 1))


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_encodings_that_spreadsheets_write_are_read(tmp_path, encoding):
    path = tmp_path / "t.csv"
    path.write_bytes("Temperatur (°C);U (V)\n20,5;1,5\n".encode(encoding))
    assert parse_grid(read_text(path)).headings[0] == Heading("Temperatur", "°C")


def test_what_is_no_text_or_not_there_is_refused(tmp_path):
    path = tmp_path / "x.csv"
    with pytest.raises(BadTable, match="cannot be read: No such file"):
        read_text(path)
    path.write_bytes(b"PK\x03\x04\0\0\0")
    with pytest.raises(BadTable, match=r"is no text\. Save it as CSV or XLSX first"):
        read_text(path)
    with pytest.raises(BadTable, match="found nothing"):
        parse_grid("# only a remark\n\n")


def test_units_in_headings():
    assert split_heading("Flow (l/min)") == Heading("Flow", "l/min")
    assert split_heading("P (bar(g))") == Heading("P", "bar(g)")
    assert split_heading("signal mV/V") == Heading("signal", "mV/V")
    assert split_heading("Flow m³/h") == Heading("Flow", "m³/h")
    assert split_heading("Druck / pressure [kPa]") == Heading("Druck / pressure", "kPa")
    assert split_heading("p/kPa") == Heading("p", "kPa")
    assert split_heading("T_ref_degC") == Heading("T_ref", "degC")
    assert split_heading("Sensor A") == Heading("Sensor A")
    assert split_heading("reading 3") == Heading("reading 3")
    assert split_heading("kPa") == Heading("kPa")


@given(
    st.lists(st.tuples(*[st.floats(-1e6, 1e6).map(lambda v: round(v, 4))] * 2), min_size=2, max_size=30),
    st.sampled_from(["\t", ";", "|"]),
    st.booleans(),
)
def test_what_is_written_is_read_back(rows, separator, comma):
    def cell(value):
        text = f"{value:.4f}"
        return text.replace(".", ",") if comma else text

    text = "\n".join(separator.join(cell(value) for value in row) for row in rows)
    assert pick(parse_grid(text), (0, 1)).numbers == tuple(rows)


@given(st.text(max_size=200))
def test_no_text_breaks_the_reader(text):
    try:
        grid = parse_grid(text)
    except BadTable:
        return
    pick(grid, range(grid.width))
