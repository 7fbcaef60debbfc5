"""The shop's own transducers and controllers, kept in the register for every bench."""

from typing import NamedTuple

from sqlalchemy import delete, insert, select

from ...core.describe.shop_entry import ShopEntry
from ...core.document.controller import Controller
from .schema import LIBRARY
from .store import Register


class KeptEntry(NamedTuple):
    """An entry as it is kept: of which kind, its name, where it is from, who vouches for it, and all of it as JSON."""

    kind: str
    name: str
    source: str
    vouched: str
    body: str


def put_entry(register: Register, entry: ShopEntry) -> None:
    """Keep a transducer, in place of one with its title. Raises: RegisterAway."""
    keep(register, KeptEntry("transducer", entry.title, entry.source, entry.vouched_by, entry.model_dump_json()))


def put_controller(register: Register, controller: Controller, source: str, vouched_by: str) -> None:
    """Keep a controller, in place of one with its name. Raises: RegisterAway."""
    keep(register, KeptEntry("controller", controller.name, source, vouched_by, controller.model_dump_json()))


def keep(register: Register, entry: KeptEntry) -> None:
    """Keep an entry, in place of one of its kind and name. Raises: RegisterAway."""
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == entry.kind, LIBRARY.c.name == entry.name))
        connection.execute(insert(LIBRARY).values(**entry._asdict()))


def take_out(register: Register, entry: KeptEntry) -> None:
    """Take an entry out; what was started from it stays as it is. Raises: RegisterAway."""
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == entry.kind, LIBRARY.c.name == entry.name))


def kept(register: Register) -> list[KeptEntry]:
    """All entries by their kinds and names. Raises: RegisterAway."""
    columns = [LIBRARY.c[name] for name in KeptEntry._fields]
    asked = select(*columns).order_by(LIBRARY.c.kind, LIBRARY.c.name)
    with register.transaction() as connection:
        return [KeptEntry(*map(str, row)) for row in connection.execute(asked)]


def entries(register: Register) -> list[ShopEntry]:
    """All transducers by their titles. Raises: RegisterAway."""
    return [ShopEntry.model_validate_json(one.body) for one in kept(register) if one.kind == "transducer"]


def controllers(register: Register) -> list[Controller]:
    """All controllers by their names. Raises: RegisterAway."""
    return [Controller.model_validate_json(one.body) for one in kept(register) if one.kind == "controller"]
