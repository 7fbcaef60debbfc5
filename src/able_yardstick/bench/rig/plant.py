"""The whole plant: every channel simulated scan by scan, the controller's registers, and where the meter is held."""

import struct
import zlib
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...core.document.channel import ContinuousChannel, WiredChannel
from ...core.document.nominal import nominal_curve
from ...core.job.in_force import kept_packing
from ...core.job.job import Job
from ...core.journal.table_image import HEAD, bank_words
from ...core.wire.landing import wired_channels
from ...core.words.errors import NoSuchThing, NotApplicable, YardstickError
from ..registers import encoded
from .layout import (
    ALARMS,
    LOGGER_HZ,
    MOST_ALARMS,
    MOST_CHANNELS,
    MOST_OUTPUTS,
    NEWEST,
    PACKING,
    RAW,
    REGISTERS,
    RING,
    SCAN_HZ,
    SHOWN,
    SLOT_HEAD,
    has_ring,
    output_channels,
    output_place,
    slots_of,
    stride_of,
    table_place,
)
from .simulated import SimulatedChannel
from .simulated_alarms import SimulatedAlarms
from .simulated_output import SimulatedOutput

Array = NDArray[np.float64]
Counts = NDArray[np.int64]
ProbePoint = Literal["signal", "supply", "leads"]
_FAST = int(LOGGER_HZ / SCAN_HZ)
_BEHIND = 150  # scans that are made up for at once; after a longer sleep the rest is skipped


class Stimulus(NamedTuple):
    """A reference instrument's own errors: an offset within its uncertainty, noise, and the step of its display."""

    offset: float
    noise: float
    step: float


