"""The verdict on a raw signal, in a sentence."""

from ....core.state.progress import StepName, steps_of
from ....core.wake.evidence import TEST_WORDS
from ....core.wake.verdict import Verdict
from ....core.words.numerals import counted
from ...frame.workbench import Workbench
from ...panel.lead_box import Headline


def lead_of_verdict(verdict: Verdict) -> Headline:
    """What it is if one cause is left; else how many are, and what would tell them apart."""
    names = verdict.names
    if not names:
        return Headline("fault", "Nothing known explains this.", verdict.says)
    evidence = verdict.causes[0].why
    more = f"{evidence[:1].upper()}{evidence[1:]}."
    if verdict.is_alone:
        return Headline("ok" if names[0] == "healthy" else "fault", f"{names[0].capitalize()}.", more)
    if names[0] == "healthy":
        title = f"Undecided: healthy, or {names[1] if len(names) == 2 else f'one of {len(names) - 1} more'}."
        more += f" Not ruled out yet: {', '.join(names[1:])}."
    else:
        title = f"It is not as it should be: {counted(len(names), 'cause')} left."
        more += f" Left: {', '.join(names)}."
    if verdict.next_test is not None:
        more += f" Next: {TEST_WORDS[verdict.next_test]}."
    return Headline("look" if names[0] == "healthy" else "fault", title, more)


def next_after(bench: Workbench, step: StepName) -> StepName:
    """The step after one, of those that the channel has; the first where it is the last."""
    channel = bench.channel
    steps = steps_of(channel) if channel is not None else (step,)
    return steps[(steps.index(step) + 1) % len(steps)]
