"""Where leads go, as it is printed on records and on sheets for the field."""

from collections.abc import Sequence

from ..wire.landing import WiringRow
from .blocks import Tabled

_COLUMNS = ("lead", "colour", "strip", "connector", "channel", "register", "shield")


def lead_tables(rows: Sequence[WiringRow], heading: str = "Wiring") -> tuple[Tabled, ...]:
    """A table of leads; none where nothing is landed."""
    cells = tuple((r.function, r.colour, r.strip, r.connector, r.channel, r.register, r.shield) for r in rows)
    return (Tabled(heading, _COLUMNS, cells),) if cells else ()
