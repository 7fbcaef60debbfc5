"""The shop's own transducers, kept in the register for every bench."""

from sqlalchemy import delete, insert, select

from ...core.describe.shop_entry import ShopEntry
from .schema import LIBRARY
from .store import Register

_KIND = "transducer"


def put_entry(register: Register, entry: ShopEntry) -> None:
    """Keep an entry, in place of one with its title. Raises: RegisterAway."""
    row = {"source": entry.source, "vouched": entry.vouched_by, "body": entry.model_dump_json()}
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == _KIND, LIBRARY.c.name == entry.title))
        connection.execute(insert(LIBRARY).values(kind=_KIND, name=entry.title, **row))


def drop_entry(register: Register, title: str) -> None:
    """Take an entry out; channels that were started from it stay as they are. Raises: RegisterAway."""
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == _KIND, LIBRARY.c.name == title))


def entries(register: Register) -> list[ShopEntry]:
    """All entries by their titles. Raises: RegisterAway."""
    asked = select(LIBRARY.c.body).where(LIBRARY.c.kind == _KIND).order_by(LIBRARY.c.name)
    with register.transaction() as connection:
        return [ShopEntry.model_validate_json(row[0]) for row in connection.execute(asked)]
