"""References that need no instrument, for each quantity that nature gives one."""

import pytest

from able_yardstick.core.gather.gathering import referenced
from able_yardstick.core.gather.natural_stops import natural_stops


def words_of(job, tag, **conditions):
    channel = job.tagged(tag)
    return [one.words for one in natural_stops(channel.with_(conditions=channel.conditions.with_(**conditions)))]


def test_each_quantity_has_its_own(demo_job):
    assert words_of(demo_job, "PT-201") == ["Open to the air: 0 kPa"]
    assert words_of(demo_job, "PT-202") == ["Both ports open: 0 Pa"]
    assert words_of(demo_job, "WT-206") == ["Nothing on it: 0 kg"]
    assert words_of(demo_job, "FT-210") == ["No flow: 0 m³/h"]
    assert words_of(demo_job, "TE-204")[0].startswith("Melting ice: 0 ± ")
    assert words_of(demo_job, "AT-208") == ["Dry air: 20.946 ± 0.01 % O2"]


def test_the_steam_point_goes_by_the_barometer_that_was_noted(demo_job):
    assert len(words_of(demo_job, "TE-204")) == 1
    assert words_of(demo_job, "TE-204", barometer_kpa=101.325)[1].startswith("Boiling water's steam: 99.97")


def test_its_uncertainty_goes_with_it(demo_job):
    channel = demo_job.tagged("TE-204")
    ice = natural_stops(channel)[0]
    one = ice.reference("ice")
    said = referenced(channel, 0.0, "°C", one, one.due)
    assert said.fields["reference_id"] == "ice"
    assert said.fields["reference_standard"] == pytest.approx(ice.value.standard_uncertainty)
