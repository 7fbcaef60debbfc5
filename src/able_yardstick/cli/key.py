"""Keys without a window: one's own, and whose are trusted."""

from typing import Annotated, Any

import typer

from .output import AsJson, print_json
from .sign import Passphrase


def key(
    act: Annotated[str, typer.Argument(help="new, show, or trust.")],
    name: Annotated[str, typer.Argument(help="As whose a key is trusted.")] = "",
    public: Annotated[str, typer.Argument(help="The public key that is trusted.")] = "",
    role: Annotated[str, typer.Option(help="Of trust: in which role alone, such as approver.")] = "",
    register: Annotated[str, typer.Option(help="Of trust and show: the shop's list in a register.")] = "",
    passphrase: Passphrase = "",
    as_json: AsJson = False,
) -> None:
    """Make a key to sign with, show its public part and whose keys are trusted, or trust one."""
    from ..core.words.errors import BadTable
    from ..files.records.keys import key_folder, make_key, read_key, trust, trusted_keys

    folder = key_folder()
    if act == "new":
        made: Any = {"public": make_key(folder, passphrase).public, "folder": str(folder)}
    elif act == "show":
        trusted = [one._asdict() for one in trusted_keys(folder)] + (_trust_in(register) if register else [])
        made = {"public": read_key(folder, passphrase).public, "trusted": trusted}
    elif act == "trust":
        if not name or not public:
            raise BadTable("Expected whose it is and the key: key trust NAME KEY.")
        if register:
            made = {"trusted": _trust_in(register, name, public, role)}
        else:
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


def _trust_in(url: str, name: str = "", public: str = "", role: str = "") -> list[dict[str, Any]]:
    """Whose keys a register trusts, with one more where it is given."""
    from ..files.register.store import Register
    from ..files.register.trust import trust_in, trusted_in

    with Register(url) as opened:
        if public:
            trust_in(opened, name, public, role)
        return [one._asdict() for one in trusted_in(opened)]
