"""Controllers and terminals: what takes a signal, who holds it, and the list of leads."""

import pytest

from able_yardstick.core.describe.derivation import derivation
from able_yardstick.core.describe.edits import with_output, with_rated_pair
from able_yardstick.core.document.controller import CHASSIS
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.job.nodes import end_rows, nodes_of, pin_of_node, used_share, values_at
from able_yardstick.core.wire.edits import land, unland
from able_yardstick.core.wire.landing import landed, offers, wiring_rows
from able_yardstick.core.words.errors import NoSuchThing, NotApplicable
from able_yardstick.files.controllers import shipped

LOGGER = next(one for one in shipped() if one.id == "bench-logger")


def standing(job, tag):
    return {offer.terminal.id: offer for offer in offers(job, job.tagged(tag))}


def test_only_terminals_that_take_the_signal_come_with_a_kind(demo_job):
    draft, dryer, flow = (standing(demo_job, tag) for tag in ("PT-202", "TE-204", "FT-210"))
    assert {name for name, offer in draft.items() if offer.kind} >= {"X4:2", "X4:3", "X7:1"}
    assert {name for name, offer in dryer.items() if offer.kind} == {"X5:1", "X5:3"}
    assert {name for name, offer in flow.items() if offer.kind} == {"X6:1", "X6:2"}
    assert [offer.kind is None for offer in offers(demo_job, demo_job.tagged("TE-204"))][:2] == [False, False]


def test_free_taken_reserved_and_ones_own_are_told_apart(demo_job):
    found = standing(demo_job, "PT-202")
    assert (found["X4:3"].standing, found["X4:3"].can_be_taken) == ("yours", True)
    assert (found["X4:2"].standing, found["X4:2"].holder) == ("taken", "PT-201")
    assert found["X7:3"].standing == "reserved"
    assert standing(demo_job, "TE-204")["X5:3"].can_be_taken


@pytest.mark.parametrize(
    ("tag", "terminal", "words"),
    [
        ("PT-202", "X4:2", "X4:2 of Kiln controller is held by PT-201. Choose a free terminal."),
        ("WT-206", "X7:3", "is reserved: strain gauge pair of the weighing card"),
        ("TE-204", "X6:2", "X6:2 takes 0 to 1 kHz; TE-204 gives resistance. Choose a terminal that takes it."),
        ("PT-202", "X4:5", "X4:5 is no input: land the signal on one."),
    ],
)
def test_a_clash_is_refused_saying_who_holds_it_or_what_it_takes(demo_job, tag, terminal, words):
    with pytest.raises(NotApplicable) as refusal:
        land(demo_job, demo_job.tagged(tag).id, "kiln-controller", terminal)
    assert words in str(refusal.value)


def test_a_terminal_brings_its_converter_and_moving_frees_the_old_one(demo_job):
    moved = land(demo_job, "te-204", "kiln-controller", "X5:3")
    assert landed(moved, moved.tagged("TE-204")).terminal.id == "X5:3"
    assert standing(moved, "TE-204")["X5:1"].standing == "free"
    off = unland(moved, "te-204")
    assert off.tagged("TE-204").landing is None
    assert off.tagged("TE-204").path == moved.tagged("TE-204").path


def test_a_terminal_with_a_burden_of_its_own_takes_the_place_of_the_shunt():
    channel = with_rated_pair(with_output(new_continuous("c", "d", "T"), "current loop"))
    job = add_channel(Job.new("j", controllers=(LOGGER,)), channel)
    job = land(job, "c", LOGGER.id, "in-2")
    stages = job.tagged("T").path.stages
    assert [(stage.kind, stage.resistance_ohm) for stage in stages] == [("shunt", 125.0)]
    assert used_share(job.tagged("T")) == pytest.approx(2.0 / 3.0)


