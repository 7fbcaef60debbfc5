"""What a stretch of raw signal says of itself: level, noise, drift, a line in its spectrum, jumps, resolution."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel, WiredChannel
from ..document.nominal import nominal_curve
from ..job.pins import counts_of, pins_of
from ..journal.reading import Raw
from ..journal.sample import BAD, Series, still_missing
from ..path.pin import pin_per_raw
from ..stages import Filter
from ..units.conditions import NOMINAL
from ..words.errors import TooFewReadings

Array = NDArray[np.float64]
Texture = Literal["constant", "quiet", "noisy", "line", "wander", "ramp", "jumps", "impossible counts", "unseen"]
LEAST_SAMPLES = 16
_DEFAULT_NOISE_SHARE = 0.0006  # of the span of the pin, where the data sheet states none
_NOISE_MARGIN = 1.45
_CONVERTER_NOISE = 0.6  # counts: rounding, and a little of its own
_LINE_SHARE = 0.45
_LINE_CYCLES = 6.0
_RAMP_SHARE_A_MINUTE = 0.012  # of the span of the pin
_RAMP_CLEARNESS = 6.0
_JUMP_CLEARNESS = 6.0
_JUMP_LEAST = 0.006
_SLOW_HZ = 3.0
_WORD_BYTE = 256


class SpectralLine(NamedTuple):
    """The strongest line of a spectrum: its amplitude is that of the sine, in the pin's unit."""

    frequency_hz: float
    amplitude: float
    share: float
    near_half_rate: bool


class Figures(NamedTuple):
    """A stretch of signal at the pin, in the pin's unit, with what it means in the channel's."""

    samples: int
    seconds: float
    rate_hz: float
    level: float
    level_count: float
    noise: float
    peak_to_peak: float
    noise_value: float | None
    peak_to_peak_value: float | None
    allowed_noise: float
    line: SpectralLine | None
    drift_per_minute: float
    distinct: int
    smoothed_over: float
    stated_smoothing_s: float
    gaps: int
    swapped_level: float
    texture: Texture


def may_be(texture: Texture, textures: tuple[Texture, ...]) -> bool:
    """Whether a signal may have one of some textures; one that was typed by hand may have any."""
    return texture == "unseen" or texture in textures


def allowed_noise(channel: WiredChannel) -> float:
    """The standard deviation that the signal may have at the pin: as specified, and the converter's own."""
    converter = channel.path.converter
    own = _CONVERTER_NOISE * converter.per_count
    stated = channel.transducer.noise if isinstance(channel, ContinuousChannel) else None
    if stated is None or not isinstance(channel, ContinuousChannel):
        return float(np.hypot(own, _DEFAULT_NOISE_SHARE * (converter.end - converter.start)))
    curve = channel.transducer.nominal(channel.around)
    middle = sum(curve.domain) / 2 if curve is not None else 0.0
    slope = abs(float(channel.path.slope(middle, channel.around)))
    return float(np.hypot(own, stated * slope))


