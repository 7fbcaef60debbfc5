"""Paper without a window: a blank sheet for the field, a label for a sensor, and a whole job handed over."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

import typer

from .arguments import JobFileArgument, TagArgument
from .sign import PaperOption, Passphrase


def sheet(
    job: JobFileArgument,
    pdf: Annotated[Path, typer.Option(help="The sheet; it must not be there yet.")],
    tag: Annotated[str, typer.Argument(help="Tag of one channel; all of them without.")] = "",
    paper: PaperOption = "A4",
) -> None:
    """A blank field sheet: stops, room for readings, wiring and terminals; it is typed back in row by row."""
    from ..app.paper.pdf import pdf_of, save_pdf
    from ..app.paper.typeset import paper_named, typeset
    from ..app.paper.windowless import ready_to_draw
    from ..core.sign.field_sheet import field_sheet
    from ..files.jobfile import read_job

    known, size = read_job(job), paper_named(paper)
    made = field_sheet(known, [known.tagged(tag)] if tag else known.channels)
    ready_to_draw()
    save_pdf(pdf, pdf_of(typeset(made, size), size, f"{made.title}: {made.subtitle}"))
    print(f"The sheet is in {pdf}.")


def label(
    job: JobFileArgument,
    tag: TagArgument,
    pdf: Annotated[Path, typer.Option(help="The label; it must not be there yet.")],
    due: Annotated[str, typer.Option(help="The day on which it is due.")] = "",
) -> None:
    """A label of a channel's last record: tag, serial, days, numbers, and a QR code of the record's hash."""
    from ..app.paper.label import LABEL, label_page
    from ..app.paper.pdf import pdf_of, save_pdf
    from ..app.paper.windowless import ready_to_draw
    from ..core.words.errors import NotApplicable
    from ..files.jobfile import read_job
    from ..files.records.signing import last_sealed

    known = read_job(job)
    sealed = last_sealed(known, known.signable(known.tagged(tag).id), job)
    if sealed is None:
        raise NotApplicable(f"{tag} is not signed yet: a label is one of a record. Sign it first.")
    ready_to_draw()
    save_pdf(pdf, pdf_of([label_page(sealed, due)], LABEL, f"Label of {tag}"))
    print(f"The label is in {pdf}.")


def hand_over(
    job: JobFileArgument,
    zip_out: Annotated[Path, typer.Option("--zip", help="The package; it must not be there yet.")],
    by: Annotated[str, typer.Option(help="Who hands it over; the technician of the job if not given.")] = "",
    log: Annotated[list[Path] | None, typer.Option(help="A log to put in.")] = None,
    passphrase: Passphrase = "",
) -> None:
    """One ZIP with job, records, PDFs, numbers, wiring, logs and words, each file's hash listed and signed."""
    from ..core.job.people import person_of
    from ..core.words.errors import BadTable
    from ..files.jobfile import read_job
    from ..files.records.keys import key_folder, read_key
    from ..files.records.package import package_of, save_package

    if zip_out.exists():
        raise BadTable(f"{zip_out} is there already: it is not written over. Choose another name.")
    known = read_job(job)
    who = by or person_of(known, "technician")
    if not who:
        raise BadTable("Say who hands it over: --by NAME.")
    files = package_of(known, job, read_key(key_folder(), passphrase), who, datetime.now(UTC), tuple(log or ()))
    save_package(zip_out, files, job)
    print(f"{len(files)} files are in {zip_out}.")
