"""Proving: errors of what is shown against the reference, and their judgement by a stated rule (JCGM 106:2012, 8)."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..words.acceptance import DecisionRule
from ..words.errors import TooFewReadings
from ..words.record import Frozen, Reckoned
from ..words.tolerance import Tolerance
from .rule import CheckDoubt, Outcome, conformance, limit_of, outcome_of

SIMPLE = DecisionRule()


class CheckResult(Frozen):
    """One check: `error` is shown minus reference, `share` that of the tolerance used up.

    `passed` is by the rule; `conformance` the probability that the true error is within the tolerance, None without an
    uncertainty.
    """

    reference: Reckoned
    shown: Reckoned
    error: Reckoned
    allowed: Reckoned
    share: Reckoned
    passed: bool
    outcome: Outcome = "pass"
    doubt: CheckDoubt | None = None
    conformance: float | None = None


class Proof(Frozen):
    """The outcome of checks by a rule.

    `shift` is the mean error, `shift_spread` its scatter from check to check; `gain_error` how much it changes for each
    unit of the reference, None where all are at one place.
    """

    checks: tuple[CheckResult, ...]
    shift: Reckoned
    shift_spread: Reckoned | None
    passed: bool
    gain_error: Reckoned | None = None
    rule: DecisionRule = SIMPLE

    @property
    def verdict(self) -> str:
        """The outcome in one word."""
        return "pass" if self.passed else "fail"

    @property
    def largest(self) -> CheckResult:
        """The check that uses up most of its tolerance."""
        return max(self.checks, key=lambda check: check.share)


def prove(
    reference: Sequence[float],
    shown: Sequence[float],
    tolerance: Tolerance,
    span: float,
    rule: DecisionRule = SIMPLE,
    doubts: Sequence[CheckDoubt | None] | None = None,
) -> Proof:
    """Judge what was shown against the reference, both in the channel's unit, by a rule.

    `doubts` are the uncertainties of the checks, None where one is not known: such a check is judged without a guard
    band, and says so by having none. Raises: TooFewReadings with no check at all, or without a tolerance to judge by.
    """
    if not len(reference):
        raise TooFewReadings(
            "There is no check to judge. Enter a reference value and what was shown.", needed=1, found=0
        )
    if not tolerance.is_stated:
        raise TooFewReadings("No tolerance is stated, so nothing can pass or fail. State one.", needed=1, found=0)
    known = doubts if doubts is not None else [None] * len(reference)
    rows = zip(reference, shown, known, strict=True)
    checks = tuple(judge(one, other, tolerance, span, rule, doubt) for one, other, doubt in rows)
    errors = np.array([check.error for check in checks])
    return Proof(
        checks=checks,
        shift=float(errors.mean()),
        shift_spread=float(errors.std(ddof=1)) if len(errors) > 1 else None,
        passed=all(check.passed for check in checks),
        gain_error=_gain_error(np.asarray(reference, dtype=float), errors),
        rule=rule,
    )


def _gain_error(reference: NDArray[np.float64], errors: NDArray[np.float64]) -> float | None:
    """The slope of errors over references, shapes (n,), by least squares; None where there is no spread."""
    apart = reference - reference.mean()
    square = float(apart @ apart)
    return float(apart @ errors / square) if square > 0 else None


def judge(
    reference: float,
    shown: float,
    tolerance: Tolerance,
    span: float,
    rule: DecisionRule = SIMPLE,
    doubt: CheckDoubt | None = None,
) -> CheckResult:
    """One check against its tolerance by a rule, all in one unit."""
    error, allowed = shown - reference, float(tolerance.at(reference, span))
    # the last digit of a decimal difference is not an error: 100.5 − 100 against 0.5 passes
    slack = 1e-12 * max(abs(reference), abs(shown))
    within = abs(error) <= allowed + slack
    share = abs(error) / allowed if allowed > 0 else (0.0 if within else 1e9)
    return CheckResult(
        reference=reference,
        shown=shown,
        error=error,
        allowed=allowed,
        share=share,
        passed=abs(error) <= limit_of(rule, allowed, doubt) + slack,
        outcome=outcome_of(error, allowed, doubt, slack),
        doubt=doubt,
        conformance=None if doubt is None else conformance(error, allowed, doubt),
    )
