"""Proving: errors of what is shown against the reference, and their judgement by a stated rule.

The rule is simple acceptance (JCGM 106:2012, 8.2): a check passes when its error is within the tolerance, with no
guard band.
"""

from collections.abc import Sequence

import numpy as np

from ..words.errors import TooFewReadings
from ..words.record import Frozen, Reckoned
from ..words.tolerance import Tolerance

RULE = "pass when the error is within the tolerance; no guard band"


class CheckResult(Frozen):
    """One check: `error` is shown minus reference, `share` that of the tolerance used up."""

    reference: Reckoned
    shown: Reckoned
    error: Reckoned
    allowed: Reckoned
    share: Reckoned
    passed: bool


class Proof(Frozen):
    """The outcome of checks. `shift` is the mean error, `shift_spread` its scatter from check to check."""

    checks: tuple[CheckResult, ...]
    shift: Reckoned
    shift_spread: Reckoned | None
    passed: bool

    @property
    def verdict(self) -> str:
        """The outcome in one word."""
        return "pass" if self.passed else "fail"

    @property
    def largest(self) -> CheckResult:
        """The check that uses up most of its tolerance."""
        return max(self.checks, key=lambda check: check.share)


def prove(reference: Sequence[float], shown: Sequence[float], tolerance: Tolerance, span: float) -> Proof:
    """Judge what was shown against the reference, both in the channel's unit.

    Raises: TooFewReadings with no check at all, or without a tolerance to judge by.
    """
    if not len(reference):
        raise TooFewReadings(
            "There is no check to judge. Enter a reference value and what was shown.", needed=1, found=0
        )
    if not tolerance.is_stated:
        raise TooFewReadings("No tolerance is stated, so nothing can pass or fail. State one.", needed=1, found=0)
    checks = tuple(judge(*row, tolerance, span) for row in zip(reference, shown, strict=True))
    errors = np.array([check.error for check in checks])
    return Proof(
        checks=checks,
        shift=float(errors.mean()),
        shift_spread=float(errors.std(ddof=1)) if len(errors) > 1 else None,
        passed=all(check.passed for check in checks),
    )


def judge(reference: float, shown: float, tolerance: Tolerance, span: float) -> CheckResult:
    """One check against its tolerance, all in one unit."""
    error, allowed = shown - reference, float(tolerance.at(reference, span))
    # the last digit of a decimal difference is not an error: 100.5 − 100 against 0.5 passes
    passed = abs(error) <= allowed + 1e-12 * max(abs(reference), abs(shown))
    share = abs(error) / allowed if allowed > 0 else (0.0 if passed else 1e9)
    return CheckResult(reference=reference, shown=shown, error=error, allowed=allowed, share=share, passed=passed)
