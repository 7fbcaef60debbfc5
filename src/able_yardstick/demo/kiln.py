"""Makes the demo job. Run `python -m able_yardstick.demo.kiln` to write it anew.

Every reading is a true value this script alone knows, sent through a transducer that is a little off, with noise and
hysteresis from a generator of fixed seed, and rounded as an instrument rounds it.
"""

from collections.abc import Iterator, Sequence
from datetime import UTC, date, datetime, timedelta
from pathlib import Path as FilePath
from typing import Any, NamedTuple

import numpy as np

from ..bench.rig.layout import Places, sources_for
from ..core.alarms.rehearsal import rehearsal_steps, rehearse
from ..core.document.alarm import Alarm
from ..core.document.channel import AnyChannel, ConstantChannel, ContinuousChannel, Device, PlantState, TwoStateChannel
from ..core.document.nominal import nominal_curve
from ..core.document.output import OutputChannel
from ..core.document.reference import Correction, Reference
from ..core.document.register_constant import BitField, NamedInput, RegisterConstant
from ..core.document.watched import FormulaValue, SensorPair
from ..core.forms.spec import PackSpec
from ..core.job.channels import add_channel, change_channel
from ..core.job.entries import capture, exclude
from ..core.job.job import Job
from ..core.job.watching import change_pair, change_value
from ..core.journal.reading import Direction, Raw, Reading
from ..core.lookout.naming import kept_formula
from ..core.outputs.landing import land_output, output_offers
from ..core.path.converter import Converter
from ..core.path.signal_path import Path
from ..core.regression.kinds import ModelName
from ..core.results.choices import keep_packing, use_curve
from ..core.sensor.rating import Platinum, Pulses, RatedTable, Sensitivity, Thermistor, Thermocouple, TwoPoints
from ..core.sensor.transducer import Transducer
from ..core.stages import Amplifier, ColdJunction, Divider, Excitation, Filter, Leads, PullUp, PulsePullUp, Shunt
from ..core.wire.edits import land
from ..core.words.acceptance import DecisionRule
from ..core.words.tolerance import Tolerance
from ..files.controllers import shipped

SEED = 20261116
START = datetime(2026, 11, 16, 8, 30, tzinfo=UTC)
OXYGEN_POINTS = 23

REFERENCES = (
    Reference(
        id="RP-12",
        name="Pressure reference RP-12",
        serial="2204-12",
        unit="kPa",
        range_low=0.0,
        range_high=300.0,
        expanded_uncertainty=0.1,
        resolution=0.01,
        certificate="C-114",
        due=date(2027, 4, 30),
        corrections=(
            Correction(reading=0.0, correction=0.0),
            Correction(reading=100.0, correction=-0.02),
            Correction(reading=200.0, correction=-0.03),
            Correction(reading=300.0, correction=0.01),
        ),
    ),
    Reference(
        id="RM-04",
        name="Manometer RM-04",
        serial="118",
        unit="Pa",
        range_low=-500.0,
        range_high=500.0,
        expanded_uncertainty=0.3,
        resolution=0.1,
        certificate="C-120",
        due=date(2026, 9, 30),
    ),
    Reference(
        id="MS-20",
        name="Masses MS-20",
        serial="set 20",
        unit="kg",
        range_low=0.0,
        range_high=2000.0,
        expanded_uncertainty=0.02,
        certificate="C-098",
        due=date(2028, 1, 31),
    ),
    Reference(
        id="SG-03",
        name="Span gases SG-03",
        serial="03",
        unit="% O2",
        range_low=0.0,
        range_high=21.0,
        expanded_uncertainty=0.03,
        resolution=0.01,
        certificate="C-131",
        due=date(2027, 2, 28),
    ),
    Reference(
        id="RT-07",
        name="Thermometer RT-07",
        serial="0715",
        unit="°C",
        range_low=-40.0,
        range_high=1300.0,
        expanded_uncertainty=0.3,
        resolution=0.01,
        certificate="C-126",
        due=date(2027, 6, 30),
    ),
    Reference(
        id="RI-09",
        name="Current meter RI-09",
        serial="90-3",
        unit="A",
        range_low=0.0,
        range_high=60.0,
        expanded_uncertainty=0.05,
        resolution=0.01,
        certificate="C-133",
        due=date(2027, 3, 31),
    ),
    Reference(
        id="RF-02",
        name="Flow standard RF-02",
        serial="2",
        unit="m³/h",
        range_low=0.0,
        range_high=600.0,
        expanded_uncertainty=1.0,
        resolution=0.1,
        certificate="C-129",
        due=date(2027, 8, 31),
    ),
    Reference(
        id="BM-02",
        name="Bench meter BM-02",
        serial="02-77",
        unit="mA",
        range_low=-25.0,
        range_high=25.0,
        expanded_uncertainty=0.002,
        resolution=0.0005,
        certificate="C-140",
        due=date(2027, 5, 31),
    ),
)


