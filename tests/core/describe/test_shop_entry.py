"""The shop's own transducers: copies, whose figures are never more than they were."""

import pytest

from able_yardstick.core.describe.shop_entry import ShopEntry, entry_of
from able_yardstick.core.words.record import InvalidRecord


def test_a_copy_starts_as_the_entry_and_tells_its_story(demo_job):
    channel = demo_job.continuous("pt-201")
    entry = ShopEntry.model_validate_json(entry_of(channel, "Gas, 250 kPa", "sheet 4", "Ada").model_dump_json())
    made = entry.channel("new", "device", "PT-1")
    assert (made.path, made.tolerance, made.unit) == (channel.path, channel.tolerance, "kPa")
    assert made.transducer.rating == channel.transducer.rating
    assert "sheet 4" in made.note
    assert (made.landing, made.alarms) == (None, ())


@pytest.mark.parametrize(
    ("origin", "then"),
    [("measured", "similar part"), ("data sheet of this unit", "similar part"), ("assumed", "assumed"),
     ("data sheet of the type", "data sheet of the type")],
)  # fmt: skip
def test_what_was_of_one_unit_is_that_of_a_similar_part_in_another(demo_job, origin, then):
    channel = demo_job.continuous("pt-201")
    channel = channel.with_(transducer=channel.transducer.with_(source=origin))
    made = entry_of(channel, "Gas", "s", "Ada").channel("new", "device", "PT-1")
    assert (made.transducer.source, made.transducer.measured_zero) == (then, None)


def test_an_entry_without_a_source_or_a_name_is_none(demo_job):
    with pytest.raises(InvalidRecord, match="Say where its figures are from"):
        entry_of(demo_job.continuous("pt-201"), "Gas", " ", "Ada")
    with pytest.raises(InvalidRecord, match="Say who vouches"):
        entry_of(demo_job.continuous("pt-201"), "Gas", "sheet", "")
