"""When units are due, kept in the register: by a rule, or by a person with a reason; as CSV and as a calendar."""

import csv
import io
from collections.abc import Sequence
from datetime import UTC, date, datetime

from sqlalchemy import delete, insert

from .find import DueUnit
from .schema import DUES
from .store import Register

_HEADINGS = ("due", "state", "tag", "serial", "name", "place", "months", "rule", "reason")
_LONGEST_LINE = 75  # octets of a content line (RFC 5545, 3.1)


def put_due(
    register: Register, unit: str, due: date, months: int, rule: str, reason: str = "", person: str = "",
    in_use: bool = True,
) -> None:  # fmt: skip
    """Keep when a unit is due, in place of what was kept. Raises: RegisterAway."""
    row = {"due": due, "months": months, "rule": rule, "reason": reason, "person": person, "in_use": in_use}
    with register.transaction() as connection:
        connection.execute(delete(DUES).where(DUES.c.unit == unit))
        connection.execute(insert(DUES).values(unit=unit, **row))


def dues_csv(units: Sequence[DueUnit], on: date) -> str:
    """The due list as CSV."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\r\n")
    rows.writerow(_HEADINGS)
    for one in units:
        rows.writerow((
            one.due, one.state(on), one.tag, one.serial, one.name, one.place, one.months, one.rule, one.reason,
        ))  # fmt: skip
    return out.getvalue()


def dues_calendar(units: Sequence[DueUnit], made: datetime) -> str:
    """The due list as a calendar (RFC 5545): a whole day a unit, in place of what was told of it before."""
    stamp = made.astimezone(UTC).strftime("%Y%m%dT%H%M%SZ")
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Able Yardstick//due list//EN"]
    for one in units:
        title = f"Calibrate {one.tag} {one.name}, serial {one.serial or 'not stated'}"
        lines += [
            "BEGIN:VEVENT", f"UID:{_escaped(one.unit)}@able-yardstick", f"DTSTAMP:{stamp}",
            f"DTSTART;VALUE=DATE:{one.due:%Y%m%d}", f"SUMMARY:{_escaped(title)}", f"LOCATION:{_escaped(one.place)}",
            f"DESCRIPTION:{_escaped(f'Every {one.months} months, by {one.rule}. {one.reason}'.strip())}", "END:VEVENT",
        ]  # fmt: skip
    lines.append("END:VCALENDAR")
    return "".join(f"{_folded(line)}\r\n" for line in lines)


def _escaped(text: str) -> str:
    """A text value (RFC 5545, 3.3.11)."""
    for mark in ("\\", ";", ","):
        text = text.replace(mark, f"\\{mark}")
    return text.replace("\r\n", "\\n").replace("\n", "\\n")


def _folded(line: str) -> str:
    """A content line broken so that none is longer than the standard has it, no letter torn (RFC 5545, 3.1)."""
    parts: list[str] = []
    part = b""
    for letter in line:
        octets = letter.encode()
        if len(part) + len(octets) > _LONGEST_LINE - (1 if parts else 0):
            parts.append(part.decode())
            part = b""
        part += octets
    return "\r\n ".join([*parts, part.decode()])
