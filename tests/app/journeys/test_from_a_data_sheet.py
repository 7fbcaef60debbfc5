"""From an empty job and a data sheet alone, through the widgets: every channel of the demo, with the same numbers."""

import pytest
from acting import at_step, enter, entries, pick, press
from PySide6.QtCore import Qt

from able_yardstick.core.describe.catalogue import ENTRIES
from able_yardstick.core.document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel
from able_yardstick.core.document.register_constant import reckon
from able_yardstick.core.job.nodes import end_rows
from able_yardstick.core.stages import Divider, Filter
from able_yardstick.core.wire.landing import landed


@pytest.fixture
def empty(window, tmp_path):
    """The window on a job with nothing in it but the kiln's controller."""
    demo = window.bench.job
    window.bench.create(tmp_path / "empty.yardstick.json", "Empty")
    window.channels.add("constant")
    window.demo = demo
    return window


def start(window, group, title):
    entry = next(one for one in ENTRIES if (one.group, one.title) == (group, title))
    window.channels.add_from(entry)
    return at_step(window, "describe").part(ContinuousChannel)


def wire(window, terminal):
    """Go to Wire, with the controller in the job, and land on a terminal."""
    window.bench.go("wire")
    panel = at_step(window, "wire")
    if not window.bench.job.controllers:
        found = entries(panel.controllers.choices)
        next(action for text, action in found.items() if text.startswith("Kiln")).trigger()
    land(panel, terminal)
    return panel


def land(panel, terminal):
    table = panel.terminals
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() == terminal)
    table.selectRow(row)
    panel.land()
    assert panel.complaint.text() == ""


def same_as(window, tag):
    """The channel made has, at both ends of its range, what the demo's has at every node before the controller."""
    made, known = window.bench.continuous, window.demo.tagged(tag)
    assert landed(window.bench.job, made).terminal.id == landed(window.demo, known).terminal.id
    for one, other in zip(end_rows(window.bench.job, made), end_rows(window.demo, known), strict=True):
        n = len(one.values)
        assert one.values == pytest.approx(other.values[:n], rel=1e-9, abs=1e-9)


def test_a_ratiometric_pressure_transducer(empty, qtbot):
    part = start(empty, "Pressure", "Ratiometric, 0.5 to 4.5 V")
    enter(qtbot, part.range, "0", "250")
    enter(qtbot, part.second, "4.5", "250")
    enter(qtbot, part.limits.fields["overload"], "400")
    panel = wire(empty, "X4:2")
    panel.converter.title.setChecked(True)
    panel.converter.form.fields["shares_supply"].box.click()
    same_as(empty, "PT-201")


def test_a_differential_pressure_transmitter_on_its_loop(empty, qtbot):
    part = start(empty, "Pressure", "Differential, 4 to 20 mA")
    enter(qtbot, part.range, "-150", "150")
    enter(qtbot, part.first, "4", "-150")
    enter(qtbot, part.second, "20", "150")
    wire(empty, "X4:3")
    same_as(empty, "PT-202")


def test_a_thermocouple_behind_an_amplifier(empty, qtbot):
    start(empty, "Temperature", "Thermocouple, type K")
    panel = wire(empty, "X4:4")
    enter(qtbot, panel.block(0).form.fields["terminal_c"], "32", "1")
    enter(qtbot, panel.block(1).form.fields["stated_gain"], "100")
    panel.add_stage(Filter)
    same_as(empty, "TT-203")


def test_a_platinum_element_on_three_wires(empty, qtbot):
    part = start(empty, "Temperature", "Pt100")
    enter(qtbot, part.range, "-20", "250")
    pick(part.form("platinum").fields["tolerance_class"], "A")
    panel = wire(empty, "X5:1")
    enter(qtbot, panel.block(0).form.fields["wire_ohm"], "1.2")
    same_as(empty, "TE-204")


def test_a_thermistor_under_a_pull_up(empty, qtbot):
    part = start(empty, "Temperature", "Thermistor, 10 kΩ at 25 °C")
    enter(qtbot, part.range, "0", "120")
    enter(qtbot, part.form("thermistor").fields["beta_k"], "3950")
    panel = wire(empty, "X4:6")
    enter(qtbot, panel.block(0).form.fields["resistance_ohm"], "10000")
    same_as(empty, "TE-205")


