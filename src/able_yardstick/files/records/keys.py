"""Keys to sign with (Ed25519, RFC 8032): readable by their owner only; public ones are trusted by name."""

import base64
import json
import os
from pathlib import Path
from typing import NamedTuple

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey

from ...core.words.errors import BadTable
from ..output import put_bytes, refuse_over

_PRIVATE, _TRUSTED = "signing key.pem", "trusted keys.json"
_OWNER_ONLY = 0o600


class TrustedKey(NamedTuple):
    """A public key by the name of whom it is trusted to be, and in which role (empty: in any)."""

    name: str
    key: str
    role: str = ""


def key_folder() -> Path:
    """Where keys are kept."""
    from platformdirs import user_data_path

    return user_data_path("able-yardstick") / "keys"


class SigningKey:
    """A person's own key."""

    def __init__(self, key: Ed25519PrivateKey) -> None:
        self._key = key

    @property
    def public(self) -> str:
        """The public key, as base64 of its 32 bytes."""
        return base64.b64encode(self._key.public_key().public_bytes_raw()).decode()

    def signature(self, data: bytes) -> str:
        """A signature of bytes, as base64."""
        return base64.b64encode(self._key.sign(data)).decode()


def make_key(folder: Path, passphrase: str = "") -> SigningKey:
    """A new key in a folder. Raises: BadTable where one is there already, or it cannot be kept."""
    path = folder / _PRIVATE
    refuse_over(path)
    if path.exists():
        raise BadTable(f"{path} is there already: a key is never written over. Move it away first.")
    key = Ed25519PrivateKey.generate()
    locked: serialization.KeySerializationEncryption = serialization.NoEncryption()
    if passphrase:
        locked = serialization.BestAvailableEncryption(passphrase.encode())
    data = key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, locked)
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        place = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, _OWNER_ONLY)
        with os.fdopen(place, "wb") as file:
            file.write(data)
    except OSError as error:
        raise BadTable(f"{path} cannot be written: {error.strerror or error}.") from error
    return SigningKey(key)


def key_of_seed(seed: bytes) -> SigningKey:
    """The key of a seed of 32 bytes (RFC 8032, 5.1.5): for what is made up, and must come out the same again."""
    return SigningKey(Ed25519PrivateKey.from_private_bytes(seed))


def is_locked(folder: Path) -> bool:
    """Whether the key of a folder asks for a passphrase; none that is there yet does."""
    path = folder / _PRIVATE
    try:
        return b"ENCRYPTED" in path.read_bytes()
    except OSError:
        return False


def read_key(folder: Path, passphrase: str = "") -> SigningKey:
    """The key of a folder, made if there is none yet. Raises: BadTable where it cannot be read or unlocked."""
    path = folder / _PRIVATE
    if not path.exists():
        return make_key(folder, passphrase)
    try:
        key = serialization.load_pem_private_key(path.read_bytes(), passphrase.encode() or None)
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    except (ValueError, TypeError) as error:
        raise BadTable(f"{path} cannot be unlocked: give its passphrase, or see that it is a key.") from error
    if not isinstance(key, Ed25519PrivateKey):
        raise BadTable(f"{path} is a key of another kind: expected Ed25519.")
    return SigningKey(key)


def is_signed(public: str, signature: str, data: bytes) -> bool:
    """Whether a signature of bytes is that of a public key."""
    try:
        Ed25519PublicKey.from_public_bytes(_bytes_of(public)).verify(_bytes_of(signature), data)
    except (InvalidSignature, ValueError):
        return False
    return True


def _bytes_of(text: str) -> bytes:
    """The bytes of base64 in its one form: the spare bits of its last letter are 0. Raises: ValueError."""
    data = base64.b64decode(text, validate=True)
    if base64.b64encode(data).decode() != text:
        raise ValueError("not the one form of base64")
    return data


def trusted_keys(folder: Path) -> tuple[TrustedKey, ...]:
    """Whose keys are trusted. Raises: BadTable where the list cannot be read."""
    path = folder / _TRUSTED
    if not path.exists():
        return ()
    try:
        rows = json.loads(path.read_text("utf-8"))
        return tuple(TrustedKey(str(row["name"]), str(row["key"]), str(row.get("role", ""))) for row in rows)
    except (OSError, ValueError, KeyError, TypeError, AttributeError) as error:
        raise BadTable(f"{path} is no list of trusted keys: {error}.") from error


def checked_key(public: str) -> str:
    """A text that is a public key. Raises: BadTable for any other."""
    try:
        Ed25519PublicKey.from_public_bytes(_bytes_of(public))
    except ValueError as error:
        raise BadTable("Expected a public key: 44 characters as “key show” prints them.") from error
    return public


def trust(folder: Path, name: str, public: str) -> None:
    """Trust a public key as somebody's. Raises: BadTable for what is no key, or a name that has another one."""
    checked_key(public)
    known = trusted_keys(folder)
    if any(one.name == name and one.key != public for one in known):
        raise BadTable(f"Another key is trusted as {name} already. Give this one a name of its own.")
    rows = {one.key: one for one in (*known, TrustedKey(name, public))}
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    put_bytes(folder / _TRUSTED, json.dumps([one._asdict() for one in rows.values()], indent=1).encode())
