"""A controller's terminals as words: read back as they were, typed by hand, pasted from a manual."""

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.describe.edits import with_output
from able_yardstick.core.document.controller import Controller
from able_yardstick.core.job.channels import add_channel, new_continuous
from able_yardstick.core.wire.edits import add_controller, describe_controller, land
from able_yardstick.core.wire.pin_table import COLUMNS, kind_from, rows_from, terminal_of, texts_of
from able_yardstick.core.words.errors import BadTable, NotApplicable
from able_yardstick.files.controllers import shipped


@pytest.mark.parametrize("controller", shipped(), ids=lambda one: one.id)
def test_every_terminal_that_ships_is_read_back_as_it_was(controller):
    for terminal in controller.terminals:
        assert terminal_of(texts_of(terminal), terminal) == terminal


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        ("0 to 5 V", ("V", 0, 5, None, False)),
        ("±10 V", ("V", -10, 10, None, False)),
        ("0..3.3V", ("V", 0, 3.3, None, False)),
        ("4-20 mA, 250 Ω", ("V", 0, 5, 250, False)),
        ("0 to 20 mA (125 ohm)", ("V", 0, 2.5, 125, False)),
        ("0 to 400 ohm", ("Ω", 0, 400, None, False)),
        ("0 to 1 kHz", ("Hz", 0, 1000, None, False)),
        ("contact, 24 V", ("V", 0, 24, None, True)),
        ("-50 to 50 mV", ("mV", -50, 50, None, False)),
    ],
)
def test_kinds_of_input_are_read_as_a_manual_prints_them(words, expected):
    kind = kind_from(words)
    part = kind.converter
    assert (part.unit, part.low, part.high, kind.burden_ohm, kind.contact) == expected


@pytest.mark.parametrize(
    ("words", "says"),
    [
        ("4 to 20 mA", "say the shunt behind the terminal too"),
        ("analogue", "“analogue” is no kind of input. Expected such as 0 to 5 V"),
        ("0 to 5 bar", "bar is no signal. Expected V, mV, mA, Ω, Hz, kHz or counts"),
    ],
)
def test_what_is_no_kind_of_input_is_refused_with_what_would_be(words, says):
    with pytest.raises(BadTable, match=says):
        kind_from(words)


def test_a_row_typed_by_hand():
    texts = {
        "strip": "7", "connector": "A-7", "channel": "AIN7", "role": "", "kinds": "0 to 10 V; contact, 24 V",
        "bits": "10", "safe": "-0.3 to 12", "return_terminal": "8", "use": "watched only",
        "factory_meaning": "oil pressure",
    }  # fmt: skip
    made = terminal_of(texts)
    assert (made.id, made.role, made.use, made.title) == ("7", "input", "watched only", "7")
    assert [kind.converter.full_count for kind in made.kinds] == [1023, 1023]
    assert (made.kinds[0].converter.safe_low_v, made.kinds[0].converter.safe_high_v) == (-0.3, 12.0)
    assert terminal_of(texts_of(made), made) == made
    with pytest.raises(BadTable, match="needs a name"):
        terminal_of({"kinds": "0 to 5 V"})
    with pytest.raises(BadTable, match="none of input, output, supply, return and shield"):
        terminal_of({"strip": "1", "role": "maybe"})
    with pytest.raises(BadTable, match="no number of bits"):
        terminal_of({"strip": "1", "kinds": "0 to 5 V", "bits": "40"})


@pytest.mark.parametrize(
    ("texts", "counts", "span"),
    [
        ({"kinds": "0 to 20 mA", "bits": "12"}, (0, 4095), (0.0, 20.0)),
        ({"kinds": "4 to 20 mA, counts 6240 to 31200"}, (6240, 31200), (4.0, 20.0)),
        ({"kinds": "±10 V, counts -32000 to 32000"}, (-32000, 32000), (-10.0, 10.0)),
    ],
)
def test_an_output_is_typed_by_its_signal_and_its_counts(texts, counts, span):
    made = terminal_of({"strip": "9", "role": "output", **texts})
    driver = made.outputs[0].driver
    assert (driver.zero_count, driver.full_count) == counts
    assert (driver.low, driver.high) == span
    assert driver.least_count == min(counts[0], 0)
    assert terminal_of(texts_of(made), made) == made


@pytest.mark.parametrize(
    ("kinds", "words"),
    [("0 to 400 Ω", "gives mA or V"), ("contact", "no kind of output"), ("0 to 10 V, counts 5", "counts of its two")],
)
def test_an_output_that_cannot_be_is_refused(kinds, words):
    with pytest.raises(BadTable, match=words):
        terminal_of({"strip": "9", "role": "output", "kinds": kinds})


def test_a_manuals_table_is_known_by_its_headings():
    rows = rows_from(
        ["Pin", "Function", "Signal range", "Common", "Resolution, bits"],
        [("A1", "oil temp", "0 to 5 V", "A9", "12"), ("A9", "", "", "", "")],
    )
    assert (
        rows[0] == {"connector": "A1", "kinds": "oil temp", "return_terminal": "A9", "bits": "12"}
        or rows[0]["connector"] == "A1"
    )
    with pytest.raises(BadTable, match="None of the headings is known"):
        rows_from(["foo", "bar"], [("1", "2")])


def test_a_terminal_that_is_wired_to_stays_in_the_table(demo_job):
    known = demo_job.controllers[0]
    fewer = known.with_(terminals=tuple(one for one in known.terminals if one.id != "X4:2"))
    with pytest.raises(NotApplicable, match="PT-201 is on X4:2: take it off"):
        describe_controller(demo_job, fewer)
    renamed = known.with_(name="Other front")
    assert describe_controller(demo_job, renamed).controllers[0].name == "Other front"


def test_a_channel_is_landed_on_a_controller_of_ones_own(demo_job):
    rows = [{"strip": "1", "kinds": "0 to 5 V", "bits": "16", "return_terminal": "2"}, {"strip": "2", "role": "return"}]
    made = Controller(id="own", name="Own", terminals=tuple(terminal_of(row) for row in rows))
    job = land(add_controller(demo_job, made), "it-207", "own", "1")
    channel = job.continuous("it-207")
    assert (channel.path.converter.bits, channel.path.converter.full_count) == (16, 65535)
    assert channel.landing.return_to == "2"


def test_a_card_that_gives_counts_already_scaled_is_landed(demo_job):
    row = terminal_of({"strip": "1", "kinds": "0 to 27648 counts", "return_terminal": "2"})
    made = Controller(id="card", name="Card", terminals=(row,))
    channel = with_output(new_continuous("c", "device-c", "C-1"), "counts")
    job = land(add_controller(add_channel(demo_job, channel), made), "c", "card", "1")
    converter = job.continuous("c").path.converter
    assert (converter.unit, converter.full_count, converter.bits) == ("counts", 27648, 15)


@given(st.sampled_from([one.key for one in COLUMNS]), st.text(max_size=12))
def test_no_words_end_in_anything_but_a_terminal_or_a_refusal(key, text):
    with suppress(BadTable):
        terminal_of({"strip": "1", "kinds": "0 to 5 V", key: text})
