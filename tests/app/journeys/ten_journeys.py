"""Ten jobs from an empty one to numbers that a controller takes, each number typed once; run by test_ten_journeys."""

import sys
from pathlib import Path

import numpy as np
from person import Person

from able_yardstick.core.document.register_constant import reckon


def number(shown: str) -> float:
    """A number as it stands on the screen."""
    return float(shown.replace("\u2212", "-").replace("\u2009", ""))


def near(found: str, wanted: float, within: float = 1e-6) -> bool:
    """Whether a number on the screen is the one worked out by hand."""
    return abs(number(found) - wanted) <= within


def frequency_with_a_pull_up(person: Person) -> None:
    """300 pulses a second at 150 m3/h: half of one for each hertz, whatever the pull-up."""
    person.find("turbine")
    person.type("Range", "0", "600")
    person.type("Pulses or Hz", "7200")
    person.step("wire")
    person.press("▸ Pull-up")
    person.type("Resistance", "2200")
    person.step("pack")
    assert near(person.numbers[0][1], 0.5, 1e-3), person.numbers


def pressure_part_without_a_data_sheet(person: Person) -> None:
    """0.5 V at 0, 2.5 V at 125, 4.5 V at 250 kPa: 62.5 kPa/V and -31.25 kPa."""
    person.find("add a channel")
    person.step("gather")
    for reference, volts in (("0", "0.500"), ("125", "2.500"), ("250", "4.500")):
        person.reading(reference, volts)
    person.step("fit")
    person.press("Use this curve")
    person.step("pack")
    assert near(person.numbers[0][1], 62.5), person.numbers
    assert near(person.numbers[1][1], -31.25), person.numbers


def counts_against_a_meter(person: Person) -> None:
    """819 counts at 10.0 A, 1638 at 20.0, 3276 at 40.0: the first and the last pair are the packing."""
    person.find("split core")
    person.step("gather")
    for amps, counts in (("10.0", "819"), ("20.0", "1638"), ("40.0", "3276")):
        person.reading(amps, counts, "counts")
    person.step("fit")
    person.press("Use this curve")
    person.step("pack")
    person.pick("Numeric form", "Raw pair and engineering pair")
    assert [row[0] for row in person.numbers] == ["819", "3\u2009276"], person.numbers
    assert near(person.numbers[0][1], 10.0, 1e-3), person.numbers
    assert near(person.numbers[1][1], 40.0, 1e-3), person.numbers


def loop(person: Person) -> None:
    """A transmitter of 4 to 20 mA over -150 to 150 Pa, at Pack."""
    person.find("differential, 4 to 20")
    person.type("Range", "-150", "150")
    person.type("First point", "4", "-150")
    person.type("Second point", "20", "150")
    person.step("pack")


def loop_into_integers_with_one_decimal(person: Person) -> None:
    """One implied decimal: -150.0 is -1500 at 4 mA, 150.0 is 1500 at 20 mA."""
    loop(person)
    person.pick("Numeric form", "Low and high integers")
    person.pick("Ends given", "at the transducer")
    person.type("Implied decimals", "1")
    assert [row[0] for row in person.numbers] == ["4", "20"], person.numbers
    assert [near(person.numbers[n][1], wanted) for n, wanted in enumerate((-1500, 1500))] == [True, True]


def loop_with_its_value_at_4_and_20(person: Person) -> None:
    """The range itself, at the ends of the loop's own signal."""
    loop(person)
    person.find("value at 4 mA")
    person.pick("Ends given", "at the transducer")
    assert [row[0] for row in person.numbers] == ["4", "20"], person.numbers
    assert [near(person.numbers[n][1], wanted) for n, wanted in enumerate((-150, 150))] == [True, True]


def long_oxygen_table_into_sixteen_rows(person: Person) -> None:
    """41 rows of a bent probe into 16: the worst error shown is that of the sixteen joined by straight lines."""
    volts = np.round(np.linspace(0, 5, 41), 3)
    oxygen = np.round(21 * np.expm1(1.1 * volts / 5) / np.expm1(1.1), 3)
    person.find("probe controller, 0 to 5 v")
    person.write("Table of the data sheet: signal and value", "\n".join(
        f"{x:g} {y:g}" for x, y in zip(volts, oxygen, strict=True)
    ))  # fmt: skip
    person.press("Take these rows")
    person.step("pack")
    person.pick("Numeric form", "Breakpoint table")
    person.type("How many", "16")
    assert person.numbers
    table = person.panel.numbers
    knots = [[number(table.cell(row, n).text()) for n in (0, 1)] for row in range(16)]
    assert table.cell(16, 0) is None
    signal = np.arange(4096) * 5 / 4095
    error = np.interp(signal, *zip(*knots, strict=True)) - np.interp(signal, volts, oxygen)
    shown = float(person.reads().split("Worst error ")[1].split()[0])
    assert abs(np.abs(error).max() - shown) < 2e-4, (np.abs(error).max(), shown)


