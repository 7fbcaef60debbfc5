"""What stands at Prove, in a sentence: the verdict, and the shift that the errors share."""

from ....core.document.channel import ContinuousChannel
from ....core.prove.proof import Proof
from ....core.words.numerals import decimals_for, fixed, signed
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
