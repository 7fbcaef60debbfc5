"""Signing without a window: a channel's record, the second signature under it, and its PDF."""

from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .arguments import JobFileArgument, TagArgument

if TYPE_CHECKING:
    from ..core.document.channel import SignableChannel
    from ..core.job.job import Job
    from ..core.sign.contents import Signing
    from ..files.records.signing import Signed

_SCOPES = {"unit": "this unit", "type": "every unit of the type"}
PaperOption = Annotated[str, typer.Option(help="Size of the paper: A4 or Letter.")]
Passphrase = Annotated[str, typer.Option(help="Of the key.", envvar="ABLE_YARDSTICK_PASSPHRASE")]


def sign(
    job: JobFileArgument,
    tag: TagArgument,
    by: Annotated[str, typer.Option(help="Who signs.")],
    json_out: Annotated[Path | None, typer.Option("--json", help="The record; beside the job if not given.")] = None,
    pdf: Annotated[Path | None, typer.Option(help="The record on paper, with the record inside.")] = None,
    paper: PaperOption = "A4",
    role: Annotated[str, typer.Option(help="In which role.")] = "technician",
    approve: Annotated[bool, typer.Option("--approve", help="Add a second signature to the last record.")] = False,
    ask_approver: Annotated[bool, typer.Option("--ask-approver", help="The record asks for a second one.")] = False,
    scope: Annotated[str, typer.Option(help="What it holds for: unit, or type.")] = "unit",
    accept: Annotated[str, typer.Option(help="Why open points are accepted.")] = "",
    previous: Annotated[Path | None, typer.Option(help="The unit's record before, where the job has none.")] = None,
    corrects: Annotated[Path | None, typer.Option(help="A record that this one corrects.")] = None,
    why: Annotated[str, typer.Option(help="Why it is corrected.")] = "",
    register: Annotated[
        str,
        typer.Option(help="The register's URL: the unit's chain is taken from it.", envvar="ABLE_YARDSTICK_REGISTER"),
    ] = "",
    passphrase: Passphrase = "",
) -> None:
    """Sign a channel: everything that is needed to check it, in a record that shows any change.

    Open points (not proven, stale, assumed, overdue) are listed and refused, unless it is said why they are accepted.
    """
    from ..core.sign.contents import Signing
    from ..core.words.errors import BadTable
    from ..files.jobfile import JobFile

    if scope not in _SCOPES:
        raise BadTable(f"Expected --scope unit or type, found “{scope}”.")
    if pdf is not None and pdf.exists():
        raise BadTable(f"{pdf} is there already: it is not written over. Choose another name.")
    if corrects is not None and not why.strip():
        raise BadTable("A correction says what was wrong: give --why.")
    file, known = JobFile.open(job)
    try:
        if file.why_read_only:
            raise BadTable(f"{job} cannot take a signature: {file.why_read_only}")
        channel = known.signable(known.tagged(tag).id)
        signing = Signing(
            by, "approver" if approve else role, datetime.now(UTC).replace(microsecond=0), _SCOPES[scope], accept,  # type: ignore[arg-type]  # one of two
            _hash_of(previous, channel.id), _hash_of(corrects, channel.id), why,
            asks=(role, "approver") if ask_approver else (),
        )  # fmt: skip
        signing = _after_register(register, known, channel, signing)
        made = _signed(known, channel, signing, job, json_out, passphrase, approve)
        file.save(made.job)
    finally:
        file.close()
    print(f"{tag} is {'approved' if approve else 'signed'} by {by}: {made.path}, SHA-256 {made.record['sha256']}.")
    if pdf is not None:
        _put_pdf(made, pdf, paper)
    if register:
        _hand_in(register, made)


def _after_register(url: str, known: "Job", channel: "SignableChannel", signing: "Signing") -> "Signing":
    """A signing that follows the unit's last record in a register, unless it names one already."""
    if not url or signing.previous:
        return signing
    from ..files.register.find import last_record
    from ..files.register.store import Register
    from ..files.register.take import key_of_channel

    with Register(url) as opened:
        last = last_record(opened, key_of_channel(known, channel))
    return signing._replace(previous=last.sha256, number=last.number + 1)


def _hand_in(url: str, made: "Signed") -> None:
    from ..files.register.store import Register
    from ..files.register.take import take_record

    with Register(url) as opened:
        take_record(opened, made.record)
    print(f"In the register: {opened.shown_url}")


def _signed(
    known: "Job",
    channel: "SignableChannel",
    signing: "Signing",
    job: Path,
    out: Path | None,
    phrase: str,
    again: bool,
) -> "Signed":
    from ..files.records.keys import key_folder, read_key
    from ..files.records.signed import Signer
    from ..files.records.signing import approve, records_folder, sign_channel

    key, folder = read_key(key_folder(), phrase), records_folder(job)
    if again:
        return approve(known, channel, Signer(signing.name, signing.role, signing.at.isoformat()), key, folder)
    return sign_channel(known, channel, signing, key, folder, out)


def _put_pdf(made: "Signed", path: Path, paper: str) -> None:
    from ..app.paper.record_pdf import record_pdf
    from ..app.paper.typeset import paper_named
    from ..app.paper.windowless import ready_to_draw
    from ..files.output import put_bytes

    ready_to_draw()
    put_bytes(path, record_pdf(made.record, paper_named(paper)))
    print(f"On paper: {path}")


def _hash_of(path: Path | None, channel_id: str) -> str:
    """The hash of a record of the same channel. Raises: BadTable where it is another's, or not whole."""
    from ..core.words.errors import BadTable
    from ..files.records.printed import read_held
    from ..files.records.signed import verified

    if path is None:
        return ""
    found = verified(read_held(path).record)
    if not found.is_whole:
        raise BadTable(f"{path} is not whole: {found.changes[0] if found.changes else 'it is not signed'}.")
    if found.record.get("channel", {}).get("id") != channel_id:
        raise BadTable(f"{path} is the record of another channel.")
    return found.sha256