class Truth(NamedTuple):
    """How a simulated channel is off: gain and offset of the signal, noise and hysteresis in signal units."""

    gain: float
    offset: float
    noise: float
    hysteresis: float


class Run(NamedTuple):
    """How one channel is read: against which reference, in which unit and node, rounded to how many decimals."""

    channel: ContinuousChannel
    truth: Truth
    reference: str
    node: str
    raw_unit: str
    raw_decimals: int
    reference_noise: float
    reference_decimals: int


def oxygen_table() -> RatedTable:
    """The probe's data sheet: 0 to 5 V for 0 to 21 % O2, bent."""
    signals = np.round(np.linspace(0, 5, OXYGEN_POINTS), 3)
    values = np.round(21 * np.expm1(1.15 * signals / 5) / np.expm1(1.15), 2)
    return RatedTable(signals=tuple(signals.tolist()), values=tuple(values.tolist()))


def _channel(tag: str, name: str, unit: str, transducer: dict[str, Any], **fields: Any) -> ContinuousChannel:
    return ContinuousChannel(
        id=tag.lower(),
        device=f"device-{tag.lower()}",
        tag=tag,
        name=name,
        unit=unit,
        transducer=Transducer(unit=unit, **transducer),
        **fields,
    )


def _pair(signals: tuple[float, float], values: tuple[float, float]) -> dict[str, Any]:
    return {"range_low": values[0], "range_high": values[1], "rating": TwoPoints(signals=signals, values=values)}


def _pin() -> Converter:
    """The kiln controller's usual input: 0 to 5 V, 12 bit."""
    return Converter(input_ohm=1e6, safe_low_v=-0.5, safe_high_v=6.0, reference_tolerance_percent=0.2)


def burner_gas() -> ContinuousChannel:
    """Straight, ratiometric."""
    rated = _pair((0.5, 4.5), (0.0, 250.0))
    transducer = {
        "quantity": "gauge pressure", "output": "ratiometric voltage", **rated, "signal_low": 0.25, "signal_high": 4.75,
        "overload": 400.0, "accuracy": Tolerance(of_span=0.005), "noise": 0.0015,
        "response_s": 0.05, "source": "data sheet of this unit",
    }  # fmt: skip
    path = Path(converter=_pin().with_(shares_supply=True))
    alarms = (Alarm(kind="low", limit=40.0, dead_band=5.0, delay_s=2.0), Alarm(kind="high", limit=220.0, dead_band=5.0))
    return _channel(
        "PT-201", "Burner gas pressure", "kPa", transducer, path=path, tolerance=Tolerance(constant=1.0), alarms=alarms
    )


def kiln_draft() -> ContinuousChannel:
    """A current loop over a shunt."""
    transducer = {
        "quantity": "differential pressure",
        "output": "current loop",
        **_pair((4.0, 20.0), (-150.0, 150.0)),
        "supply_v": 24.0, "supply_least_v": 12.0, "signal_low": 3.6, "signal_high": 21.0,
        "accuracy": Tolerance(of_span=0.0025), "source": "data sheet of this unit", "noise": 0.006,
        "response_s": 0.2,
    }  # fmt: skip
    path = Path(source="mA", stages=(Shunt(resistance_ohm=250, tolerance_percent=0.1),), converter=_pin())
    spec = PackSpec(form="ends", value_step=0.1)
    return _channel(
        "PT-202", "Kiln draft", "Pa", transducer, path=path, pack_spec=spec, tolerance=Tolerance(of_span=0.01)
    )


