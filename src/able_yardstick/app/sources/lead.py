"""What stands at Sources, in a sentence: which links answer."""

from collections.abc import Mapping, Sequence

from ...bench.link import LinkStatus
from ...core.document.sources import AnySource
from ...core.words.numerals import counted
from ..panel.lead_box import Headline

_GAPS = "A link that drops is tried again by itself; what was missed stays a gap."


def lead_of_links(sources: Sequence[AnySource], statuses: Mapping[str, LinkStatus], is_on: bool) -> Headline:
    """How many of the sources in use answer, and what the first that does not says."""
    wanted = [source for source in sources if source.enabled]
    if not sources:
        return Headline(
            "open", "No sources yet.", "Add one, or start the simulated plant. Everything can be typed too."
        )
    if not is_on:
        return Headline("open", "Not connected.", f"{counted(len(wanted), 'source')} of this job would be asked.")
    silent = [name for name, status in statuses.items() if status.standing != "answering"]
    says = f"{len(wanted) - len(silent)} of {len(wanted)} links answer."
    if not silent:
        lost = sum(status.lost for status in statuses.values())
        return Headline("look" if lost else "ok", says, f"{counted(lost, 'value')} lost. {_GAPS}" if lost else _GAPS)
    first = statuses[silent[0]]
    return Headline("fault", says, f"{silent[0]}: {first.error or 'not answered yet'}. {_GAPS}")
