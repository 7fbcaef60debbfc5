"""Signing without a window: a channel's record, its verification, and keys."""

from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .arguments import JobFileArgument
from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..files.records.signed import Verified

_SCOPES = {"unit": "this unit", "type": "every unit of the type"}


def sign(
    job: JobFileArgument,
    tag: Annotated[str, typer.Argument(help="Tag of the channel.")],
    by: Annotated[str, typer.Option(help="Who signs.")],
    json_out: Annotated[Path, typer.Option("--json", help="The record; it must not be there yet.")],
    role: Annotated[str, typer.Option(help="In which role.")] = "technician",
    scope: Annotated[str, typer.Option(help="What it holds for: unit, or type.")] = "unit",
    accept: Annotated[str, typer.Option(help="Why open points are accepted.")] = "",
    previous: Annotated[Path | None, typer.Option(help="The unit's record before this one.")] = None,
    corrects: Annotated[Path | None, typer.Option(help="A record that this one corrects.")] = None,
    why: Annotated[str, typer.Option(help="Why it is corrected.")] = "",
    passphrase: Annotated[str, typer.Option(help="Of the key.", envvar="ABLE_YARDSTICK_PASSPHRASE")] = "",
) -> None:
    """Sign a channel: everything that is needed to check it, in a record that shows any change.

    Open points (not proven, stale, assumed, overdue) are listed and refused, unless it is said why they are accepted.
    """
    from importlib.metadata import version

    from ..core.sign.contents import Signing, contents_of
    from ..core.words.errors import BadTable
    from ..files.jobfile import read_job
    from ..files.records.keys import key_folder, read_key
    from ..files.records.signed import save_record, sealed

    if scope not in _SCOPES:
        raise BadTable(f"Expected --scope unit or type, found “{scope}”.")
    if json_out.exists():
        raise BadTable(f"{json_out} is there already: a record is never written over. Choose another name.")
    known = read_job(job)
    channel = known.continuous(known.tagged(tag).id)
    if corrects is not None and not why.strip():
        raise BadTable("A correction says what was wrong: give --why.")
    signing = Signing(
        by, role, datetime.now(UTC).replace(microsecond=0), _SCOPES[scope], accept,  # type: ignore[arg-type]  # one of two
        _hash_of(previous, channel.id), _hash_of(corrects, channel.id), why,
    )  # fmt: skip
    record = contents_of(known, channel, signing, version("able-yardstick"))
    made = sealed(record, read_key(key_folder(), passphrase))
    save_record(json_out, made)
    print(f"{tag} is signed by {by}: {json_out}, SHA-256 {made['sha256']}.")


def _hash_of(path: Path | None, channel_id: str) -> str:
    """The hash of a record of the same channel. Raises: BadTable where it is another's, or not whole."""
    from ..core.words.errors import BadTable
    from ..files.records.signed import read_record, verified

    if path is None:
        return ""
    found = verified(read_record(path))
    if not found.is_whole:
        raise BadTable(f"{path} is not whole: {found.changes[0] if found.changes else 'it is not signed'}.")
    if found.record.get("channel", {}).get("id") != channel_id:
        raise BadTable(f"{path} is the record of another channel.")
    return found.sha256


def verify(
    path: Annotated[Path, typer.Argument(metavar="record", help="A record.")],
    trust: Annotated[
        list[str] | None, typer.Option(help="Public keys that are trusted, beside those of the list.")
    ] = None,
    previous: Annotated[Path | None, typer.Option(help="The record before it, to check the chain.")] = None,
    as_json: AsJson = False,
) -> None:
    """Say what a record proves and what not. Exit status 1 if anything was changed, each difference named."""
    from ..files.records.keys import TrustedKey, key_folder, trusted_keys
    from ..files.records.signed import read_record, verified

    keys = (*trusted_keys(key_folder()), *(TrustedKey("a key given here", key) for key in trust or ()))
    found = verified(read_record(path), keys)
    chain = _chain(found, previous)
    data = {
        "whole": found.is_whole, "sha256": found.sha256, "changes": list(found.changes), "chain": chain,
        "signatures": [one._asdict() for one in found.signatures],
    }  # fmt: skip
    if as_json:
        print_json(data)
    else:
        _print_verified(found, chain)
    is_broken = not found.is_whole or chain.startswith("broken")
    raise typer.Exit(1 if is_broken else 0)


def _chain(found: "Verified", previous: Path | None) -> str:
    """How a record stands to the one before it, in words."""
    from ..files.records.signed import read_record, verified

    stated = str(found.record.get("previous", ""))
    if previous is None:
        return "names a record before it, which was not given" if stated else "names no record before it"
    before = verified(read_record(previous))
    if before.sha256 != stated:
        return "broken: the record given is not the one that it names as before it"
    return "the record before it is the one that it names" if before.is_whole else "broken: the one before was changed"


def _print_verified(found: "Verified", chain: str) -> None:
    record = found.record
    unit, channel = record.get("unit") or {}, record.get("channel") or {}
    print(
        f"Record of {channel.get('tag', '?')}, serial {unit.get('serial') or 'not stated'}, for {record.get('scope')}."
    )
    print(f"SHA-256 {found.sha256}")
    for change in found.changes:
        print(f"CHANGED: {change}")
    for one in found.signatures:
        whose = f"trusted as {one.trusted_as}" if one.trusted_as else "a key that is trusted as nobody's"
        state = "signed" if one.is_valid else "NOT signed"
        print(f"{state} by {whose} ({one.key})")
    if not found.signatures:
        print("NOT signed by anybody")
    print(f"Chain: {chain}.")
    if found.is_whole:
        by = record.get("by") or {}
        print(
            f"Proven: nothing was changed since whoever holds the key signed it, as {by.get('name')}, {by.get('role')}."
        )
        print("Not proven: that the readings were true, or, of a key that is not trusted, whose it is.")


def key(
    act: Annotated[str, typer.Argument(help="new, show, or trust.")],
    name: Annotated[str, typer.Argument(help="As whose a key is trusted.")] = "",
    public: Annotated[str, typer.Argument(help="The public key that is trusted.")] = "",
    passphrase: Annotated[str, typer.Option(help="Of the key.", envvar="ABLE_YARDSTICK_PASSPHRASE")] = "",
    as_json: AsJson = False,
) -> None:
    """Make a key to sign with, show its public part and whose keys are trusted, or trust one."""
    from ..core.words.errors import BadTable
    from ..files.records.keys import key_folder, make_key, read_key, trust, trusted_keys

    folder = key_folder()
    if act == "new":
        made: Any = {"public": make_key(folder, passphrase).public, "folder": str(folder)}
    elif act == "show":
        trusted = [one._asdict() for one in trusted_keys(folder)]
        made = {"public": read_key(folder, passphrase).public, "trusted": trusted}
    elif act == "trust":
        if not name or not public:
            raise BadTable("Expected whose it is and the key: key trust NAME KEY.")
        trust(folder, name, public)
        made = {"trusted": [one._asdict() for one in trusted_keys(folder)]}
    else:
        raise BadTable(f"Expected new, show or trust, found “{act}”.")
    if as_json:
        print_json(made)
        return
    if "public" in made:
        print(made["public"])
    for row in made.get("trusted", ()):
        print(f"{row['key']}  {row['name']}")
