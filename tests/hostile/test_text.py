"""Numbers, headings, units, formulas and JSON that are endless, nested or odd: refused in words, in linear time."""

import json
from contextlib import suppress
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.register_constant import NamedInput, RegisterConstant, reckon
from able_yardstick.core.formula import FormulaError
from able_yardstick.core.job.job import Job
from able_yardstick.core.units.conversion import parse_unit, quantity_of
from able_yardstick.core.words.errors import BadTable, UnitMismatch, YardstickError
from able_yardstick.core.words.numerals import parse_number
from able_yardstick.files.controllers import read_controller
from able_yardstick.files.headings import split_heading
from able_yardstick.files.tables import parse_grid, pick, read_text, strict_columns


@pytest.mark.parametrize("text", ["1" * 20_000, "1" * 20_000 + "x", "1." * 20_000, "1 234 " * 9_000, "-" * 50_000])
def test_an_endless_number_is_refused_at_once_and_shortly(text):
    with pytest.raises(BadTable, match="Expected a number") as refusal:
        parse_number(text)
    assert len(str(refusal.value)) < 200


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_every_number_a_machine_writes_is_read(value):
    assert parse_number(repr(value), ".") == value


@pytest.mark.parametrize(
    "text", [" " * 60_000 + "x", "(" * 60_000, "[" * 100_000, "a " * 60_000, "a/" * 60_000, ",/" * 9000]
)
def test_an_endless_heading_is_split_at_once(text):
    assert split_heading(text).unit == ""
    with suppress(BadTable):
        parse_grid(f"{text}\n1;2\n")


@pytest.mark.parametrize(
    "unit",
    [
        "m**9**9**9",
        "80 m**9**9**9",
        "m^99",
        "m**-99",
        "k" * 200,
        "m*" * 60 + "m",
        "(m)",
        "m**2.5",
        "__import__",
        "m[0]",
    ],
)
def test_a_unit_that_would_take_for_ever_is_refused(unit):
    with pytest.raises(UnitMismatch, match="Expected a unit"):
        parse_unit(unit)


def test_a_unit_that_would_hang_cannot_be_in_a_job(demo_job):
    text = demo_job.model_dump_json().replace('"unit":"kPa"', '"unit":"kPa**9**9**9"')
    try:
        job = Job.model_validate_json(text)
    except ValueError:
        return
    with pytest.raises(UnitMismatch):
        parse_unit(job.channels[0].unit)


@pytest.mark.parametrize(
    ("formula", "value", "unit"),
    [("a^(a^99)", 9, ""), ("(a-9)^0.5", 1, ""), ("a^99", 1e30, "m"), ("a*9^9^9", 1e30, ""), ("1/(a-a)", 3, "m"),
     ("exp(a)", 1e6, ""), ("a^a", 1e29, ""), ("ln(a)", -1, "")],
)  # fmt: skip
def test_a_constant_that_comes_to_no_number_says_so(formula, value, unit):
    constant = RegisterConstant(formula=formula, inputs=(NamedInput(name="a", value=value, unit=unit),))
    with pytest.raises((FormulaError, UnitMismatch)):
        reckon(constant)


def test_oxygen_is_no_quantity_to_reckon_with():
    with pytest.raises(UnitMismatch, match="flue-gas oxygen"):
        quantity_of(1.0, "% O2")


@given(st.text(alphabet="ab0123456789.+-*/^(), eE\n", max_size=60))
def test_a_formula_is_read_or_refused(text):
    try:
        constant = RegisterConstant(formula=text, inputs=(NamedInput(name="a", value=2), NamedInput(name="b", value=3)))
        reckon(constant)
    except (YardstickError, ValueError):
        pass


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("a,b\n" + "1" * 140_000 + ",2\n1,2\n", "characters"),
        ('a,b\n"' + "1" * 140_000 + '",2\n1,2\n', "line 2"),
        (",".join(["1"] * 100_000) + "\n", "columns"),
        ('1,"2\n"', "Expected"),
    ],
)
def test_what_no_spreadsheet_holds_is_refused_by_line(text, words):
    with pytest.raises(BadTable, match=words) as refusal:
        strict_columns(Path("x.csv"), parse_grid(text), [0, 1])
    assert len(str(refusal.value)) < 400


@given(st.text(max_size=200))
def test_any_text_is_a_table_or_is_refused(text):
    try:
        grid = parse_grid(text)
        picked = pick(grid, range(min(grid.width, 3)))
    except BadTable:
        return
    assert all(np.isfinite(row).all() for row in picked.numbers)
    assert len(picked.numbers) + len(picked.problems) == len(grid.rows)


@given(
    st.lists(
        st.tuples(st.sampled_from(["1", "2.5", "-3e2", "", "x", "1_0", "nan", "inf", "1,5", " 4"]), st.just("7")),
        min_size=1,
        max_size=30,
    )
)
def test_long_tables_are_read_as_short_ones(rows):
    text = "\n".join(f"{one};{two}" for one, two in rows)
    try:
        grid = parse_grid(text, ".")
    except BadTable:
        return
    whole = pick(grid, [0, 1])
    singly = [pick(grid._replace(rows=grid.rows[n : n + 1]), [0, 1]) for n in range(len(grid.rows))]
    assert whole.numbers == tuple(number for one in singly for number in one.numbers)
    assert [one.line for one in whole.problems] == [one.line for each in singly for one in each.problems]


def test_a_file_that_is_too_large_is_refused_at_once(tmp_path):
    path = tmp_path / "huge.csv"
    with path.open("wb") as file:
        file.truncate(500 << 20)
    with pytest.raises(BadTable, match="larger than"):
        read_text(path)


@pytest.mark.parametrize(
    "text", ["[" * 100_000, '{"a":' * 100_000, "9" * 5_000, '{"format":' + "9" * 5_000 + "}", '"\\ud800"', ""]
)
def test_json_that_is_nested_or_huge_is_refused(text, tmp_path):
    path = tmp_path / "odd.json"
    path.write_text(text)
    with pytest.raises(BadTable):
        read_controller(path)


def test_half_a_character_is_refused_at_the_door(demo_job):
    with pytest.raises(ValueError, match=r"title|character"):
        demo_job.with_(title="half \ud800")
    tree = json.loads(demo_job.model_dump_json())
    tree["title"] = "half \ud800"
    with pytest.raises(ValueError, match="title"):
        Job.model_validate(tree)
    channel = demo_job.document.channels[0]
    with pytest.raises(ValueError, match="tag"):
        channel.with_(tag="half \udfff")
