"""Unmarked leads told apart by resistances that a resistor or a bridge of those arms really has."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.wire.unmarked import lead_tests, pairs_from, told_apart
from able_yardstick.core.words.errors import BadTable


def between(nodes, arms):
    """Resistances between the nodes of a network of resistors, by the Laplacian's pseudo-inverse."""
    at = {node: n for n, node in enumerate(nodes)}
    laplacian = np.zeros((len(nodes), len(nodes)))
    for (a, b), resistance in arms.items():
        i, j = at[a], at[b]
        laplacian[[i, j], [i, j]] += 1 / resistance
        laplacian[[i, j], [j, i]] -= 1 / resistance
    inverse = np.linalg.pinv(laplacian)
    return {
        tuple(sorted((a, b))): inverse[at[a], at[a]] + inverse[at[b], at[b]] - 2 * inverse[at[a], at[b]]
        for a in nodes for b in nodes if a < b
    }  # fmt: skip


@pytest.mark.parametrize("order", list(permutations("abcd"))[::5])
@given(arm=st.floats(100, 5000))
def test_the_corners_of_a_bridge_are_found_whatever_the_leads_are_called(order, arm):
    fed, plus, back, minus = order
    arms = {(fed, plus): arm, (plus, back): arm, (back, minus): arm, (minus, fed): arm}
    said = told_apart(between(sorted(order), arms))
    for pair in ((fed, back), (plus, minus)):
        assert "–".join(sorted(pair)) in said
    assert "they are alike" in said


def test_the_fed_pair_is_the_one_of_the_higher_resistance():
    readings = {("b", "r"): 385.0, ("g", "w"): 350.0} | {
        tuple(sorted(pair)): 275.0 for pair in (("b", "g"), ("b", "w"), ("g", "r"), ("r", "w"))
    }
    assert "Feed b–r and read g–w. Then load it" in told_apart(readings)


@given(element=st.floats(80, 200), lead=st.floats(0.1, 5))
def test_three_wires_have_two_at_one_end(element, lead):
    readings = {("1", "2"): 2 * lead, ("1", "3"): element + 2 * lead, ("2", "3"): element + 2 * lead}
    said = told_apart(readings)
    assert said.startswith("1 and 2 are the two wires of one end")
    assert "3 is the other end" in said


def test_a_broken_bridge_is_none_and_what_is_missing_is_asked_for():
    whole = pairs_from("1 2 350\n1-3 262.5\n1 4 262.5\n2 3 262.5\n2 4 262.5\n3 4 350")
    assert "Opposite corners are 1–2 and 3–4" in told_apart(whole)
    broken = {pair: (1050.0 if pair == ("1", "2") else value) for pair, value in whole.items()}
    assert "not the resistances of a whole bridge" in told_apart(broken)
    assert told_apart(pairs_from("1 2 350\n1 3 262")) == "Still to measure: 2–3."
    with pytest.raises(BadTable, match="Line 2: expected two leads and the ohms"):
        pairs_from("1 2 350\n1 3")


def test_each_kind_of_sensor_has_its_tests_with_numbers(demo_job):
    def said(tag):
        return " ".join(f"{one.do}: {one.expect}" for one in lead_tests(demo_job.tagged(tag)))

    assert "107.8 Ω at 20 °C" in said("TE-204")
    assert "two of 350 Ω, which share no lead, and four of 262.5 Ω" in said("WT-206")
    assert "+1.22 mV" in said("TT-203") or "+1.23 mV" in said("TT-203")
    assert "4 to 20 mA one way round, 0 the other" in said("PT-202")
    assert "cannot be told by ohms" in said("PT-201")
    assert "no polarity" in said("PS-211")