def arch_temperature() -> ContinuousChannel:
    """A thermocouple whose amplifier adds the cold junction back."""
    transducer = {
        "quantity": "temperature", "output": "millivolts", "range_low": 0.0, "range_high": 1200.0,
        "rating": Thermocouple(letter="K"), "noise": 0.01, "response_s": 1.5,
    }  # fmt: skip
    stages = (ColdJunction(letter="K", terminal_c=32.0), Amplifier(stated_gain=100.0, zero_tolerance_v=0.002))
    path = Path(source="mV", stages=(*stages, Filter(time_constant_s=0.5)))
    return _channel("TT-203", "Arch temperature", "°C", transducer, path=path, tolerance=Tolerance(constant=15.0))


def dryer_air() -> ContinuousChannel:
    """A platinum element on three wires, read in ohms by the controller's own card."""
    transducer = {
        "quantity": "temperature", "output": "resistance", "range_low": -20.0, "range_high": 250.0,
        "rating": Platinum(tolerance_class="A"), "dissipation_mw_k": 8.0, "polarity_matters": False,
        "noise": 0.02, "response_s": 2.0,
    }  # fmt: skip
    converter = Converter(unit="Ω", bits=16, full_count=65535, high=400.0, reference_tolerance_percent=0.02)
    path = Path(source="Ω", stages=(Leads(wires=3, wire_ohm=1.2),), converter=converter)
    return _channel("TE-204", "Dryer air", "°C", transducer, path=path, tolerance=Tolerance(constant=1.5))


def fan_bearing() -> ContinuousChannel:
    """A thermistor under a pull-up that lives from the converter's reference."""
    transducer = {
        "quantity": "temperature", "output": "resistance", "range_low": 0.0, "range_high": 120.0,
        "rating": Thermistor(r25_ohm=10_000.0, beta_k=3950.0, tolerance_k=0.5), "dissipation_mw_k": 3.0,
        "polarity_matters": False, "noise": 3.0, "response_s": 2.0,
    }  # fmt: skip
    converter = _pin().with_(shares_supply=True)
    path = Path(source="Ω", stages=(PullUp(resistance_ohm=10_000.0, tolerance_percent=0.5),), converter=converter)
    spec = PackSpec(form="knots", knots=12, signal_step=0.01, value_step=0.1, clamp=True)
    hot = (
        Alarm(kind="high", limit=85.0, dead_band=3.0, delay_s=5.0),
        Alarm(kind="high high", limit=95.0, dead_band=3.0),
    )
    return _channel("TE-205", "Fan bearing", "°C", transducer, path=path, pack_spec=spec,
                    tolerance=Tolerance(constant=2.0), alarms=hot)  # fmt: skip


def kiln_car() -> ContinuousChannel:
    """A load cell of 2 mV/V behind an amplifier whose gain a resistor sets, 16 bit."""
    transducer = {
        "quantity": "force or mass", "output": "bridge", "range_low": 0.0, "range_high": 2000.0, "overload": 3000.0,
        "rating": Sensitivity(mv_per_v=2.0, capacity=2000.0, tolerance_percent=0.1), "supply_v": 10.0,
        "source": "data sheet of this unit", "noise": 0.0005, "response_s": 0.1,
    }  # fmt: skip
    amplifier = Amplifier(resistor="100 + 4.3 | 47", law_a=1.0, law_b_ohm=50_000.0, high_v=12.0, low_v=-12.0)
    converter = Converter(
        bits=16, full_count=65535, high=10.0, reference_v=10.0, input_ohm=1e6, safe_low_v=-15.0, safe_high_v=15.0,
        reference_tolerance_percent=0.05,
    )  # fmt: skip
    path = Path(source="mV/V", stages=(Excitation(voltage_v=10.0), amplifier), converter=converter)
    spec = PackSpec(form="span", value_step=0.1)
    return _channel(
        "WT-206", "Kiln car", "kg", transducer, path=path, pack_spec=spec, tolerance=Tolerance(constant=2.0),
        wanted_resolution=0.2,
    )  # fmt: skip


def draught_fan() -> ContinuousChannel:
    """A split-core current transducer of which only a similar part's data sheet is known yet."""
    transducer = {
        "quantity": "electric current", "output": "voltage", **_pair((0.0, 5.0), (0.0, 50.0)),
        "responds_to": "true root-mean-square", "source": "similar part", "accuracy": Tolerance(of_span=0.01),
        "signal_high": 5.4, "signal_low": 0.0, "noise": 0.002, "response_s": 0.3,
    }  # fmt: skip
    return _channel(
        "IT-207", "Draught fan motor", "A", transducer, path=Path(converter=_pin()), tolerance=Tolerance(of_span=0.01)
    )


