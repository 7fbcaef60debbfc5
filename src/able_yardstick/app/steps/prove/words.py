"""What a proof says of its checks, of its rule, and of what it would miss."""

from collections.abc import Sequence

from ....core.document.channel import ContinuousChannel
from ....core.document.output import OutputChannel
from ....core.job.job import Job
from ....core.journal.records import JudgementRecord
from ....core.prove.check_budget import WEAK, strong_enough
from ....core.prove.checks import Check
from ....core.prove.judging import earlier_judgements
from ....core.prove.missed import Missed
from ....core.prove.mistakes.naming import Naming
from ....core.prove.mistakes.words import cause_words, share_words
from ....core.prove.proof import CheckResult, Proof
from ....core.prove.split import Split
from ....core.words.acceptance import sure_words
from ....core.words.numerals import counted, decimals_for, signed, significant
from ...panel.bar_table import Bar

_ALL = float("inf")
RULES = (
    ("simple", "within the tolerance"),
    ("guarded", "within the tolerance less U"),
    ("risk", "by the risk of accepting wrongly"),
)


def outcome_words(check: CheckResult) -> str:
    """Pass or fail, and whether the uncertainty leaves a doubt."""
    word = "pass" if check.passed else "FAIL"
    return f"bare {word}" if check.outcome.endswith("in-doubt") else word


def left_out_words(job: Job, channel_id: str) -> list[str]:
    """That checks were left out, and why; none where none was."""
    reasons = [row.excluded for row in job.amended(channel_id, "prove") if row.excluded]
    if not reasons:
        return []
    return [f"{counted(len(reasons), 'check')} left out: {', '.join(dict.fromkeys(reasons))}."]


def judged_words(proof: Proof, channel: OutputChannel) -> str:
    """The rule that an output was judged by, with what is known of the meter."""
    doubts = [check.doubt.expanded for check in proof.checks if check.doubt is not None]
    sure = [check.conformance for check in proof.checks if check.conformance is not None]
    said = [f"Rule: {proof.rule.words}."]
    if len(doubts) < len(proof.checks):
        said.append("The uncertainty of the meter is not stated: nothing is known of how sure this is.")
    else:
        said.append(f"U is {significant(max(doubts), 2)} {channel.unit} at most.")
        said.append(f"The least sure check is within the tolerance with a probability of {sure_words(min(sure))}.")
    return " ".join(said)


def rule_words(job: Job, channel: ContinuousChannel, proof: Proof) -> str:
    """The rule as every result states it, how sure the weakest check is, and whether the reference is too weak."""
    said = [f"Rule: {proof.rule.words}."]
    known = [check for check in proof.checks if check.doubt is not None]
    if len(known) < len(proof.checks):
        said.append("The uncertainty of the reference is not stated: nothing is known of how sure this is.")
    sure = [check.conformance for check in known if check.conformance is not None]
    if sure:
        said.append(f"The least sure check is within the tolerance with a probability of {sure_words(min(sure))}.")
    said.append(_weakness(job, channel, known))
    said += [_earlier(one) for one in earlier_judgements(job, channel)]
    return " ".join(word for word in said if word)


def _earlier(one: JudgementRecord) -> str:
    """What another rule made of the same numbers before, which stays on record."""
    return f"Judged before, {one.rule.words}: {one.verdict}, {sum(one.passed)} of {len(one.passed)}."


def split_words(split: Split, check: Check, channel: ContinuousChannel) -> str:
    """What a check's error is made of, part by part."""
    unit = channel.unit
    decimals = decimals_for(max(split.one_count, split.digit) / 5 or 1.0)
    parts = [
        f"the numbers {signed(split.packing, decimals)}", f"one count ±{significant(split.one_count, 2)}",
        f"the last digit ±{significant(split.digit, 2)}",
    ]  # fmt: skip
    if split.noise:
        parts.append(f"noise ±{significant(split.noise, 2)}")
    rest = f"{signed(split.rest, decimals)} {unit} are left: a true error" if split.rest else "nothing is left of it"
    return f"{signed(split.error, decimals)} {unit} at {significant(check.reference, 5)}: {', '.join(parts)}; {rest}."


def _weakness(job: Job, channel: ContinuousChannel, checks: Sequence[CheckResult]) -> str:
    """That the reference is too weak to decide, where it is, and which one of the list would do."""
    weak = [(check, check.doubt.expanded) for check in checks if check.doubt is not None]
    weak = [(check, expanded) for check, expanded in weak if expanded > check.allowed / WEAK]
    if not weak:
        return ""
    check, worst = max(weak, key=lambda one: one[1] / max(one[0].allowed, 1e-300))
    others = [one.name for one in strong_enough(job, channel, check.reference, check.allowed)]
    advice = f"{' or '.join(others)} would do." if others else "None on the list of references would do."
    return (
        f"U of ±{significant(worst, 2)} {channel.unit} is more than a third of what is allowed: this reference is too "
        f"weak to decide. {advice}"
    )


def naming_summary(naming: Naming) -> str:
    """The mistakes by their names, shortly."""
    names = [one.name for one in naming.suspects]
    if len(names) > 1:
        return f"{names[0]}, or {counted(len(names) - 1, 'other')}"
    return names[0] if names else "no known mistake"


def naming_bars(naming: Naming, channel: ContinuousChannel) -> list[Bar]:
    """How much of the errors each mistake explains alone, then the patterns that name no cause."""
    bars = [
        Bar(one.name, share_words(one.explained), max(one.explained, 0.0), _rest(cause_words(one), one.left, channel))
        for one in naming.suspects
    ]
    return bars + [
        Bar(_only(one.name), share_words(one.explained), max(one.explained, 0.0), _rest("", one.left, channel))
        for one in naming.patterns
    ]


def _only(pattern: str) -> str:
    return f"only {pattern.removeprefix('an ')}"


def _rest(words: str, left: float, channel: ContinuousChannel) -> str:
    return f"{words}; " * bool(words) + f"leaves {significant(left, 2)} {channel.unit}"


def missed_words(found: Sequence[Missed], weak: Sequence[str]) -> str:
    """What speaks against the checks, and what the bars mean, or why there are none."""
    means = "An error as large as told here would still pass every check once in twenty proofs."
    if not found:
        means = "Not known: state the uncertainty of the reference (Shift+F4), and say which one was read."
    return " ".join([*weak, means])


def missed_summary(found: Sequence[Missed], channel: ContinuousChannel) -> str:
    """The kind of error of which most would be missed."""
    worst = max(found, key=lambda one: one.largest, default=None)
    if worst is None:
        return "not known"
    return f"{worst.shape}: {_size(worst.largest)} {channel.unit if worst.largest < _ALL else ''}".strip()


def missed_bars(found: Sequence[Missed], allowed: float, channel: ContinuousChannel) -> list[Bar]:
    """Each kind of error with the largest that passes, the error allowed being half of a bar."""
    return [
        Bar(
            one.shape,
            _size(one.largest),
            min(one.largest / (2 * allowed), 1.0) if allowed else 1.0,
            _next(one, channel),
        )
        for one in found
    ]


def _size(largest: float) -> str:
    return "any" if largest == _ALL else significant(largest, 3)


def _next(one: Missed, channel: ContinuousChannel) -> str:
    """Where it would show most, and the check that shrinks it most."""
    if one.largest == 0:
        return ""
    at = f"largest at {significant(one.at, 4)}" if one.largest < _ALL else "no check sees it"
    if one.next_stop is None or one.largest_then > 0.98 * one.largest:
        return at
    return f"{at}; a check at {significant(one.next_stop, 4)} {channel.unit} brings it to {_size(one.largest_then)}"
