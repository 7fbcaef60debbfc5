"""A job taken into the register: its units, its reference instruments with their certificates, and its records."""

from pathlib import Path
from typing import NamedTuple

from ...core.document.channel import SignableChannel
from ...core.job.job import Job
from ...core.sign.kinds.registry import SIGNED_KINDS
from ...core.words.errors import BadTable
from ..jobfile import read_job
from ..records.signing import records_folder
from .schema import UNITS
from .store import Register
from .take import TakenRecord, instrument_key, key_of_channel, put_certificate, put_instrument, put_new, take_file


class TakenJob(NamedTuple):
    """What of a job was new: how many units, and its records; what was refused, in words."""

    units: int
    records: tuple[TakenRecord, ...]
    refused: tuple[str, ...]


def put_job(register: Register, job: Job) -> int:
    """Have the register know a job's units and instruments; how many units were new. Raises: RegisterAway."""
    with register.transaction() as connection:
        for reference in job.references:
            plain = reference.model_dump(mode="json")
            put_instrument(connection, plain)
            put_certificate(connection, instrument_key(plain), plain)
        return sum(
            put_new(connection, UNITS, {"key": key_of_channel(job, channel)}, _unit_row(job, channel))
            for channel in job.channels
            if isinstance(channel, SignableChannel)
        )


def take_job(register: Register, path: Path) -> TakenJob:
    """Take a job of any version with its records. Raises: BadJob for what is none, RegisterAway."""
    units = put_job(register, read_job(path))
    taken, refused = [], []
    for record in sorted(records_folder(path).glob("*.record.json")):
        try:
            taken.append(take_file(register, record))
        except BadTable as error:
            refused.append(f"{record.name}: {error}")
    return TakenJob(units, tuple(taken), tuple(refused))


def _unit_row(job: Job, channel: SignableChannel) -> dict[str, str]:
    device = job.document.device_by_id.get(channel.device)
    plate = {name: "" if device is None else getattr(device, name) for name in ("maker", "model", "serial")}
    quantity = SIGNED_KINDS[channel.kind].quantity(channel.model_dump(mode="json", include={"transducer"}))
    return {**plate, "name": channel.name, "tag": channel.tag, "place": job.title, "quantity": quantity}