def test_the_narrowest_input_that_holds_the_signal_is_taken():
    channel = with_rated_pair(new_continuous("c", "d", "T"))
    job = add_channel(Job.new("j", controllers=shipped()), channel)
    kinds = {(offer.controller.id, offer.terminal.id): offer.kind for offer in offers(job, channel)}
    assert kinds["bench-logger", "in-1"].name == "±10 V"
    assert kinds["small-card", "adc0"].name == "0 to 3.3 V"


def test_every_name_of_a_terminal_leads_to_it(demo_job):
    controller = demo_job.controllers[0]
    for name in ("X4:3", "j2-3", "ai 3", "30003"):
        assert controller.named(name).id == "X4:3"
    assert controller.terminal("X4:3").full_title == "X4:3 · J2-3 · AI 3 · 30003"
    with pytest.raises(NoSuchThing, match="has no terminal called X9:9"):
        controller.named("X9:9")


def test_the_wiring_list_has_every_lead_in_all_names(demo_job):
    rows = {row.function: row for row in wiring_rows(demo_job, demo_job.tagged("PT-202"))}
    assert (rows["loop +"].colour, rows["loop +"].strip, rows["loop +"].note) == ("brown", "X4:10", "24 V out")
    assert (rows["loop −"].connector, rows["loop −"].channel, rows["loop −"].register) == ("J2-3", "AI 3", "30003")
    assert {row.shield for row in rows.values()} == {"joined at the panel only"}
    element = [row.function for row in wiring_rows(demo_job, demo_job.tagged("TE-204"))]
    assert element == ["element a", "element b", "sense 1"]
    contact = wiring_rows(demo_job, demo_job.tagged("PS-211"))[0]
    assert contact.note == "contact, 5 V, watched only, the controller calls it fuel level"


def test_a_return_on_chassis_is_listed_as_such(demo_job):
    channel = demo_job.tagged("PT-201")
    leads = tuple(one.with_(terminal=CHASSIS) if one.function == "return" else one for one in channel.landing.leads)
    changed = channel.with_(landing=channel.landing.with_(leads=leads, return_to=CHASSIS))
    rows = wiring_rows(change_channel(demo_job, changed), changed)
    assert rows[-1].strip == "chassis"


def test_every_node_is_read_at_a_place_and_leads_back_to_it(demo_job):
    for channel in (demo_job.tagged(tag) for tag in ("PT-202", "TT-203", "TE-204", "TE-205", "WT-206", "FT-210")):
        for row in end_rows(demo_job, channel):
            for node, value in zip(nodes_of(demo_job, channel), row.values, strict=True):
                if node.key in ("counts", "shown"):
                    continue
                assert pin_of_node(channel, node.key, value) == pytest.approx(row.pin, rel=1e-9, abs=1e-9)
    with pytest.raises(NotApplicable, match="has no node 7"):
        pin_of_node(demo_job.tagged("PT-202"), "node 7", 1.0)


def test_the_nodes_of_the_load_cell_are_the_chain_worked_by_hand(demo_job):
    values = values_at(demo_job, demo_job.tagged("WT-206"), 4.8205)
    gain = 1 + 50_000 / (100 + 4.3 * 47 / 51.3)
    assert values["node 1"] == pytest.approx(4.8205 / gain * 1000)
    assert values["output"] == pytest.approx(values["node 1"] / 10)
    assert values["quantity"] == pytest.approx(values["output"] * 1000)
    assert values["counts"] == round(4.8205 / 10 * 65535)


def test_the_derivation_says_every_step_with_its_numbers(demo_job):
    lines = derivation(demo_job, demo_job.tagged("PT-202"))
    assert lines[1] == "1. Pa = 18.75 × mA − 225 (data sheet of this unit)"
    assert "V = mA × 0.249938: 250 Ω, with 1 MΩ of what follows beside it" in lines[2]
    assert lines[4].startswith("Low end: −150.00 Pa → 4.000 mA → 1.000 V → 819 counts")
    assert any("the other way 4.99878 V" in line for line in lines)