def flue_oxygen(tag: str, name: str) -> ContinuousChannel:
    """A bent table."""
    transducer = {
        "quantity": "oxygen",
        "output": "voltage",
        "range_low": 0.0,
        "range_high": 21.0,
        "rating": oxygen_table(),
        "accuracy": Tolerance(constant=0.1),
        "noise": 0.002,
        "response_s": 1.0,
    }
    path = Path(converter=_pin())
    spec = PackSpec(form="knots", knots=12, signal_step=0.01, value_step=0.01, clamp=True)
    return _channel(tag, name, "% O2", transducer, path=path, pack_spec=spec, tolerance=Tolerance(constant=0.15))


def combustion_air() -> ContinuousChannel:
    """A turbine's pulses on an open collector."""
    transducer = {
        "quantity": "flow", "output": "frequency", "range_low": 0.0, "range_high": 480.0, "open_collector": True,
        "rating": Pulses(pulses=6000.0, per="m³"), "supply_v": 12.0, "accuracy": Tolerance(of_reading=0.01),
        "noise": 0.8, "response_s": 0.5,
    }  # fmt: skip
    converter = Converter(unit="Hz", bits=16, full_count=10000, high=1000.0, window_s=1.0)
    path = Path(source="Hz", stages=(PulsePullUp(resistance_ohm=4700.0, supply_v=5.0),), converter=converter)
    return _channel("FT-210", "Combustion air", "m³/h", transducer, path=path, tolerance=Tolerance(of_span=0.02))


def gas_switch() -> TwoStateChannel:
    """A pressure switch that lets a line voltage through, divided for the pin."""
    path = Path(stages=(Divider(top_ohm=68_000.0, bottom_ohm=12_000.0),), converter=_pin())
    return TwoStateChannel(
        id="ps-211", device="device-ps-211", tag="PS-211", name="Gas low-pressure switch",
        closed_level=24.0, open_level=0.0, threshold=1.8, dead_band=0.8, path=path,
        closed_means="gas present", open_means="gas low",
    )  # fmt: skip


def arch_signal() -> OutputChannel:
    """The arch temperature, handed on to the dryer's controller, which must see it hot if the thermocouple is dead."""
    return OutputChannel(
        id="ty-213", device="device-ty-213", tag="TY-213", name="Arch temperature, to the dryer", unit="°C",
        value_low=0.0, value_high=1200.0, follows="tt-203", dead_input="high", load_ohm=262.0,
        tolerance=Tolerance(of_span=0.0025), decision=DecisionRule(kind="guarded"),
    )  # fmt: skip


def belt_scale() -> ConstantChannel:
    """What the clay feeder's belt integrator adds for each count of its load cell, each pulse of its encoder."""
    constant = RegisterConstant(
        formula="span_mass / weigh_span * belt_per_pulse / (full * averages) / tally",
        inputs=(
            NamedInput(name="span_mass", value=60.0, unit="kg", source="chain laid on the weigh span, MS-20"),
            NamedInput(name="weigh_span", value=1.2, unit="m", source="between the idlers, taped"),
            NamedInput(name="belt_per_pulse", value=50.0, unit="mm", source="ten turns of the belt, 4 812 pulses"),
            NamedInput(name="full", value=65535.0, source="load counts at the span mass"),
            NamedInput(name="averages", value=16.0, source="load samples for each pulse"),
            NamedInput(name="tally", value=1.0, unit="ng", source="what the total's last bit stands for"),
        ),
        fields=(
            BitField(
                name="filter code", register_value=0x0243, lowest_bit=8, width=2, must_equal="averages",
                codes=((0, 1.0), (1, 4.0), (2, 16.0), (3, 64.0)),
            ),
        ),
    )  # fmt: skip
    return ConstantChannel(
        id="wq-212", device="device-wq-212", tag="WQ-212", name="Clay feeder scale", unit="kg/pulse",
        value=2.5, decimals=3, derivation="60 kg on a weigh span of 1.2 m is 50 kg/m; the belt moves 50 mm a pulse",
        register_constant=constant,
    )  # fmt: skip


