"""Decision rules: their risk is what they say, by simulation; four outcomes; conformance by an independent route."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm, t

from able_yardstick.core.prove.proof import prove
from able_yardstick.core.prove.rule import CheckDoubt, conformance, limit_of, outcome_of
from able_yardstick.core.words.acceptance import DecisionRule
from able_yardstick.core.words.tolerance import Tolerance

DOUBT = CheckDoubt(standard=0.1, expanded=0.2)
GUARDED, RISK = DecisionRule(kind="guarded"), DecisionRule(kind="risk", risk=0.025)


def test_the_four_outcomes_lie_where_u_puts_them():
    found = [outcome_of(error, 1.0, DOUBT) for error in (0.0, 0.8, -0.81, 1.0, 1.01, -1.2, 1.21)]
    assert found == ["pass", "pass", "pass-in-doubt", "pass-in-doubt", "fail-in-doubt", "fail-in-doubt", "fail"]
    assert outcome_of(1.0, 1.0, None) == "pass"
    assert outcome_of(1.1, 1.0, None) == "fail"


@given(error=st.floats(-2, 2), standard=st.floats(0.01, 1), dof=st.floats(2, 500))
def test_conformance_is_that_of_students_distribution(error, standard, dof):
    doubt = CheckDoubt(standard=standard, expanded=2 * standard, dof=dof)
    expected = t.cdf((1 - error) / standard, dof) - t.cdf((-1 - error) / standard, dof)
    assert conformance(error, 1.0, doubt) == pytest.approx(expected, abs=1e-9)


def test_the_band_of_a_risk_is_the_quantile_of_one_side():
    """With a tolerance many u wide the other side does not matter: the limit is T - z u (JCGM 106:2012, 8.3.3)."""
    for risk in (0.01, 0.025, 0.1):
        limit = limit_of(DecisionRule(kind="risk", risk=risk), 1.0, DOUBT)
        assert limit == pytest.approx(1.0 - norm.ppf(1 - risk) * 0.1, abs=1e-9)
    assert limit_of(GUARDED, 1.0, DOUBT) == pytest.approx(0.8)
    assert limit_of(RISK, 0.1, DOUBT) < 0  # nothing can be accepted: the reference is too weak


@pytest.mark.parametrize("rule", [DecisionRule(), GUARDED, RISK], ids=lambda rule: rule.kind)
def test_the_share_of_false_acceptances_is_the_one_foretold(rule):
    """True errors anywhere, 20 000 checks with noise u: those accepted and wrong are as many as conformance says."""
    draws = np.random.default_rng(7)
    true = draws.uniform(-3, 3, 20_000)
    seen = true + draws.normal(0, DOUBT.standard, len(true))
    limit = limit_of(rule, 1.0, DOUBT)
    accepted = np.abs(seen) <= limit
    foretold = 1 - np.array([conformance(error, 1.0, DOUBT) for error in seen[accepted]])
    wrong = np.abs(true[accepted]) > 1.0
    spread = np.sqrt(np.sum(foretold * (1 - foretold)))
    assert abs(wrong.sum() - foretold.sum()) < 4 * spread + 1
    if rule.kind != "simple":
        near = np.abs(seen[accepted]) > limit - 0.02
        assert foretold.max() <= 0.0251
        assert wrong[near].mean() <= 0.025 + 4 * np.sqrt(0.025 / max(near.sum(), 1))


def test_a_proof_states_its_rule_and_judges_by_it():
    rows = ([0.0, 50.0, 100.0], [0.1, 50.5, 100.9])
    simple = prove(*rows, Tolerance(constant=1.0), 100.0, doubts=[DOUBT] * 3)
    guarded = prove(*rows, Tolerance(constant=1.0), 100.0, GUARDED, [DOUBT] * 3)
    assert (simple.passed, guarded.passed) == (True, False)
    assert [check.outcome for check in guarded.checks] == ["pass", "pass", "pass-in-doubt"]
    assert guarded.gain_error == pytest.approx(0.008)
    assert "less its expanded uncertainty U" in guarded.rule.words
    bare = prove(*rows, Tolerance(constant=1.0), 100.0)
    assert bare.passed
    assert [check.conformance for check in bare.checks] == [None, None, None]
    assert prove([5.0], [5.1], Tolerance(constant=1.0), 1.0).gain_error is None
