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


class Signer(NamedTuple):
    """Who signs, in which role, and when (ISO 8601)."""

    name: str
    role: str
    at: str


class SignatureState(NamedTuple):
    """A signature: who gave it as it says; its key, whether it is that key's, and as whose that is trusted."""

    signer: Signer
    key: str
    is_valid: bool
    trusted_as: str
    trusted_role: str = ""  # in which role alone; empty: in any

    @property
    def is_in_role(self) -> bool:
        """Whether nothing says that it was given in a role that is not its owner's."""
        return self.trusted_role in ("", self.signer.role)


_NOBODY = TrustedKey("", "")
_SIGNATURE_FIELDS = {*Signer._fields, "key", "signature"}


class Verified(NamedTuple):
    """What a file proves: its record, its hash, its signatures, and everything that was changed, in words."""

    record: dict[str, Any]
    sha256: str
    signatures: tuple[SignatureState, ...]
    changes: tuple[str, ...]

    @property
    def missing_roles(self) -> tuple[str, ...]:
        """Who was asked to sign and has not."""
        signed = {one.signer.role for one in self.signatures if one.is_valid and one.is_in_role}
        return tuple(role for role in self.record.get("asks", ()) if role not in signed)

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


def sealed(record: dict[str, Any], key: SigningKey, signer: Signer) -> dict[str, Any]:
    """A record with its fingerprints, its hash and the signature of whoever signs first."""
    body = {"record": record, "fingerprints": fingerprints(record, canonical)}
    sha256 = hashlib.sha256(canonical(body)).hexdigest()
    return countersigned({**body, "sha256": sha256, "signatures": []}, key, signer)


def countersigned(sealed_record: dict[str, Any], key: SigningKey, signer: Signer) -> dict[str, Any]:
    """A sealed record with one more signature beside those it has: what was sealed is not touched."""
    signature = key.signature(_statement(sealed_record["sha256"], signer._asdict()))
    row = {**signer._asdict(), "key": key.public, "signature": signature}
    return {**sealed_record, "signatures": [*sealed_record["signatures"], row]}


def _statement(sha256: str, signer: dict[str, Any]) -> bytes:
    """What a signature is of: the hash, and as whom, in which role and when it was given."""
    return canonical({"sha256": sha256, **{name: str(signer.get(name, "")) for name in Signer._fields}})


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
    return checked_record(data, str(path))


def checked_record(data: Any, where: str) -> dict[str, Any]:
    """Data that are a sealed record. Raises: BadTable where they are none; `where` they are from."""
    parts = {"record": dict, "fingerprints": dict, "sha256": str, "signatures": list}
    if not isinstance(data, dict) or not all(isinstance(data.get(name), kind) for name, kind in parts.items()):
        raise BadTable(f"{where} is no record: expected record, fingerprints, sha256 and signatures.")
    if (data["record"].get("format"), data["record"].get("version")) != (FORMAT, VERSION):
        raise BadTable(f"{where} is no record of this program's version: expected {FORMAT} {VERSION}.")
    return data


def whole_hash(data: dict[str, Any]) -> str:
    """The SHA-256 of what a sealed record seals, as it is now. Raises: BadTable, KeyError."""
    body = canonical({"record": data["record"], "fingerprints": data["fingerprints"]})
    return hashlib.sha256(body).hexdigest()


def signature_states(data: dict[str, Any], sha256: str, trusted: tuple[TrustedKey, ...]) -> tuple[SignatureState, ...]:
    """How each signature of a sealed record stands to its hash of now."""
    known = {one.key: one for one in trusted}
    states = []
    for one in data["signatures"]:
        row = one if isinstance(one, dict) and set(one) == _SIGNATURE_FIELDS else {}
        key, signature = str(row.get("key", "")), str(row.get("signature", ""))
        signer = Signer(*(str(row.get(name, "")) for name in Signer._fields))
        is_valid = is_signed(key, signature, _statement(sha256, row))
        owner = known.get(key, _NOBODY)
        states.append(SignatureState(signer, key, is_valid, owner.name, owner.role))
    return tuple(states)


def verified(data: dict[str, Any], trusted: tuple[TrustedKey, ...] = ()) -> Verified:
    """What a sealed record proves. Raises: BadTable where it cannot be put into its one form."""
    now = whole_hash(data)
    states = signature_states(data, now, trusted)
    changes = changed_paths(data["record"], data["fingerprints"], canonical)
    if not changes and now != data["sha256"]:
        changes = ["the list of fingerprints, or the hash itself, was changed"]
    if not changes and states and not all(one.is_valid for one in states):
        changes = ["a signature is not that of its key over this record"]
    extra = sorted(set(data) - {"record", "fingerprints", "sha256", "signatures"})
    changes += [f"{name} was added beside the record" for name in extra]
    return Verified(data["record"], now, states, tuple(changes))
