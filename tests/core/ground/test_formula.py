"""Formulas typed by hand: reckoned as written, pointed at where they fail, never run as a program."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.formula import FormulaError, names_in, parse


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("2 + 3 * 4", 14), ("(2 + 3) * 4", 20), ("2 - 3 - 4", -5), ("12 / 4 / 3", 1), ("-2^2", -4), ("2^-1", 0.5),
        ("2^3^2", 512), ("2 ** 3", 8), ("1.5e3 − 500", 1000), ("6 × 7 ÷ 2", 21), ("sqrt(16) + abs(-3)", 7),
        ("ln(exp(2))", 2), ("log10(1000)", 3), ("min(3, 1; 2)", 1), ("max(3, 1)", 3), (".5 * 4", 2), ("--3", 3),
        ("pt100(138.5055)", 100), ("tc_k(4.09623)", 100), ("ntc(10000, 10000, 3950)", 25),
    ],
)  # fmt: skip
def test_ordinary_arithmetic_is_reckoned_as_written(text, value):
    assert float(parse(text).evaluate({})) == pytest.approx(value, rel=1e-5)


@pytest.mark.parametrize(
    ("text", "words", "at"),
    [
        ("2 +", "Expected a number, a name or a bracket, found the end", 3),
        ("2 + * 3", "found “*”", 4),
        ("(2 + 3", "The bracket opened at character 1 is not closed", 6),
        ("2 $ 3", "“$” has no place in a formula", 2),
        ("sinus(3)", "There is no function “sinus”", 0),
        ("sqrt(1, 2)", "sqrt takes 1 value(s), found 2", 0),
        ("2 3", "Expected an operator or the end, found “3”", 2),
        ("sqrt * 2", "sqrt is a function", 0),
        ("", "found nothing", 0),
    ],
)
def test_a_wrong_formula_is_pointed_at(text, words, at):
    with pytest.raises(FormulaError) as refusal:
        parse(text)
    assert words in str(refusal.value)
    assert refusal.value.at == at
    if text:
        assert str(refusal.value).splitlines()[-1] == " " * at + "▲"


@pytest.mark.parametrize("text", ["__import__('os')", "x.real", "().__class__", "lambda: 1", "[1]", "x = 3", "'a'"])
def test_what_is_no_arithmetic_is_refused(text):
    with pytest.raises(FormulaError):
        parse(text).evaluate({"x": 1.0})


def test_nesting_and_length_have_an_end():
    with pytest.raises(FormulaError, match="nested too deeply"):
        parse("(" * 200 + "1" + ")" * 200)
    with pytest.raises(FormulaError, match="at most 500 characters"):
        parse("1+" * 400 + "1")


def test_a_name_that_is_not_given_is_refused_with_those_that_are():
    tree = parse("a * volts + b")
    assert sorted(names_in(tree)) == ["a", "b", "volts"]
    with pytest.raises(FormulaError, match=r"“b” is not given\. Known: a, volts"):
        tree.evaluate({"a": 1.0, "volts": 2.0})


@given(st.floats(-1e6, 1e6), st.floats(0.1, 10))
def test_it_agrees_with_plain_arithmetic_over_arrays(x, y):
    found = parse("3*x^2 - x/y + sqrt(abs(x))").evaluate({"x": np.array([x, 1.0]), "y": y})
    assert found[0] == pytest.approx(3 * x**2 - x / y + math.sqrt(abs(x)), rel=1e-12, abs=1e-9)
