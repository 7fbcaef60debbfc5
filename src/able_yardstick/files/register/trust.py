"""Whose keys a shop trusts, and in which role: one list for every bench."""

from sqlalchemy import delete, insert, select

from ..records.keys import TrustedKey, checked_key
from .schema import KEYS
from .store import Register


def trust_in(register: Register, name: str, public: str, role: str = "") -> None:
    """Trust a public key as somebody's, in a role or (empty) in any. Raises: BadTable for no key, RegisterAway."""
    key = checked_key(public)
    with register.transaction() as connection:
        connection.execute(delete(KEYS).where(KEYS.c.key == key))
        connection.execute(insert(KEYS).values(key=key, name=name, role=role))


def distrust(register: Register, public: str) -> None:
    """Trust a key no longer. Raises: RegisterAway."""
    with register.transaction() as connection:
        connection.execute(delete(KEYS).where(KEYS.c.key == public))


def trusted_in(register: Register) -> tuple[TrustedKey, ...]:
    """Whose keys are trusted. Raises: RegisterAway."""
    with register.transaction() as connection:
        rows = connection.execute(select(KEYS.c.name, KEYS.c.key, KEYS.c.role).order_by(KEYS.c.name)).all()
    return tuple(TrustedKey(str(name), str(key), str(role)) for name, key, role in rows)
