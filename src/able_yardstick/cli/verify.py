"""What a record proves, without a window: of a JSON file, or of a PDF with one inside."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NoReturn

import typer

from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..files.records.keys import TrustedKey
    from ..files.records.printed import Held
    from ..files.records.signed import Verified


def verify(
    path: Annotated[Path, typer.Argument(metavar="record", help="A record, a PDF of one, or a ZIP of a job.")],
    trust: Annotated[
        list[str] | None, typer.Option(help="Public keys, or files of them, that are trusted beside those of the list.")
    ] = None,
    previous: Annotated[Path | None, typer.Option(help="The record before it, to check the chain.")] = None,
    register: Annotated[
        str, typer.Option(help="A register: its chain, and whose keys it trusts.", envvar="ABLE_YARDSTICK_REGISTER")
    ] = "",
    as_json: AsJson = False,
) -> None:
    """Say what a record proves and what not. Exit status 1 if anything was changed, each difference named."""
    from ..files.records.keys import TrustedKey, key_folder, trusted_keys
    from ..files.records.package import is_package
    from ..files.records.printed import read_held
    from ..files.records.signed import verified

    keys = (*trusted_keys(key_folder()), *(TrustedKey("a key given here", _key_text(key)) for key in trust or ()))
    keys = (*keys, *_shop_keys(register))
    if is_package(path):
        _verify_package(path, keys, as_json)
    held = read_held(path)
    found = verified(held.record, keys)
    chain = _chain(found, previous, register)
    data = {
        "whole": found.is_whole, "sha256": found.sha256, "changes": list(found.changes), "chain": chain,
        "pages": list(held.page_changes), "missing": list(found.missing_roles),
        "signatures": [{**one._asdict(), "signer": one.signer._asdict()} for one in found.signatures],
    }  # fmt: skip
    if as_json:
        print_json(data)
    else:
        _print_verified(found, held, chain)
    is_broken = not found.is_whole or chain.startswith("broken") or bool(held.page_changes)
    raise typer.Exit(1 if is_broken else 0)


def _verify_package(path: Path, keys: "tuple[TrustedKey, ...]", as_json: bool) -> NoReturn:
    """Say what a package proves, every change named. Exit status 1 if there is one."""
    from ..files.records.package import verified_package

    found = verified_package(path, keys)
    if as_json:
        records = [{"file": name, "changes": list(changes)} for name, changes in found.records]
        print_json({
            "whole": found.is_whole, "signers": list(found.signers), "changes": list(found.changes), "records": records,
        })  # fmt: skip
        raise typer.Exit(0 if found.is_whole else 1)
    for signer in found.signers:
        print(f"Handed over by {signer}.")
    for change in found.changes:
        print(f"CHANGED: {change}")
    for name, changes in found.records:
        print(f"{name}: {'whole' if not changes else 'CHANGED'}")
        for change in changes:
            print(f"  CHANGED: {change}")
    if found.is_whole:
        print("Proven: every file is as it was handed over, and every record as it was signed.")
    raise typer.Exit(0 if found.is_whole else 1)


def _key_text(given: str) -> str:
    """A public key as text: itself, or what stands in a file of that name."""
    from ..files.records.keys import checked_key

    path = Path(given)
    return checked_key(path.read_text("utf-8").strip() if path.is_file() else given)


def _shop_keys(url: str) -> "tuple[TrustedKey, ...]":
    """Whose keys a register trusts; none without one."""
    if not url:
        return ()
    from ..files.register.store import Register
    from ..files.register.trust import trusted_in

    with Register(url) as opened:
        return trusted_in(opened)


def _chain_in(found: "Verified", url: str) -> str:
    """How a record stands to those of its unit in a register."""
    from ..files.register.find import history
    from ..files.register.store import Register
    from ..files.register.take import unit_key

    try:
        key = unit_key(found.record)
    except (KeyError, TypeError, AttributeError):
        return "broken: nothing in the record says of which unit it is"
    with Register(url) as opened:
        hashes = [one["sha256"] for one in history(opened, key)]
    stated = str(found.record.get("previous", ""))
    if found.sha256 not in hashes:
        return "this record is not in the register"
    if stated and stated not in hashes:
        return f"broken: the record before it, {stated[:8]}, is missing in the register"
    return f"record {hashes.index(found.sha256) + 1} of {len(hashes)} of its unit in the register"


def _chain(found: "Verified", previous: Path | None, register: str = "") -> str:
    """How a record stands to the one before it, in words."""
    from ..files.records.printed import read_held
    from ..files.records.signed import verified

    stated = str(found.record.get("previous", ""))
    if previous is None and register:
        return _chain_in(found, register)
    if previous is None:
        return "names a record before it, which was not given" if stated else "names no record before it"
    before = verified(read_held(previous).record)
    if before.sha256 != stated:
        return "broken: the record given is not the one that it names as before it"
    return "the record before it is the one that it names" if before.is_whole else "broken: the one before was changed"


def _print_verified(found: "Verified", held: "Held", chain: str) -> None:
    record = found.record
    unit, channel = (one if isinstance(one, dict) else {} for one in (record.get("unit"), record.get("channel")))
    print(
        f"Record of {channel.get('tag', '?')}, serial {unit.get('serial') or 'not stated'}, for {record.get('scope')}."
    )
    print(f"SHA-256 {found.sha256}")
    for change in found.changes:
        print(f"CHANGED: {change}")
    for change in held.page_changes:
        print(f"CHANGED PAGE: {change}")
    for one in found.signatures:
        whose = f"trusted as {one.trusted_as}" if one.trusted_as else "a key that is trusted as nobody's"
        state = "signed" if one.is_valid else "NOT signed"
        if not one.is_in_role:
            whose += f", {one.trusted_role}, and not in the role it was given in"
        print(f"{state} by {whose} ({one.key}), as {one.signer.name}, {one.signer.role}, {one.signer.at}")
    if not found.signatures:
        print("NOT signed by anybody")
    for role in found.missing_roles:
        print(f"NOT signed yet by the {role}, whom the record asks for")
    print(f"Chain: {chain}.")
    if found.is_whole:
        print("Proven: nothing was changed in the record since whoever holds each key signed it.")
        if held.has_pages and not held.is_compared:
            print("Not compared: another version of the program drew the pages. The record inside is what counts.")
        if held.is_compared and not held.page_changes:
            print("Proven: every word and figure of the record stands on the pages, in its order.")
        print("Not proven: that the readings were true, or, of a key that is not trusted, whose it is.")
