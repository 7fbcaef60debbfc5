"""The rule by which an error is accepted, chosen before it is known (JCGM 106:2012, 8)."""

from typing import Literal

from pydantic import Field

from .record import Finite, Frozen

_NEARLY = 0.999  # what is nearer to sure than this rests on the shape of the tails

RuleKind = Literal["simple", "guarded", "risk"]


class DecisionRule(Frozen):
    """Simple acceptance; acceptance with a guard band of U; or with the band that a largest risk needs.

    `risk` is the largest probability that an error which is accepted lies outside the tolerance.
    """

    kind: RuleKind = "simple"
    risk: Finite = Field(default=0.025, gt=0, lt=0.5)

    @property
    def words(self) -> str:
        """The rule in a sentence, as every result states it."""
        return {
            "simple": "pass when the error is within the tolerance; no guard band",
            "guarded": "pass when the error is within the tolerance less its expanded uncertainty U",
            "risk": f"pass when the true error is outside the tolerance with a probability of {self.risk:.3g} at most",
        }[self.kind]


def sure_words(probability: float) -> str:
    """A probability in percent, one that is nearly sure as such."""
    if probability > _NEARLY:
        return f"more than {_NEARLY:.1%}"
    return f"less than {1 - _NEARLY:.1%}" if probability < 1 - _NEARLY else f"{probability:.1%}"