# -- readings -------------------------------------------------------------------------------------------------------


class Bench:
    """Takes readings, one after the other, from one generator and one clock."""

    def __init__(self) -> None:
        self._random = np.random.default_rng(SEED)
        self._ids = iter(range(1, 10_000))
        self.now = START

    def tick(self, seconds: int = 40) -> datetime:
        """The next moment."""
        self.now += timedelta(seconds=seconds)
        return self.now

    def raw(self, run: Run, value: float, direction: Direction) -> float:
        """The signal for a true value at the node that is read, rounded as the meter rounds it."""
        channel = run.channel
        curve = channel.transducer.nominal() if run.node == "output" else nominal_curve(channel)
        assert curve is not None  # every simulated channel is rated
        signal = (
            float(curve.signal(value)) * run.truth.gain + run.truth.offset + self._random.normal(0, run.truth.noise)
        )
        low, high = curve.domain
        share = (signal - low) / (high - low)
        bend = 4 * max(share * (1 - share), 0) * run.truth.hysteresis
        signal += bend if direction == "down" else 0.0
        return round(float(np.clip(signal, 0, None)), run.raw_decimals)

    def reading(self, run: Run, target: float, direction: Direction, **fields: Any) -> Reading:
        """One reading near a target value."""
        value = round(target + self._random.normal(0, run.reference_noise), run.reference_decimals)
        mean = self.raw(run, value, direction)
        raw = Raw(mean=mean, node=run.node, unit=run.raw_unit, spread=run.truth.noise, count=40)
        return Reading(
            id=f"r{next(self._ids):04d}",
            channel=run.channel.id,
            captured=self.tick(),
            reference=value,
            reference_unit=run.channel.unit,
            reference_id=run.reference,
            raw=raw,
            direction=direction,
            stimulated="whole loop",
            source="demo script",
            **fields,
        )

    def cycles(self, run: Run, stops: Sequence[float], cycles: int, found: tuple[float, float] | None) -> list[Reading]:
        """Stops up and down, several times; `found` is the gain and offset of what the controller showed."""
        taken = []
        for target, direction in _up_and_down(stops, cycles):
            reading = self.reading(run, target, direction)
            if found and reading.raw:
                shown = round(found[0] * reading.reference + found[1] + self._random.normal(0, 0.05), 2)
                reading = reading.with_(shown=shown, shown_unit=run.channel.unit)
            taken.append(reading)
        return taken

    def checks(self, job: Job, run: Run, stops: Sequence[float], ground_v: float = 0.0) -> list[Reading]:
        """Fresh readings with what the controller shows, by the packing kept, over a ground offset."""
        record = job.pack_of(run.channel.id)
        assert record is not None  # the caller packed it
        converter = run.channel.path.converter
        taken = []
        for target in stops:
            reading = self.reading(run, target, "up", purpose="prove", basis=record.revision)
            assert reading.raw is not None
            pin = reading.raw.at_pin(run.channel.path) + ground_v
            raw = reading.raw.with_(mean=round(reading.raw.mean + ground_v, run.raw_decimals))
            shown = float(record.form.shown(converter.count_of(np.array([pin])), converter)[0])
            taken.append(
                reading.with_(raw=raw, shown=round(shown, run.reference_decimals), shown_unit=run.channel.unit)
            )
        return taken


def _up_and_down(stops: Sequence[float], cycles: int) -> Iterator[tuple[float, Direction]]:
    for _ in range(cycles):
        yield from ((stop, "up") for stop in stops)
        yield from ((stop, "down") for stop in reversed(stops))


def _finish(job: Job, bench: Bench, run: Run, model: ModelName) -> Job:
    job = use_curve(job, run.channel.id, model, bench.tick())
    return keep_packing(job, run.channel.id, bench.tick())