class Plant:
    """Advances scan by scan; `image` is what the controller's registers hold."""

    def __init__(self, job: Job, seed: int, speed: float = 1.0) -> None:
        """Raises: NotApplicable for a job of more channels than the rig has room for."""
        if len(wired_channels(job)) > MOST_CHANNELS:
            raise NotApplicable(
                f"The job has {len(wired_channels(job))} channels with a pin, but the rig has room for "
                f"{MOST_CHANNELS}. Simulate a part of it."
            )
        self.job, self.speed = job, speed
        self.channels: dict[str, SimulatedChannel] = {}
        self._stimuli: dict[str, Stimulus] = {}
        for channel in wired_channels(job):
            draw = np.random.default_rng([seed, zlib.crc32(channel.tag.encode())])
            self.channels[channel.tag] = SimulatedChannel(channel, draw)
            self._stimuli[channel.tag] = _stimulus(job, channel, draw)
        self.alarms = {tag: SimulatedAlarms(one.channel) for tag, one in self.channels.items()}
        self.outputs: dict[str, SimulatedOutput] = {}
        self._output_at: dict[int, SimulatedOutput] = {}
        self._make_outputs(seed)
        self.image = np.zeros(REGISTERS, dtype=np.uint16)
        self.scan = 0
        self.probe: tuple[str, ProbePoint] | None = None
        self.logged = next(iter(self.channels), "")
        self._stride, self._slots = stride_of(len(self.channels)), slots_of(len(self.channels))
        self._tables = [table_place(job, one.channel, n) for n, one in enumerate(self.channels.values())]
        self._load_packings()

    def _make_outputs(self, seed: int) -> None:
        for number, output in enumerate(output_channels(self.job)[:MOST_OUTPUTS]):
            draw = np.random.default_rng([seed, zlib.crc32(output.tag.encode())])
            self.outputs[output.tag] = made = SimulatedOutput(output, draw)
            self._output_at[output_place(self.job, output, number)] = made

    def written(self, address: int, words: list[int]) -> None:
        """Take what was written into the controller's registers: its tables, and its outputs."""
        if address >= PACKING:
            self.image[address : address + len(words)] = words
        for at, word in enumerate(words, address):
            if at in self._output_at:
                self._output_at[at].write(word)
                self.image[at] = word

    def tagged(self, tag: str) -> SimulatedChannel:
        """The channel of a tag, capitals or not. Raises: NoSuchThing."""
        for name, channel in self.channels.items():
            if name.casefold() == tag.casefold():
                return channel
        raise NoSuchThing(f"The rig has no channel {tag}. It has {', '.join(self.channels)}.")

    def mates(self, tag: str) -> list[SimulatedChannel]:
        """The channels on the same manifold: what moves one moves all."""
        one = self.tagged(tag)
        if not isinstance(one.channel, ContinuousChannel) or one.channel.transducer.quantity != "oxygen":
            return [one]
        return [
            other
            for other in self.channels.values()
            if isinstance(other.channel, ContinuousChannel) and other.channel.transducer.quantity == "oxygen"
        ]

    def move(self, tag: str, value: float) -> None:
        """Send a true value somewhere, and all that hang on the same manifold. Raises: NoSuchThing."""
        for channel in self.mates(tag):
            channel.move(value)

    # -- scans ------------------------------------------------------------------------------------------------------

    def advance(self, wall_s: float) -> list[tuple[int, int]]:
        """Make every scan due at a wall time in s from the start; gives the logged channel's numbers and counts."""
        due = int(wall_s * SCAN_HZ)
        if due - self.scan > _BEHIND:
            self.scan = due - _BEHIND
        fast: list[tuple[int, int]] = []
        if due <= self.scan:
            return fast
        numbers = np.arange(self.scan + 1, due + 1)
        columns = []
        for tag, channel in self.channels.items():
            if tag == self.logged:
                fine = (numbers[0] - 1) * _FAST + 1 + np.arange(len(numbers) * _FAST)
                counts = channel.run(fine / LOGGER_HZ, self.speed).counts
                fast = list(zip(fine.tolist(), counts.tolist(), strict=True))
                counts = counts[_FAST - 1 :: _FAST]
            else:
                counts = channel.run(numbers / SCAN_HZ, self.speed).counts
            columns.append(counts)
        self._store(numbers, np.stack(columns, axis=1) if columns else np.zeros((len(numbers), 0), dtype=np.int64))
        self.scan = due
        return fast

    def _store(self, numbers: Counts, counts: Counts) -> None:
        self.image[RAW : RAW + counts.shape[1]] = counts[-1] & 0xFFFF
        for row, number in enumerate(numbers.tolist() if has_ring(counts.shape[1]) else ()):
            start = RING + (number % self._slots) * self._stride
            millis = int(number * 1000 / SCAN_HZ)
            self.image[start : start + SLOT_HEAD] = (number >> 16, number & 0xFFFF, millis >> 16, millis & 0xFFFF)
            self.image[start + SLOT_HEAD : start + SLOT_HEAD + counts.shape[1]] = counts[row] & 0xFFFF
        newest = int(numbers[-1])
        self._show(counts[-1], len(numbers) / SCAN_HZ)
        self.image[NEWEST : NEWEST + 2] = (newest >> 16, newest & 0xFFFF)

    def _show(self, counts: Counts, elapsed_s: float) -> None:
        """The controller's own scaling of its latest counts, by the pairs in its registers, and its alarms."""
        for n, (tag, channel) in enumerate(self.channels.items()):
            count = int(counts[n])
            value = self._scaled(n, channel, count)
            self.image[SHOWN + 2 * n : SHOWN + 2 * n + 2] = encoded(value, "f32")
            signal = float(channel.channel.path.converter.nominal.inverse(count))
            self.alarms[tag].step(value, signal, elapsed_s)
            if n < MOST_ALARMS:
                self.image[ALARMS + n] = self.alarms[tag].word

    def _scaled(self, n: int, channel: SimulatedChannel, count: int) -> float:
        x, y, held = self._pairs(n)
        if len(x) < 2:
            return 0.0
        signal = float(channel.channel.path.converter.nominal.inverse(count))
        value = float(np.interp(signal, x, y))
        if not held and signal < x[0]:
            value = float(y[0] + (signal - x[0]) * (y[1] - y[0]) / (x[1] - x[0]))
        elif not held and signal > x[-1]:
            value = float(y[-1] + (signal - x[-1]) * (y[-1] - y[-2]) / (x[-1] - x[-2]))
        return value * (channel.fault.size if channel.fault.cause == "wrong unit or scale" else 1.0)

    def _pairs(self, n: int) -> tuple[Array, Array, bool]:
        """The pairs of signal and value in force in a channel's registers, rising in the signal, and whether they hold.

        The controller knows only its registers: what lies in them is taken as it stands.
        """
        start, layout = self._tables[n]
        bank = int(self.image[start]) & 1 if layout.banks == 2 else 0
        start += HEAD + bank * bank_words(layout)
        count = min(int(self.image[start]), layout.rows)
        words = self.image[start + 2 : start + 2 + 4 * count].astype(">u2").tobytes()
        numbers = np.array(struct.unpack(f">{2 * count}f", words)).reshape(count, 2)
        numbers = numbers[np.argsort(numbers[:, 0], kind="stable")] if count else numbers
        return numbers[:, 0], numbers[:, 1], bool(self.image[start + 1])

    def _load_packings(self) -> None:
        """What the controller comes with: the packing kept for each channel, else its described curve."""
        for n, channel in enumerate(self.channels.values()):
            if isinstance(channel.channel, ContinuousChannel):
                start, layout = self._tables[n]
                pairs, held = _pairs_of(self.job, channel.channel, layout.rows)
                words = [word for pair in pairs for number in pair for word in encoded(number, "f32")]
                self.image[start + HEAD : start + HEAD + 2] = (len(pairs), held)
                self.image[start + HEAD + 2 : start + HEAD + 2 + len(words)] = words

    # -- instruments ------------------------------------------------------------------------------------------------

    def reference(self, number: int) -> float:
        """What the reference instrument beside a channel shows. Raises: NoSuchThing."""
        tag = self.tag_of(number)
        channel, own = self.channels[tag], self._stimuli[tag]
        value = channel.plant + own.offset + float(channel.random.normal(0, own.noise))
        return round(value / own.step) * own.step if own.step else value

    def tag_of(self, number: int) -> str:
        """The tag that an instrument's channel number stands for. Raises: NoSuchThing."""
        from .layout import number_of

        for tag in self.channels:
            if number_of(tag) == number:
                return tag
        raise NoSuchThing(f"There is no channel {number}.")

    def metered(self) -> float | None:
        """What the bench meter reads where its leads are held; None for nothing, infinite for an open circuit."""
        if self.probe is None:
            return None
        tag, point = self.probe
        if tag in self.outputs:
            return self._output_volts(self.outputs[tag])
        channel = self.channels[tag]
        if point == "leads":
            return channel.leads_ohm()
        value = channel.meter_v() if point == "signal" else channel.supply_v()
        return None if value is None else value + float(channel.random.normal(0, 1e-4))

    def _output_volts(self, output: SimulatedOutput) -> float | None:
        """What a meter across an output reads: a current makes a voltage over its load, if that is known."""
        load, driver = output.channel.load_ohm, output.channel.driver
        if driver.unit == "V":
            return output.given()
        return None if load is None else output.given() * load / 1000

    def metered_ma(self) -> float | None:
        """What the bench meter reads in the loop where it is held; None where no current of an output is."""
        output = self.outputs.get(self.probe[0]) if self.probe is not None else None
        return None if output is None or output.channel.driver.unit != "mA" else output.given()


