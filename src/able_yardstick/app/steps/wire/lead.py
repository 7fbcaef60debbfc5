"""What stands at Wire, in a sentence."""

from ....core.document.channel import TwoStateChannel, WiredChannel
from ....core.document.controller import Landing
from ....core.job.job import Job
from ....core.wire.checks import findings_of
from ....core.wire.checks.base import Finding
from ....core.wire.landing import landed
from ....core.words.numerals import counted
from ...panel.lead_box import Headline


def lead_of_wiring(job: Job, channel: WiredChannel) -> Headline:
    """The worst that the checks find; else whether it is landed; else that it is in order."""
    findings = findings_of(job, channel)
    faults = [one.text for one in findings if one.level == "fault"]
    looks = [one.text for one in findings if one.level == "look"]
    place = landed(job, channel)
    if faults:
        return Headline("fault", f"{counted(len(faults), 'fault')} in the wiring.", _first(faults))
    if place is None:
        return Headline("open", "It is on no terminal yet.", "The sums below are those of the path alone.")
    where = f"{place.terminal.full_title} of {place.controller.name}"
    if looks:
        return Headline(
            "look", f"Wired to {place.terminal.title}, {counted(len(looks), 'thing')} to look at.", _first(looks)
        )
    return Headline(
        "ok", f"Wired to {place.terminal.title}: every check passed.", f"It lands on {where}. {way_of(channel)}"
    )


def _first(texts: list[str]) -> str:
    """The first of some sentences, and how many more there are."""
    more = len(texts) - 1
    return texts[0] + (f" And {more} more below." if more else "")


def counted_findings(findings: tuple[Finding, ...]) -> str:
    """How many of each level."""
    counts = {level: sum(finding.level == level for finding in findings) for level in ("pass", "look", "fault")}
    parts = [f"{counts['pass']} ok"] + [f"{counts[word]} {word}" for word in ("look", "fault") if counts[word]]
    return ", ".join(parts)


def way_of(channel: WiredChannel) -> str:
    """What is wired, in a sentence."""
    if isinstance(channel, TwoStateChannel):
        return "A contact: two levels, and the threshold between them at the pin."
    first = {
        "current loop": "A two-wire transmitter, powered by its loop.",
        "ratiometric voltage": "An output that follows its supply.",
        "voltage": "A voltage of its own.",
        "millivolts": "A few millivolts, to be amplified.",
        "bridge": "A bridge: millivolts for each volt of excitation.",
        "resistance": "A resistance, which something must drive a current through.",
        "alternating current": "A transformer's secondary current.",
        "frequency": "Pulses, counted by the controller.",
        "duty cycle": "A share of time switched on.",
        "counts": "Counts of a converter of its own.",
    }[channel.transducer.output]
    parts = ", ".join(stage.title.lower() for stage in channel.path.stages)
    return f"{first} On its way: {parts}." if parts else f"{first} It goes straight to the pin."


def leads_summary(landing: Landing) -> str:
    """How many leads, how long, and where the return goes."""
    back = landing.return_to or "not landed"
    cable = f", {landing.length_m:g} m" if landing.length_m else ""
    return f"{counted(len(landing.leads), 'lead')}{cable}, return {back}"