def build_job() -> Job:
    """The demo job, the same each time."""
    bench = Bench()
    gas, draft, car = burner_gas(), kiln_draft(), kiln_car()
    oxygen, stack = flue_oxygen("AT-208", "Flue oxygen"), flue_oxygen("AT-209", "Flue oxygen, stack")
    channels: tuple[AnyChannel, ...] = (
        gas, draft, arch_temperature(), dryer_air(), fan_bearing(), car, draught_fan(), oxygen, stack, combustion_air(),
        gas_switch(), belt_scale(), arch_signal(),
    )  # fmt: skip
    kiln_controller = next(one for one in shipped() if one.id == "kiln-controller")
    job = Job.new("kiln-2", title="Quillstone Tileworks, Kiln 2", references=REFERENCES, controllers=(kiln_controller,))
    for number, channel in enumerate(channels, 1):
        job = add_channel(job, channel, Device(id=channel.device, name=channel.name, serial=f"K2-{number:03d}"))
    job = _known_states(_output_landed(_landed(job)))
    job = job.with_(sources=sources_for(job, Places(), _REFERENCE_OF))
    gas, draft, car, oxygen, stack = (job.continuous(channel.id) for channel in (gas, draft, car, oxygen, stack))
    job = _gas(job, bench, Run(gas, Truth(1.0012, 0.0021, 0.0011, 0.0016), "RP-12", "pin", "V", 4, 0.03, 2))
    job = _draft(job, bench, Run(draft, Truth(0.998, 0.021, 0.004, 0.006), "RM-04", "output", "mA", 3, 0.15, 1))
    weigh = Run(car, Truth(0.9986, 0.0135, 0.0012, 0.0035), "MS-20", "pin", "V", 4, 0.0, 0)
    job = capture(job, bench.cycles(weigh, (0, 400, 800, 1200, 1600, 2000), 3, (1.0015, 1.2)))
    job = _oxygen(job, bench, Run(oxygen, Truth(1.0006, 0.001, 0.0015, 0.001), "SG-03", "pin", "V", 3, 0.01, 2))
    stack_run = Run(stack, Truth(1.001, 0.004, 0.002, 0.002), "SG-03", "pin", "V", 3, 0.01, 2)
    job = _finish(job, bench, stack_run, "nominal")
    job = capture(job, bench.checks(job, stack_run, (2.0, 8.0, 15.0), ground_v=0.118))
    switch = job.tagged("PS-211")
    assert isinstance(switch, TwoStateChannel)
    for step in rehearsal_steps(job, switch):
        job = rehearse(job, switch.id, step, True, None, bench.tick())
    return _watched(job, oxygen.id, stack.id)


def _watched(job: Job, oxygen: str, stack: str) -> Job:
    """Both oxygen probes compared, and the excess of air that the first one stands for."""
    job = change_pair(job, SensorPair(id="flue-oxygen", channels=(oxygen, stack), allowed=0.15))
    formula = kept_formula("20.95 / (20.95 - AT-208)", {"AT-208": oxygen})
    return change_value(job, FormulaValue(id="excess-air", tag="AY-214", name="Excess air", unit="lambda",
                                          formula=formula))  # fmt: skip


# which reference instrument stands beside each channel on the bench
_REFERENCE_OF = {
    "PT-201": "RP-12", "PT-202": "RM-04", "TT-203": "RT-07", "TE-204": "RT-07", "TE-205": "RT-07", "WT-206": "MS-20",
    "IT-207": "RI-09", "AT-208": "SG-03", "AT-209": "SG-03", "FT-210": "RF-02",
    "meter": "BM-02",
}  # fmt: skip

# states of the plant that a person can tell by looking: what they mean for each channel, and how far they may be off
_STATES: dict[str, tuple[tuple[str, float, float], ...]] = {
    "PT-201": (("gas shut, line vented", 0.0, 0.5), ("regulator at 100 kPa", 100.0, 2.0)),
    "PT-202": (("fan stopped, doors open", 0.0, 2.0), ("fan at half speed", -30.0, 8.0)),
    "TT-203": (("kiln cold", 20.0, 5.0), ("kiln at soak", 480.0, 30.0)),
    "TE-204": (("dryer cold", 20.0, 3.0), ("dryer at work", 88.0, 6.0)),
    "TE-205": (("fan stopped overnight", 20.0, 4.0), ("fan at work", 48.0, 6.0)),
    "WT-206": (("nothing on the scale", 0.0, 1.0), ("car with 800 kg of masses", 800.0, 1.0)),
    "IT-207": (("fan stopped", 0.0, 0.1), ("fan at work", 20.0, 3.0)),
    "AT-208": (("span gas of 8.4 %", 8.4, 0.05), ("room air", 20.9, 0.05)),
    "AT-209": (("span gas of 8.4 %", 8.4, 0.05), ("room air", 20.9, 0.05)),
    "FT-210": (("fan stopped", 0.0, 1.0), ("fan at work", 192.0, 15.0)),
    "PS-211": (("gas present", 0.0, 0.0), ("gas low", 1.0, 0.0)),
}