def _stimulus(job: Job, channel: WiredChannel, draw: np.random.Generator) -> Stimulus:
    feeds = [feed for source in job.sources for feed in source.every_feed if feed.channel == channel.id]
    wanted = next((feed.reference for feed in feeds if feed.role == "reference"), "")
    instrument = next((one for one in job.references if one.id == wanted), None)
    span = channel.span if isinstance(channel, ContinuousChannel) else 1.0
    if instrument is None:
        return Stimulus(0.0, 2e-5 * span, 1e-5 * span)
    doubt = instrument.expanded_uncertainty or 1e-4 * span
    offset = float(np.clip(draw.normal(0, doubt / 2), -doubt, doubt)) / 2
    return Stimulus(offset, doubt / 8, instrument.resolution or doubt / 10)


def _pairs_of(job: Job, channel: ContinuousChannel, most: int) -> tuple[list[tuple[float, float]], bool]:
    """A packing as the controller's pairs of signal and value; the described curve where none is kept."""
    converter = channel.path.converter.nominal
    record = kept_packing(job, channel)
    if record is not None:
        form = record.form
        if form.kind == "knots":
            rows = [(float(x), float(y)) for x, y in zip(form.signals, form.values, strict=True)]
            return rows[:most], form.clamp
        curve = form.continuous(converter)
        ends = np.array(curve.domain)
        return [(float(x), float(curve.value(x))) for x in ends], False
    nominal = nominal_curve(channel)
    if nominal is None:
        return [], False
    try:
        signals = np.sort(np.asarray(nominal.signal(np.linspace(*channel.range, most))))
    except YardstickError:
        return [], False
    return [(float(x), float(nominal.value(x))) for x in signals], False