def formula_transducer(person: Person) -> None:
    """A sheet that gives 40 (x - 0.25)^2 for 0.25 to 2.75 V: 62.5 at 1.5 V, 250 at the top."""
    person.find("add a channel")
    person.type("Range", "0", "250")
    person.pick("Given by", "a formula")
    person.type("Formula", "40 * (x - 0.25)^2")
    person.type("holds from", "0.25", "2.75")
    person.step("pack")
    person.pick("Numeric form", "Breakpoint table")
    person.pick("Knots", "put by hand")
    person.write("Knots of your own: signal and value", "0.25 0\n1.5 62.5\n2.75 250")
    person.press("Take these rows")
    assert [[number(cell) for cell in row[:2]] for row in person.numbers] == [[0.25, 0], [1.5, 62.5], [2.75, 250]]
    shown = float(person.reads().split("Worst error ")[1].split()[0])
    assert abs(shown - 40 * 0.625**2) < 0.05, shown  # half-way a parabola lies 40 (d / 2)^2 below its chord


def bridge_by_sensitivity_with_tare(person: Person) -> None:
    """2 mV/V at 500 kg; the empty pan reads 0.1 mV/V: 250 kg/(mV/V), and -25 kg."""
    person.find("load cell")
    person.type("Range", "0", "500")
    person.type("at capacity", "500")
    person.step("gather")
    person.reading("0", "0.1", "mV/V output")
    person.reading("500", "2.1", "mV/V output")
    person.step("fit")
    person.press("Use this curve")
    values = person.window.bench.job.fit_of(person.channel.id).fitted.curve.value(
        np.array([person.channel.path.nodes(x)[-1] for x in (0.1, 1.1, 2.1)])
    )
    assert np.allclose(values, (0.0, 250.0, 500.0), atol=1e-6), values


def two_state_contact(person: Person) -> None:
    """24 V closed, 0 V open, over a divider of 68 and 12 kohm: 3.6 V and 0 V at the pin, the threshold half-way."""
    person.find("add a contact")
    person.type("Closed, open", "24", "0")
    person.step("wire")
    person.choose("Add a part", "Divider")
    person.press("\u25b8 Divider")
    person.type("Upper, lower", "68000", "12000")
    person.step("describe")
    person.type("Threshold", "1.8")
    assert np.allclose(person.channel.pin_levels, (3.6, 0.0)), person.channel.pin_levels
    assert person.channel.threshold == 1.8


def register_constant(person: Person) -> None:
    """0.25 kg of span mass for each 0.5 m, in thousandths: 500, which is 1F4 in hexadecimal."""
    person.find("add a constant")
    person.press("a register gets a number")
    person.write("Inputs, one a line", "mass = 0.25 kg\nlength = 0.5 m")
    person.press("Take these inputs")
    person.type("it comes to", "kg/m")
    person.type("Formula", "1000 * mass / length")
    found = reckon(person.channel.register_constant)
    assert (found.integer, found.hexadecimal.lstrip("0x")) == (500, "1F4"), found
    assert "500" in person.sees()


JOURNEYS = (
    frequency_with_a_pull_up, pressure_part_without_a_data_sheet, counts_against_a_meter,
    loop_into_integers_with_one_decimal, loop_with_its_value_at_4_and_20, long_oxygen_table_into_sixteen_rows,
    formula_transducer, bridge_by_sensitivity_with_tare, two_state_contact, register_constant,
)  # fmt: skip

if __name__ == "__main__":
    someone = Person(Path(sys.argv[1]))
    wanted = sys.argv[2:]
    for journey in JOURNEYS:
        if not wanted or journey.__name__ in wanted:
            someone.begin()
            journey(someone)
            print(journey.__name__, flush=True)
    someone.window.close()