def figures_of(channel: WiredChannel, raw: Series) -> Figures:
    """The figures of a stretch of raw signal, wherever on its path it was met.

    Raises: TooFewReadings if there are fewer than 16 good samples.
    """
    good = raw.good
    if len(good) < LEAST_SAMPLES:
        raise TooFewReadings(
            f"{still_missing(raw, len(good), LEAST_SAMPLES)}: fewer say nothing. Wait, or look at the source.",
            needed=LEAST_SAMPLES,
            found=len(good),
        )
    converter = channel.path.converter
    pins, counts = pins_of(channel, good).values, counts_of(channel, good).values
    times = good.times_s - good.times_s[0]
    limit = allowed_noise(channel)
    slope, rest = _detrended(times, pins)
    line = _line(times, rest)
    swapped = _swapped(counts)
    texture = _texture(_Look(channel, times, pins, rest, counts, swapped, slope, line, limit))
    noise = float(np.std(rest if texture in ("ramp", "line") else pins, ddof=1))
    wide = float(np.ptp(pins))
    level = float(np.median(pins)) if texture == "jumps" else float(pins.mean())
    per = _value_per_pin(channel, level)
    return Figures(
        samples=len(good),
        seconds=good.length_s,
        rate_hz=good.rate_hz,
        level=level,
        level_count=float(converter.forward(level)),
        noise=noise,
        peak_to_peak=wide,
        noise_value=None if per is None else noise * per,
        peak_to_peak_value=None if per is None else wide * per,
        allowed_noise=limit,
        line=line,
        drift_per_minute=slope * 60,
        distinct=len(np.unique(good.values)),
        smoothed_over=_smoothing(rest),
        stated_smoothing_s=sum(
            stage.time_constant_s + stage.delay_s for stage in channel.path.stages if isinstance(stage, Filter)
        ),
        gaps=int((raw.states == BAD).sum()),
        swapped_level=float(converter.inverse(float(np.median(swapped)))),
        texture=texture,
    )


def figures_by_hand(channel: WiredChannel, raw: Raw) -> Figures:
    """The figures of values that were typed, a count or what a meter read: a level, and a spread where several were.

    Of its texture nothing is known. Raises: UnitMismatch.
    """
    converter = channel.path.converter
    around = channel.around if isinstance(channel, ContinuousChannel) else NOMINAL
    level = raw.at_pin(channel.path, around)
    noise = 0.0 if raw.spread is None else raw.spread * pin_per_raw(channel.path, raw.mean, raw.met, around)
    per = _value_per_pin(channel, level)
    count = float(converter.forward(level))
    return Figures(
        samples=raw.count, seconds=0.0, rate_hz=0.0, level=level, level_count=count, noise=noise, peak_to_peak=0.0,
        noise_value=None if per is None else noise * per, peak_to_peak_value=None,
        allowed_noise=allowed_noise(channel), line=None, drift_per_minute=0.0, distinct=0, smoothed_over=1.0,
        stated_smoothing_s=0.0, gaps=0,
        swapped_level=float(converter.inverse(float(_swapped(np.array([round(count)]))[0]))), texture="unseen",
    )  # fmt: skip


def _value_per_pin(channel: WiredChannel, pin: float) -> float | None:
    curve = nominal_curve(channel) if isinstance(channel, ContinuousChannel) else None
    if curve is None:
        return None
    low, high = curve.limits
    return abs(float(curve.slope(min(max(pin, low), high))))


def _detrended(times: Array, pins: Array) -> tuple[float, Array]:
    """Slope per second by least squares, and what is left of the signal about that line."""
    centred = times - times.mean()
    square = float(centred @ centred)
    slope = float(centred @ (pins - pins.mean())) / square if square > 0 else 0.0
    return slope, pins - pins.mean() - slope * centred


def _line(times: Array, rest: Array) -> SpectralLine | None:
    """The strongest line by the discrete Fourier transform under a Hann window; None for a signal without any.

    A line lies within two bins of its peak there, and its share of the power is that of its sine, half its amplitude
    squared (F. J. Harris, On the use of windows for harmonic analysis with the discrete Fourier transform, Proc. IEEE
    66 (1978), 51-83).
    """
    count = len(rest)
    if count < 4 * LEAST_SAMPLES or not np.any(rest):
        return None
    even = np.linspace(times[0], times[-1], count)
    window = np.hanning(count)
    power = np.abs(np.fft.rfft(np.interp(even, times, rest) * window)) ** 2
    step = (times[-1] - times[0]) / (count - 1)
    frequencies = np.fft.rfftfreq(count, step)
    power[frequencies < _LINE_CYCLES / (times[-1] - times[0])] = 0
    at = int(np.argmax(power))
    total = float(np.abs(np.fft.rfft(rest * window) ** 2).sum())
    share = float(power[max(at - 2, 0) : at + 3].sum()) / total if total else 0.0
    amplitude = float(np.sqrt(2 * share) * rest.std())
    half_rate = 0.5 / step
    return SpectralLine(float(frequencies[at]), amplitude, share, bool(frequencies[at] > 0.9 * half_rate))


