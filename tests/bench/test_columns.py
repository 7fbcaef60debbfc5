"""Columns of lines of text, found by looking at them; garbage told from text."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.bench.columns import found_pattern, is_garbage
from able_yardstick.bench.errors import BadAnswer


@pytest.mark.parametrize(
    ("lines", "names", "values"),
    [
        (["n=1,PT-201=1723", "n=2,PT-201=1724"], ("n", "PT-201"), {"n": 2, "PT-201": 1724}),
        (
            ["scan;volts;ohms", "1;2.5;100", "2;2.6;101"],
            ("scan", "volts", "ohms"),
            {"scan": 2, "volts": 2.6, "ohms": 101},
        ),
        (["1 2.5", "2 2.75"], ("column 1", "column 2"), {"column 1": 2, "column 2": 2.75}),
        (["3.25 V", "3.5 V"], ("column 1", "column 2"), {"column 1": 3.5}),
        (["p: 12.5 kPa\tt: 20", "p: 13 kPa\tt: 21"], ("p", "t"), {"p": 13, "t": 21}),
        (["4.25", "4.5"], ("column 1",), {"column 1": 4.5}),
    ],
)
def test_the_columns_of_common_lines_are_found(lines, names, values):
    pattern = found_pattern(lines)
    assert pattern.names == names
    assert pattern.values(lines[-1]) == values


def test_the_column_that_numbers_the_lines_is_known():
    assert found_pattern(["n=1,a=2", "n=2,a=3"]).counter == "n"
    assert found_pattern(["1 2", "2 3"]).counter == ""


def test_a_line_of_another_width_is_refused_in_words():
    pattern = found_pattern(["1,2", "3,4"])
    with pytest.raises(BadAnswer, match="Expected 2 columns, found 3 in “1,2,3”"):
        pattern.values("1,2,3")


@pytest.mark.parametrize("lines", [[], ["", "  "], ["hello there", "good day"]])
def test_nothing_to_read_is_said(lines):
    with pytest.raises(BadAnswer, match=r"No line of text came yet|No number was found"):
        found_pattern(lines)


@given(st.lists(st.floats(-1e6, 1e6), min_size=2, max_size=6), st.sampled_from([",", ";", "\t", " "]))
def test_numbers_come_back_whatever_stands_between_them(numbers, separator):
    line = separator.join(f"{number:.6g}" for number in numbers)
    found = found_pattern([line, line]).values(line)
    assert list(found.values()) == pytest.approx([float(f"{number:.6g}") for number in numbers])


def test_bytes_at_the_wrong_speed_are_garbage():
    assert not is_garbage(b"n=1,PT-201=1723\r\nn=2,PT-201=1724\r\n")
    assert is_garbage(bytes(range(128, 256)))
    assert not is_garbage(b"")


def test_a_line_that_names_its_numbers_is_believed_over_its_place():
    pattern = found_pattern(["n=1,PT-201=1723", "n=2,PT-201=1724"])
    assert pattern.values("n=3,IT-207=55") == {"n": 3, "IT-207": 55}
