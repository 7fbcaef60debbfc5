"""What the rig serves where: the controller's registers, the instruments' commands, and a job's sources for them."""

from typing import NamedTuple

from ...core.document.channel import ContinuousChannel, WiredChannel
from ...core.document.controller import TableLayout
from ...core.document.output import OutputChannel
from ...core.document.sources import (
    MOST_REGISTERS,
    AnySource,
    ColumnFeed,
    LinesSource,
    ModbusSource,
    QueryFeed,
    RegisterFeed,
    ScanHistory,
    ScpiSource,
    SerialLine,
)
from ...core.job.job import Job
from ...core.journal.table_image import table_words
from ...core.outputs.writers import address_of
from ...core.wire.landing import table_place as place_of
from ...core.wire.landing import wired_channels

HOST = "127.0.0.1"
RIG_SOURCES = ("controller", "gauge", "meter", "logger")
MODBUS_PORT, GAUGE_PORT, METER_PORT, KNOBS_PORT = 45021, 45025, 45026, 45027
LOGGER_DEVICE = "/tmp/able-yardstick-rig/logger"  # noqa: S108  # a link in a folder that only its owner may enter
LOGGER_BAUD = 115200
DEVICE_ID = 1
SCAN_HZ = 100.0
LOGGER_HZ = 1000.0
NEWEST, SHOWN, RAW, OUTPUTS, ALARMS, RING, PACKING = 0, 100, 600, 850, 900, 1000, 8000
MOST_CHANNELS, MOST_OUTPUTS, MOST_ALARMS = 200, 50, 100
MOST_SLOTS = 200  # two seconds
SLOT_HEAD = 4  # scan number and time, 32 bits each
TABLE = TableLayout()  # of a channel that lands on no terminal with a table of its own
PLAIN_TABLES = 10_500
REGISTERS = PLAIN_TABLES + MOST_CHANNELS * table_words(TABLE)


class Places(NamedTuple):
    """Where the rig's parts are reached."""

    modbus: int = MODBUS_PORT
    gauge: int = GAUGE_PORT
    meter: int = METER_PORT
    knobs: int = KNOBS_PORT
    logger: str = LOGGER_DEVICE


def stride_of(channels: int) -> int:
    """Registers of one scan."""
    return SLOT_HEAD + max(channels, 1)


def has_ring(channels: int) -> bool:
    """Whether a scan of so many channels goes into one request, so that the latest ones can be kept in a ring."""
    return stride_of(channels) <= MOST_REGISTERS