def _smoothing(rest: Array) -> float:
    """Over how many samples the noise is smoothed, by the correlation of neighbours; 1 where it is not.

    For a first-order filter neighbours correlate by r, and it averages over (1 + r) / (1 - r) samples.
    """
    spread = float(rest @ rest)
    if spread == 0:
        return 1.0
    correlation = min(max(float(rest[1:] @ rest[:-1]) / spread, 0.0), 0.999)
    return (1 + correlation) / (1 - correlation)


def _swapped(counts: Array) -> Array:
    """The counts with the two bytes of their word exchanged, shape kept."""
    words = counts.astype(np.int64) & 0xFFFF
    return np.asarray((words % _WORD_BYTE) * _WORD_BYTE + words // _WORD_BYTE, dtype=float)


class _Look(NamedTuple):
    channel: WiredChannel
    times: Array
    pins: Array
    rest: Array
    counts: Array
    swapped: Array
    slope: float
    line: SpectralLine | None
    limit: float


def _texture(look: _Look) -> Texture:
    """What the signal looks like, the more telling first."""
    if _is_impossible(look):
        return "impossible counts"
    if np.ptp(look.counts) == 0:
        return "constant"
    noise = float(look.rest.std(ddof=1))
    excess = noise > _NOISE_MARGIN * look.limit
    if excess and look.line is not None and look.line.share > _LINE_SHARE:
        return "line"
    if excess and _has_jumps(look):
        return "jumps"
    if _is_ramp(look, noise):
        return "ramp"
    if not excess:
        return "quiet"
    return "wander" if _is_slow(look) else "noisy"


def _is_impossible(look: _Look) -> bool:
    """Counts that the converter cannot make, or that calm down when the bytes of the word are exchanged."""
    if look.counts.max() > look.channel.path.converter.full_count:
        return True
    wide, calm = float(np.ptp(look.counts)), float(np.ptp(look.swapped))
    return wide > _WORD_BYTE and calm * 20 < wide


def _has_jumps(look: _Look) -> bool:
    """Two levels with nothing between them, each seen again and again."""
    ordered = np.sort(look.pins)
    count = len(ordered)
    least = max(int(_JUMP_LEAST * count), 3)
    steps = np.diff(ordered)[least:-least]
    if not len(steps):
        return False
    at = int(np.argmax(steps)) + least
    lower, upper = ordered[: at + 1], ordered[at + 1 :]
    within = max(float(lower.std()), float(upper.std()), look.limit)
    return bool(upper.mean() - lower.mean() > 2 * _JUMP_CLEARNESS * within and steps[at - least] > 2 * within)


def _is_ramp(look: _Look, noise: float) -> bool:
    """A slope too steep for chance and for a quiet plant, with no more than noise about it."""
    seconds = float(look.times[-1]) or 1.0
    converter = look.channel.path.converter
    steep = abs(look.slope) * 60 > _RAMP_SHARE_A_MINUTE * (converter.end - converter.start)
    spread = max(noise, look.limit / 3)
    error = spread / (seconds * np.sqrt(len(look.pins) / 12))  # standard error of a slope over even steps
    return bool(steep and abs(look.slope) > _RAMP_CLEARNESS * error and noise <= 2.5 * look.limit)


def _is_slow(look: _Look) -> bool:
    """Whether most of the swings are slower than a few a second."""
    power = np.abs(np.fft.rfft(look.rest)) ** 2
    step = float(look.times[-1]) / max(len(look.times) - 1, 1)
    frequencies = np.fft.rfftfreq(len(look.rest), step)
    return bool(power[frequencies < _SLOW_HZ].sum() > 0.5 * power.sum())
