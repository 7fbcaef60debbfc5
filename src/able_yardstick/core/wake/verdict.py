"""The verdict: every cause that the evidence leaves standing, why, and the test that would tell them apart.

Each cause foretells what each test would show. A cause stays in the set while nothing seen contradicts it; so the set
is honest where a signal alone cannot tell an open lead from a lost supply, or a stuck sensor from a quiet one.
"""

from typing import NamedTuple

from .case import Case
from .causes import Cause
from .evidence import TEST_WORDS, Evidence, TestName
from .inputs import LookInputs
from .next_test import next_test
from .standing import standing_of, without_coincidence
from .words import evidence_words


class Suspicion(NamedTuple):
    """A cause that nothing seen contradicts, and what speaks for it."""

    cause: Cause
    why: str


class Verdict(NamedTuple):
    """The causes left standing, the likeliest first; the next test that would separate them, and its words."""

    causes: tuple[Suspicion, ...]
    next_test: TestName | None
    says: str

    @property
    def first(self) -> Cause | None:
        """The likeliest cause; None where nothing known explains what was seen."""
        return self.causes[0].cause if self.causes else None

    @property
    def names(self) -> tuple[Cause, ...]:
        """The causes' names."""
        return tuple(suspicion.cause for suspicion in self.causes)

    @property
    def is_alone(self) -> bool:
        """Whether one cause is left."""
        return len(self.causes) == 1


def diagnose(inputs: LookInputs, evidence: Evidence) -> Verdict:
    """The causes that the evidence leaves standing for a channel."""
    case = Case(inputs, evidence)
    standing = standing_of(case)
    if next_test(case, standing) is None:
        standing = without_coincidence(case, standing)
    found = tuple(Suspicion(cause, evidence_words(case, cause)) for cause in standing)
    test = next_test(case, standing)
    return Verdict(found, test, _says(standing, test, evidence.expected is not None))


def _says(standing: list[Cause], test: TestName | None, knows_state: bool) -> str:
    if not standing:
        return (
            "Nothing known explains this. The plant may still have been moving: wait, and look again. Else check the "
            "description and the expected state."
        )
    first = standing[0]
    rest = ", ".join(standing[1:])
    words = "Undecided: nothing wrong was seen" if first == "healthy" and rest else first.capitalize()
    if first == "healthy" and not knows_state:
        words += " (say which state the plant is in: without it an offset cannot be seen)"
    if not rest:
        return f"{words}."
    told = f"{words}; not ruled out yet: {rest}." if first == "healthy" else f"Not told apart yet: {first}, {rest}."
    return f"{told} {TEST_WORDS[test]}." if test else f"{told} Nothing left to try tells them apart."