def _known_states(job: Job) -> Job:
    for tag, rows in _STATES.items():
        channel = job.tagged(tag)
        assert isinstance(channel, ContinuousChannel | TwoStateChannel)
        states = tuple(PlantState(name=name, value=value, within=within) for name, value, within in rows)
        job = change_channel(job, channel.with_(plant_states=states))
    return job


# terminal, colours of the leads in their order, metres of cable, ohms there and back
_PLACES: dict[str, tuple[str, tuple[str, ...], float, float]] = {
    "PT-201": ("X4:2", ("red", "green", "black"), 12.0, 0.9),
    "PT-202": ("X4:3", ("brown", "white"), 38.0, 3.0),
    "TT-203": ("X4:4", ("green", "white"), 22.0, 0.0),
    "TE-204": ("X5:1", ("red", "white", "white"), 16.0, 2.4),
    "TE-205": ("X4:6", ("yellow", "yellow"), 9.0, 0.7),
    "WT-206": ("X7:1", ("red", "black", "green", "white"), 6.0, 0.5),
    "IT-207": ("X4:7", ("", "", ""), 14.0, 1.1),
    "AT-208": ("X4:8", ("blue", "grey", "pink"), 18.0, 1.4),
    "AT-209": ("X4:11", ("blue", "grey", "pink"), 26.0, 2.0),
    "FT-210": ("X6:1", ("red", "blue", "black"), 11.0, 0.9),
    "PS-211": ("X4:9", ("orange", "violet"), 20.0, 1.5),
}


def _landed(job: Job) -> Job:
    """Every channel with a pin on its terminal, its leads named by colour."""
    for tag, (terminal, colours, length_m, lead_ohm) in _PLACES.items():
        job = land(job, job.tagged(tag).id, "kiln-controller", terminal)
        channel = job.tagged(tag)
        assert isinstance(channel, ContinuousChannel | TwoStateChannel)
        assert channel.landing is not None
        leads = tuple(lead.with_(colour=colour) for lead, colour in zip(channel.landing.leads, colours, strict=True))
        landing = channel.landing.with_(leads=leads, length_m=length_m, lead_ohm=lead_ohm)
        job = change_channel(job, channel.with_(landing=landing))
    return job


def _output_landed(job: Job) -> Job:
    """The output on the first terminal that gives milliamps."""
    output = job.tagged("TY-213")
    assert isinstance(output, OutputChannel)
    return land_output(job, output, output_offers(job, output)[0])


def _gas(job: Job, bench: Bench, run: Run) -> Job:
    job = capture(job, bench.cycles(run, (0, 50, 100, 150, 200, 250), 3, (1.0046, 0.2)))
    job = _finish(job, bench, run, "line")
    return capture(job, bench.checks(job, run, (25, 75, 125, 175, 225)))


def _draft(job: Job, bench: Bench, run: Run) -> Job:
    taken = bench.cycles(run, (-150, -90, -30, 30, 90, 150), 1, None)
    bumped = taken[4]
    assert bumped.raw is not None
    taken[4] = bumped.with_(raw=bumped.raw.with_(mean=round(bumped.raw.mean + 0.31, 3)))
    job = capture(job, taken)
    job = _finish(job, bench, run, "line")
    return exclude(job, [bumped.id], "the tapping tube was bumped", bench.tick())


def _oxygen(job: Job, bench: Bench, run: Run) -> Job:
    job = capture(job, bench.cycles(run, (0.5, 4.0, 8.0, 12.0, 16.0, 20.9), 1, None))
    job = _finish(job, bench, run, "nominal")
    return capture(job, bench.checks(job, run, (2.0, 6.0, 10.0, 15.0)))


def main() -> None:
    """Write the demo job beside this script."""
    from ..files.jobfile import write_job

    write_job(FilePath(__file__).with_name("kiln-2.yardstick.json"), build_job())


if __name__ == "__main__":
    main()
