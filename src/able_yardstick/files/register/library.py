"""The shop's own transducers and controllers, kept in the register for every bench."""

from sqlalchemy import delete, insert, select

from ...core.describe.shop_entry import ShopEntry
from ...core.document.controller import Controller
from .schema import LIBRARY
from .store import Register


def put_entry(register: Register, entry: ShopEntry) -> None:
    """Keep a transducer, in place of one with its title. Raises: RegisterAway."""
    _put(register, "transducer", entry.title, entry.source, entry.vouched_by, entry.model_dump_json())


def put_controller(register: Register, controller: Controller, source: str, vouched_by: str) -> None:
    """Keep a controller, in place of one with its name. Raises: RegisterAway."""
    _put(register, "controller", controller.name, source, vouched_by, controller.model_dump_json())


def _put(register: Register, kind: str, name: str, source: str, vouched: str, body: str) -> None:
    row = {"source": source, "vouched": vouched, "body": body}
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == kind, LIBRARY.c.name == name))
        connection.execute(insert(LIBRARY).values(kind=kind, name=name, **row))


def drop_entry(register: Register, title: str) -> None:
    """Take a transducer out; channels that were started from it stay as they are. Raises: RegisterAway."""
    with register.transaction() as connection:
        connection.execute(delete(LIBRARY).where(LIBRARY.c.kind == "transducer", LIBRARY.c.name == title))


def entries(register: Register) -> list[ShopEntry]:
    """All transducers by their titles. Raises: RegisterAway."""
    return [ShopEntry.model_validate_json(body) for body in _bodies(register, "transducer")]


def controllers(register: Register) -> list[Controller]:
    """All controllers by their names. Raises: RegisterAway."""
    return [Controller.model_validate_json(body) for body in _bodies(register, "controller")]


def _bodies(register: Register, kind: str) -> list[str]:
    asked = select(LIBRARY.c.body).where(LIBRARY.c.kind == kind).order_by(LIBRARY.c.name)
    with register.transaction() as connection:
        return [str(row[0]) for row in connection.execute(asked)]
