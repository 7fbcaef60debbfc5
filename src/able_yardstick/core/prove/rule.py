"""The rule by which a check is judged, stated before it is taken: what an error may be, and how sure that must be.

The true error is believed to lie about the one found as Student's distribution has it, with the standard uncertainty of
the check and its degrees of freedom (JCGM 106:2012, 7.3, with a prior that knows nothing). A guard band takes from the
error allowed on either side (8.3.3): the expanded uncertainty, or as much as a stated risk of false acceptance needs.
"""

from typing import Literal

from pydantic import Field

from ..words.acceptance import DecisionRule
from ..words.record import Finite, Frozen

Outcome = Literal["pass", "pass-in-doubt", "fail-in-doubt", "fail"]
_HALVINGS = 60
_ENDLESS = 1e6  # degrees of freedom


class CheckDoubt(Frozen):
    """What is not known of one check's error: standard and expanded uncertainty, in the channel's unit, and freedom."""

    standard: Finite = Field(gt=0)
    expanded: Finite = Field(gt=0)
    dof: float = Field(default=_ENDLESS, gt=0)


def limit_of(rule: DecisionRule, allowed: float, doubt: CheckDoubt | None) -> float:
    """The largest error that a rule accepts, in the unit of the error allowed; below 0 where none is."""
    if doubt is None or rule.kind == "simple":
        return allowed
    if rule.kind == "guarded":
        return allowed - doubt.expanded
    if 1 - conformance(0.0, allowed, doubt) > rule.risk:
        return -doubt.expanded
    low, high = 0.0, allowed
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if 1 - conformance(middle, allowed, doubt) <= rule.risk:
            low = middle
        else:
            high = middle
    return low


def conformance(error: float, allowed: float, doubt: CheckDoubt) -> float:
    """The probability that the true error lies within the tolerance, given the one found (JCGM 106:2012, 7.4)."""
    from scipy.special import ndtr, stdtr

    above, below = ((end - error) / doubt.standard for end in (allowed, -allowed))
    if doubt.dof >= _ENDLESS:
        return float(ndtr(above) - ndtr(below))
    return float(stdtr(doubt.dof, above) - stdtr(doubt.dof, below))


def outcome_of(error: float, allowed: float, doubt: CheckDoubt | None, slack: float = 0.0) -> Outcome:
    """Within the tolerance or not, and whether the uncertainty leaves a doubt of that."""
    size, expanded = abs(error), 0.0 if doubt is None else doubt.expanded
    if size <= allowed - expanded + slack:
        return "pass"
    if size <= allowed + slack:
        return "pass-in-doubt"
    return "fail-in-doubt" if size <= allowed + expanded + slack else "fail"
