"""A source that went silent is told of once."""

from able_yardstick.core.lookout.silent import link_key, source_of, told_by_source
from able_yardstick.core.lookout.standing import ChannelStanding

STALE, SOUND = ChannelStanding("stale", "no value", ""), ChannelStanding("value", "", "", 1.0)
SOURCES = {**dict.fromkeys("abcdef", ("plc", "Kiln controller")), "g": ("other", "Logger")}
TAGS = {key: key.upper() for key in "abcdefg"}


def test_all_channels_of_a_source_that_are_stale_are_one_thing():
    found = told_by_source({**dict.fromkeys("abcdef", STALE), "g": SOUND}, SOURCES, TAGS)
    assert set(found) == {"g", link_key("plc")}
    assert found[link_key("plc")].says.startswith("Nothing comes from Kiln controller: A, B, C, D and 2 more")
    assert (source_of(link_key("plc")), source_of("a")) == ("plc", "")


def test_a_channel_that_is_stale_alone_is_told_of_itself():
    standings = {**dict.fromkeys("abcde", SOUND), "f": STALE, "g": STALE}
    assert told_by_source(standings, SOURCES, TAGS) == standings
