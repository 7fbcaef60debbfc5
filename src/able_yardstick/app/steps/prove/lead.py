"""What stands at Prove, in a sentence: the verdict, and the shift that the errors share."""

from ....core.document.channel import ContinuousChannel
from ....core.document.output import OutputChannel
from ....core.job.job import Job
from ....core.outputs.proving import next_wanted, output_proof
from ....core.prove.proof import Proof
from ....core.words.numerals import decimals_for, fixed, signed, significant
from ...panel.lead_box import Headline


def lead_of_proof(proof: Proof, channel: ContinuousChannel) -> Headline:
    """How many of the checks pass, and what their errors have in common."""
    passed = sum(check.passed for check in proof.checks)
    says = f"{'Pass' if proof.passed else 'Fail'}: {passed} of {len(proof.checks)} checks within."
    return Headline("ok" if proof.passed else "fault", says, shift_sentence(proof, channel))


def shift_sentence(proof: Proof, channel: ContinuousChannel) -> str:
    """The mean error with its scatter, and what it can and cannot tell."""
    spread = proof.shift_spread
    if spread is None:
        return (
            f"One check: an error of {signed(proof.shift, 3)} {channel.unit}. It proves no slope: check elsewhere too."
        )
    decimals = decimals_for(spread / 10 or abs(proof.shift) / 10 or 1.0)
    said = f"{signed(proof.shift, decimals)} {channel.unit}, scattering by {fixed(spread, decimals)}"
    low = min(check.reference for check in proof.checks)
    high = max(check.reference for check in proof.checks)
    share = (high - low) / channel.span
    tail = "" if share >= 0.5 else f" The checks span only {share:.0%} of the range: a wrong slope could hide."
    alike = abs(proof.shift) > 2 * spread
    words = "The errors are alike: they share a shift of" if alike else "Common shift of the errors:"
    return f"{words} {said}.{tail}"


def lead_of_output_proof(job: Job, channel: OutputChannel, proof: Proof | None) -> Headline:
    """The verdict on an output's counts, what was found before, and which value is to be sent next."""
    found = output_proof(job, channel, found=True)
    remark = ""
    if found is not None:
        passed = sum(check.passed for check in found.checks)
        remark = f"As found: {passed} of {len(found.checks)} within the error allowed. "
    stop = next_wanted(job, channel)
    more = remark + ("" if stop is None else f"Next: send {significant(stop, 6)} {channel.unit}.")
    if proof is None:
        stated = channel.tolerance.is_stated
        says = "No checks of these counts yet." if stated else "No error allowed is stated yet."
        return Headline("open", says, more)
    passed = sum(check.passed for check in proof.checks)
    says = f"{'Pass' if proof.passed else 'Fail'}: {passed} of {len(proof.checks)} checks within."
    return Headline("fault" if not proof.passed else "ok" if stop is None else "open", says, more)
