"""A signed record as a file: canonical JSON (RFC 8785), its SHA-256, a fingerprint of every figure, signatures."""

import hashlib
import json
from pathlib import Path
from typing import Any, NamedTuple

import rfc8785

from ...core.sign.contents import FORMAT, VERSION
from ...core.sign.fingerprints import changed_paths, fingerprints
from ...core.words.errors import BadTable
from ..output import put_bytes
from .keys import SigningKey, TrustedKey, is_signed


class SignatureState(NamedTuple):
    """A signature of a record: its key, whether it is that key's, and as whose it is trusted (empty: nobody's)."""

    key: str
    is_valid: bool
    trusted_as: str


class Verified(NamedTuple):
    """What a file proves: its record, its hash, its signatures, and everything that was changed, in words."""

    record: dict[str, Any]
    sha256: str
    signatures: tuple[SignatureState, ...]
    changes: tuple[str, ...]

    @property
    def is_whole(self) -> bool:
        """Whether nothing was changed since it was signed."""
        return not self.changes and bool(self.signatures) and all(one.is_valid for one in self.signatures)


def canonical(data: Any) -> bytes:
    """Plain JSON data in the one form that it has by RFC 8785. Raises: BadTable for what JSON cannot say."""
    try:
        return rfc8785.dumps(data)
    except rfc8785.CanonicalizationError as error:
        raise BadTable(f"This cannot be put into a record: {error}.") from error


def sealed(record: dict[str, Any], *keys: SigningKey) -> dict[str, Any]:
    """A record with its fingerprints, its hash and the signatures of some keys."""
    body = {"record": record, "fingerprints": fingerprints(record, canonical)}
    data = canonical(body)
    signatures = [{"key": key.public, "signature": key.signature(data)} for key in keys]
    return {**body, "sha256": hashlib.sha256(data).hexdigest(), "signatures": signatures}


def save_record(path: Path, sealed_record: dict[str, Any]) -> None:
    """Write a sealed record. Raises: BadTable."""
    put_bytes(path, json.dumps(sealed_record, ensure_ascii=False, indent=1).encode())


def read_record(path: Path) -> dict[str, Any]:
    """A sealed record of a file. Raises: BadTable where it is none."""
    try:
        data = json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    except (ValueError, RecursionError) as error:
        raise BadTable(f"{path} is no record: it is no JSON that can be read ({error}).") from error
    parts = {"record": dict, "fingerprints": dict, "sha256": str, "signatures": list}
    if not isinstance(data, dict) or not all(isinstance(data.get(name), kind) for name, kind in parts.items()):
        raise BadTable(f"{path} is no record: expected record, fingerprints, sha256 and signatures.")
    if (data["record"].get("format"), data["record"].get("version")) != (FORMAT, VERSION):
        raise BadTable(f"{path} is no record of this program's version: expected {FORMAT} {VERSION}.")
    return data


def verified(data: dict[str, Any], trusted: tuple[TrustedKey, ...] = ()) -> Verified:
    """What a sealed record proves. Raises: BadTable where it cannot be put into its one form."""
    body = canonical({"record": data["record"], "fingerprints": data["fingerprints"]})
    now = hashlib.sha256(body).hexdigest()
    known = {one.key: one.name for one in trusted}
    states = []
    for one in data["signatures"]:
        key, signature = (str(one.get(name, "")) if isinstance(one, dict) else "" for name in ("key", "signature"))
        states.append(SignatureState(key, is_signed(key, signature, body), known.get(key, "")))
    changes = changed_paths(data["record"], data["fingerprints"], canonical)
    if not changes and now != data["sha256"]:
        changes = ["the list of fingerprints, or the hash itself, was changed"]
    if not changes and states and not all(one.is_valid for one in states):
        changes = ["a signature is not that of its key over this record"]
    extra = sorted(set(data) - {"record", "fingerprints", "sha256", "signatures"})
    changes += [f"{name} was added beside the record" for name in extra]
    return Verified(data["record"], now, tuple(states), tuple(changes))
