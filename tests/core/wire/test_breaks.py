"""What each break would read like: worked out by hand for each kind of signal, and whether it can be told."""

import pytest

from able_yardstick.core.describe.catalogue import ENTRIES
from able_yardstick.core.describe.edits import with_rated_pair
from able_yardstick.core.document.channel import TwoStateChannel
from able_yardstick.core.job.channels import add_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.stages import Clamp, PulsePullUp
from able_yardstick.core.wire.breaks import breaks_of, contact_breaks


def found(job, tag):
    return {one.name: one for one in breaks_of(job, job.tagged(tag))}


def test_a_loop_that_breaks_is_told_but_not_which_break_it_was(demo_job):
    breaks = found(demo_job, "PT-202")
    for name in ("lead open", "supply lost", "leads swapped", "shunt shorted"):
        assert (breaks[name].pin, breaks[name].counts, breaks[name].told) == (0.0, 0, "seen")
    assert breaks["shunt open"].pin == 24.0
    assert breaks["leads shorted"].pin == pytest.approx(24 / 253 * 250 * 1e6 / (1e6 + 250))
    assert breaks["leads shorted"].harm == "2.25 W in a shunt of 0.25 W"
    assert {breaks[name].told for name in ("shunt open", "leads shorted")} == {"over-voltage"}


def test_a_transmitter_that_fails_high_reads_like_its_top_and_low_is_told(demo_job):
    breaks = found(demo_job, "PT-202")
    assert (breaks["transmitter fails high"].counts, breaks["transmitter fails high"].told) == (4095, "not seen")
    assert breaks["transmitter fails high"].shows == pytest.approx(149.2, abs=0.15)
    assert breaks["transmitter fails low"].told == "seen"
    assert breaks["transmitter fails low"].pin == pytest.approx(0.9, abs=0.001)


def test_a_thermocouple_shorted_at_its_terminals_reads_their_temperature(demo_job):
    shorted = found(demo_job, "TT-203")["leads shorted"]
    assert (shorted.told, shorted.shows) == ("not seen", pytest.approx(32.0, abs=0.2))
    assert found(demo_job, "TT-203")["lead open"].told == "seen"


def test_a_third_wire_that_opens_reads_both_leads(demo_job):
    third = found(demo_job, "TE-204")["third wire open"]
    assert third.told == "not seen"
    assert third.pin == pytest.approx(144.18, abs=0.01) or "2.4 Ω too much" in third.says


def test_a_thermistor_lets_its_breaks_be_told_by_which_end_they_go_to(demo_job):
    breaks = found(demo_job, "TE-205")
    assert breaks["lead open"].pin == 5.0
    assert breaks["pull-up open"].pin == breaks["leads shorted"].pin == 0.0
    assert {one.told for one in breaks.values()} == {"seen"}


def test_a_bridge_without_excitation_reads_like_no_load(demo_job):
    breaks = found(demo_job, "WT-206")
    assert (breaks["excitation lost"].told, breaks["excitation lost"].shows) == ("not seen", 0.0)
    assert breaks["signal lead open"].pin == 12.0


def test_pulses_that_stop_read_like_no_flow(demo_job):
    breaks = found(demo_job, "FT-210")
    assert set(breaks) == {"lead open", "shorted", "supply lost", "pull-up open"}
    assert {(one.told, one.shows) for one in breaks.values()} == {("not seen", 0.0)}


def test_a_pin_that_nothing_holds_may_read_anything():
    channel = with_rated_pair(new_continuous("c", "d", "T"))
    job = add_channel(Job(id="j"), channel)
    assert found(job, "T")["lead open"].told == "not known"
    assert found(job, "T")["lead open"].pin is None


def test_a_clamp_holds_every_break_at_its_level(demo_job):
    channel = demo_job.tagged("PT-202")
    path = channel.path.with_(stages=(*channel.path.stages, Clamp(high_v=5.6)))
    clamped = channel.with_(path=path)
    assert all(one.pin <= 5.6 for one in breaks_of(demo_job, clamped) if one.pin is not None)
    assert "over-voltage" not in {one.told for one in breaks_of(demo_job, clamped)}


def test_a_contact_reads_each_break_as_one_of_its_states():
    contact = TwoStateChannel(id="s", device="d", tag="S", pull_up=PulsePullUp())
    says = {one.name: one.says for one in contact_breaks(contact)}
    assert says["lead open"] == "5 V, reads like “open”"
    assert says["leads shorted"] == "0 V, reads like “closed”"


@pytest.mark.parametrize("entry", ENTRIES, ids=lambda entry: f"{entry.group}: {entry.title}")
def test_every_kind_of_transducer_has_its_breaks(entry):
    channel = entry.channel("c", "d", "T-1")
    breaks = breaks_of(add_channel(Job(id="j"), channel), channel)
    assert len(breaks) >= 2
    assert all(one.says or one.pin is None for one in breaks)