def test_a_load_cell_with_a_gain_resistor(empty, qtbot):
    part = start(empty, "Load", "Load cell, 2 mV/V")
    enter(qtbot, part.range, "0", "2000")
    enter(qtbot, part.form("sensitivity").fields["capacity"], "2000")
    empty.bench.go("wire")
    panel = at_step(empty, "wire")
    enter(qtbot, panel.block(0).form.fields["voltage_v"], "10")
    enter(qtbot, panel.block(1).form.fields["resistor"], "100 + 4.3 | 47")
    enter(qtbot, panel.block(1).form.fields["law_a"], "1", "50000")
    enter(qtbot, panel.block(1).form.fields["low_v"], "-12", "12")
    wire(empty, "X7:1")
    same_as(empty, "WT-206")


def test_a_split_core_current_transducer(empty, qtbot):
    part = start(empty, "Current", "Split core, 0 to 5 V")
    pick(part.source, "similar part")
    wire(empty, "X4:7")
    same_as(empty, "IT-207")


@pytest.mark.parametrize(("tag", "terminal"), [("AT-208", "X4:8"), ("AT-209", "X4:11")])
def test_an_oxygen_probe_by_its_pasted_table(empty, qtbot, tag, terminal):
    part = start(empty, "Oxygen", "Probe controller, 0 to 5 V, bent")
    rating = empty.demo.tagged(tag).transducer.rating
    rows = "\n".join(f"{x}\t{y}" for x, y in zip(rating.signals, rating.values, strict=True))
    part.table.text.setPlainText(rows)
    qtbot.mouseClick(part.table.take, Qt.MouseButton.LeftButton)
    wire(empty, terminal)
    same_as(empty, tag)


def test_a_turbine_on_an_open_collector(empty, qtbot):
    part = start(empty, "Flow", "Turbine, open collector")
    enter(qtbot, part.range, "0", "480")
    enter(qtbot, part.form("pulses").fields["pulses"], "6000")
    panel = wire(empty, "X6:1")
    assert [stage.kind for stage in empty.bench.continuous.path.stages] == ["pulse pull-up"]
    press(panel.checks, "▸")
    assert any("the collector sinks 1 mA" in text for text in panel.checks.texts)
    same_as(empty, "FT-210")


def test_a_switch_on_a_line_voltage(empty, qtbot):
    empty.channels.add("two-state")
    empty.bench.go("wire")
    panel = at_step(empty, "wire")
    empty.bench.go("describe")
    part = at_step(empty, "describe").part(TwoStateChannel)
    enter(qtbot, part.levels, "24", "0")
    enter(qtbot, part.meanings, "gas present", "gas low")
    empty.bench.go("wire")
    panel.add_stage(Divider)
    enter(qtbot, panel.block(0).form.fields["top_ohm"], "68000", "12000")
    empty.bench.go("describe")
    enter(qtbot, part.dead_band, "0.8")
    enter(qtbot, part.threshold, "1.8")
    wire(empty, "X4:9")
    made, known = empty.bench.channel, empty.demo.tagged("PS-211")
    assert made.pin_levels == pytest.approx(known.pin_levels)
    assert (made.threshold, made.dead_band, made.closed_means) == (1.8, 0.8, "gas present")


def test_a_register_constant_of_named_inputs(empty, qtbot):
    part = at_step(empty, "describe").part(ConstantChannel)
    empty.bench.select(empty.bench.job.channels[0].id)
    known = empty.demo.tagged("WQ-212").register_constant
    part.has_register.box.click()
    part.inputs.text.setPlainText("\n".join(f"{one.name} = {one.value:g} {one.unit}" for one in known.inputs))
    qtbot.mouseClick(part.inputs.take, Qt.MouseButton.LeftButton)
    enter(qtbot, part.register.fields["formula"], known.formula)
    part.bit_fields.text.setPlainText("filter code = 0x243 [9:8] 0=1, 1=4, 2=16, 3=64; averages")
    qtbot.mouseClick(part.bit_fields.take, Qt.MouseButton.LeftButton)
    made = empty.bench.channel.register_constant
    assert reckon(made) == reckon(known)
