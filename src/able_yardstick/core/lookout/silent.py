"""Sources that went silent: told of once each, and not by every channel that they fed."""

from collections.abc import Mapping

from .standing import ChannelStanding

_LINK = "link "
_NAMED = 4


def link_key(source_id: str) -> str:
    """What stands for a source among the rows that need attention."""
    return f"{_LINK}{source_id}"


def source_of(key: str) -> str:
    """The source that a row stands for, by its id; empty for a row of another kind."""
    return key.removeprefix(_LINK) if key.startswith(_LINK) else ""


def told_by_source(
    standings: Mapping[str, ChannelStanding], sources: Mapping[str, tuple[str, str]], tags: Mapping[str, str]
) -> dict[str, ChannelStanding]:
    """Standings in which a source of which every channel is stale stands in for them.

    `sources` give the id and name of the source of each channel, `tags` its tag, by the channels' ids.
    """
    fed: dict[str, list[str]] = {}
    for key, (source, _name) in sources.items():
        fed.setdefault(source, []).append(key)
    found = dict(standings)
    for source, keys in fed.items():
        known = [key for key in keys if key in standings]
        if len(known) > 1 and all(standings[key].kind == "stale" for key in known):
            for key in known:
                del found[key]
            named = ", ".join(tags.get(key, "?") for key in known[:_NAMED])
            more = f" and {len(known) - _NAMED} more" if len(known) > _NAMED else ""
            name = sources[known[0]][1]
            says = f"Nothing comes from {name}: {named}{more} have no value. See Sources (F4)."
            found[link_key(source)] = ChannelStanding("stale", "silent", says)
    return found
