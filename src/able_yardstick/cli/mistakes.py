"""The mistake behind a channel's errors without a window, and how often it is named."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .output import AsJson, print_json, put_page

if TYPE_CHECKING:
    from ..core.document.channel import ContinuousChannel
    from ..core.job.job import Job
    from ..core.prove.mistakes.naming import ErrorPattern, Naming


def mistakes(
    job: Annotated[Path | None, typer.Argument(help="Job file.")] = None,
    tag: Annotated[str | None, typer.Argument(help="Tag of the channel.")] = None,
    checks: Annotated[
        Path | None, typer.Option(help="Checks: CSV with the columns reference and shown; u. Else those of the job.")
    ] = None,
    u: Annotated[float | None, typer.Option("--u", help="Expanded uncertainty of every check, k = 2.", min=0)] = None,
    confusion: Annotated[bool, typer.Option("--confusion", help="Make every mistake many times instead.")] = False,
    runs: Annotated[int, typer.Option(help="Seeded runs of each mistake.", min=1)] = 100,
    seed: Annotated[int, typer.Option(help="First seed of these.")] = 8_000_000,
    into: Annotated[Path | None, typer.Option(help="Write the table to this file.")] = None,
    as_json: AsJson = False,
) -> None:
    """Which known mistake explains what a controller shows, by its error curve. Exit status 1 if one is named."""
    if confusion:
        _confusion(runs, seed, into, as_json)
        return
    from ..files.jobfile import read_job

    if job is None or tag is None:
        raise typer.BadParameter("Give a job and a tag, or --confusion.")
    read = read_job(job)
    channel = read.continuous(read.tagged(tag).id)
    naming = _named(read, channel, checks, u)
    if as_json:
        print_json(_data(naming))
    else:
        _print(naming, channel.unit)
    raise typer.Exit(0 if naming.is_sound else 1)


def _named(job: "Job", channel: "ContinuousChannel", checks: Path | None, u: float | None) -> "Naming":
    """The mistakes behind checks of a file, in the channel's unit, or behind those of the job."""
    import numpy as np

    from ..core.prove.mistakes.evidence import case_of, naming_of
    from ..core.prove.mistakes.naming import Checks, named
    from .prove import check_columns

    if checks is None:
        return naming_of(job, channel, u)
    reference, shown, expanded, _ = check_columns(checks, u)
    standard = np.array([0.0 if one is None else one / 2 for one in expanded])
    return named(case_of(job, channel, by_packing=True), Checks(np.array(reference), np.array(shown), standard))


def _data(naming: "Naming") -> dict[str, Any]:
    from ..core.prove.mistakes.words import cause_words

    causes = [
        {
            "name": one.name, "says": cause_words(one), "where": one.where, "parameter": one.parameter,
            "value": one.value, "unit": one.unit, "explained": one.explained, "left": one.left,
        }
        for one in naming.suspects
    ]  # fmt: skip
    return {
        "sound": naming.is_sound,
        "assumed_u": naming.assumed or None,
        "causes": causes,
        "undecided": list(naming.undecided),
        "next_check": None if naming.next_check is None else naming.next_check._asdict(),
        "patterns": [_pattern(one) for one in naming.patterns],
    }


def _pattern(one: "ErrorPattern") -> dict[str, Any]:
    return {"name": one.name, "explained": one.explained, "left": one.left, "is_enough": one.is_enough}


def _print(naming: "Naming", unit: str) -> None:
    from ..core.prove.mistakes.words import cause_words, naming_words, share_words
    from ..core.words.numerals import significant

    print(naming_words(naming, unit))
    for one in naming.suspects:
        rest = f"explains {share_words(one.explained)}, leaves {significant(one.left, 2)} {unit}"
        print(f"  {one.name}: {cause_words(one)}; {rest} ({one.where})")
    for pattern in naming.patterns:
        left = significant(pattern.left, 2)
        print(f"  only {pattern.name}: explains {share_words(pattern.explained)}, leaves {left} {unit}")


def _confusion(runs: int, seed: int, into: Path | None, as_json: bool) -> None:
    from ..bench.rig.mistaken.page import mistakes_page
    from ..bench.rig.mistaken.runs import mistake_table
    from ..core.job.job import Job
    from ..demo import demo_text

    rows = mistake_table(Job.model_validate_json(demo_text()), runs, seed)
    if as_json:
        print_json([row._asdict() for row in rows])
        return
    put_page(mistakes_page(rows, seed), into)