def slots_of(channels: int) -> int:
    """How many scans the ring holds."""
    return min(MOST_SLOTS, (PACKING - RING) // stride_of(channels))


def table_place(job: Job, channel: WiredChannel, number: int) -> tuple[int, TableLayout]:
    """Where a channel's table lies: as the controller's description says, else by the channel's number."""
    place = place_of(job, channel)
    return place if place is not None else (PLAIN_TABLES + number * table_words(TABLE), TABLE)


def output_channels(job: Job) -> list[OutputChannel]:
    """The outputs of a job, in their order."""
    return [channel for channel in job.channels if isinstance(channel, OutputChannel)]


def output_place(job: Job, channel: OutputChannel, number: int) -> int:
    """The register of an output: as the controller's description says, else by the output's number."""
    address = address_of(job, channel)
    return OUTPUTS + number if address is None else address


def number_of(tag: str) -> int:
    """The number of an instrument's channel: that of the tag."""
    digits = "".join(sign for sign in tag if sign.isdigit())
    return int(digits) if digits else sum(map(ord, tag)) % 1000


def scan_history(job: Job) -> ScanHistory | None:
    """Where the controller keeps its latest scans; None where it has only the newest."""
    channels = len(wired_channels(job))
    if not has_ring(channels):
        return None
    return ScanHistory(newest_address=NEWEST, first_address=RING, stride=stride_of(channels), slots=slots_of(channels))


def sources_for(job: Job, places: Places, references: dict[str, str]) -> tuple[AnySource, ...]:
    """The sources of a job that is tried on the rig; `references` names the instrument beside a tag, where known."""
    channels = wired_channels(job)
    ring = scan_history(job)
    first = RAW if ring is None else SLOT_HEAD
    raw = tuple(
        RegisterFeed(name=f"{channel.tag} raw", channel=channel.id, address=first + n)
        for n, channel in enumerate(channels)
    )
    newest, shown = raw if ring is None else (), _shown_feeds(channels)
    return (
        ModbusSource(
            id="controller", name="Kiln controller", host=HOST, port=places.modbus, device_id=DEVICE_ID, rate_hz=5.0,
            registers="input", controller=_landed_on(channels), feeds=(*newest, *shown, *_alarm_feeds(channels)),
            history=ring, history_feeds=() if ring is None else raw,
        ),
        ScpiSource(
            id="gauge", name="Reference bench", host=HOST, port=places.gauge, rate_hz=8.0,
            feeds=_reference_feeds(channels, references),
        ),
        ScpiSource(
            id="meter", name="Bench meter", host=HOST, port=places.meter, rate_hz=4.0,
            feeds=(
                QueryFeed(name="meter", role="meter", node="pin", unit="V", query="READ?"),
                QueryFeed(
                    name="meter, in the loop", role="meter", node="pin", unit="mA", query="MEAS:CURR?",
                    reference=references.get("meter", ""),
                ),
            ),
        ),
        LinesSource(
            id="logger", name="Small logger", rate_hz=LOGGER_HZ, enabled=False,
            serial=SerialLine(device=places.logger, baud=LOGGER_BAUD), feeds=_logger_feeds(channels),
        ),
    )  # fmt: skip


def _landed_on(channels: list[WiredChannel]) -> str:
    """The controller that the channels land on, if they do."""
    return next((channel.landing.controller for channel in channels if channel.landing is not None), "")


def _shown_feeds(channels: list[WiredChannel]) -> tuple[RegisterFeed, ...]:
    return tuple(
        RegisterFeed(
            name=f"{channel.tag} shown", role="shown", channel=channel.id, address=SHOWN + 2 * n, type="f32",
            unit=channel.controller_unit or channel.unit,
        )
        for n, channel in enumerate(channels)
        if isinstance(channel, ContinuousChannel)
    )  # fmt: skip


def _alarm_feeds(channels: list[WiredChannel]) -> tuple[RegisterFeed, ...]:
    return tuple(
        RegisterFeed(name=f"{channel.tag} alarms", role="alarms", channel=channel.id, address=ALARMS + n, unit="")
        for n, channel in enumerate(channels[:MOST_ALARMS])
    )


def _reference_feeds(channels: list[WiredChannel], references: dict[str, str]) -> tuple[QueryFeed, ...]:
    return tuple(
        QueryFeed(
            name=f"{channel.tag} reference", role="reference", channel=channel.id,
            reference=references.get(channel.tag, ""),
            unit=channel.unit, query=f"MEAS? (@{number_of(channel.tag)})",
            set_command=f"SOUR:LEV {{value}},(@{number_of(channel.tag)})",
        )
        for channel in channels
        if isinstance(channel, ContinuousChannel)
    )  # fmt: skip


def _logger_feeds(channels: list[WiredChannel]) -> tuple[ColumnFeed, ...]:
    return tuple(
        ColumnFeed(
            name=f"{channel.tag} fast", role="raw", channel=channel.id, node="counts", unit="counts", column=channel.tag
        )
        for channel in channels
    )


def with_places(job: Job, places: Places) -> tuple[AnySource, ...]:
    """The job's sources, those of the rig turned to where it is now."""
    found: list[AnySource] = []
    for source in job.sources:
        if source.id == "logger" and isinstance(source, LinesSource):
            serial = source.serial.with_(device=places.logger)
            found.append(source.with_(serial=serial, enabled=source.enabled and bool(places.logger)))
        elif isinstance(source, ModbusSource | ScpiSource) and source.id in ("controller", "gauge", "meter"):
            port = {"controller": places.modbus, "gauge": places.gauge, "meter": places.meter}[source.id]
            found.append(source.with_(host=HOST, port=port))
        else:
            found.append(source)
    return tuple(found)
