"""What a log says afterwards: with other numbers, and of two sensors of one quantity."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..core.document.channel import ContinuousChannel
    from ..core.job.job import Job
    from ..core.journal.sample import Series
    from ..core.lookout.relogging import Relogged

LogArgument = Annotated[
    Path, typer.Argument(metavar="log", help="A log, or a CSV with a time column and one column a channel.")
]


def relog(
    path: LogArgument,
    tag: Annotated[str, typer.Argument(help="Tag of the channel.")],
    job: Annotated[Path, typer.Option(help="The job whose numbers are tried.")],
    fit: Annotated[int | None, typer.Option(help="Which of the numbers kept for it, the first being 1; else the last.")]
    = None,
    curve: Annotated[Path | None, typer.Option(help="A curve instead, as fit leaves it.")] = None,
    as_json: AsJson = False,
) -> None:  # fmt: skip
    """Reckon a log's raw counts anew with other numbers: old against new, and the alarms that would come or not.

    The old numbers are those that were in force when the log began; of a table with counts, those kept last.
    """
    from ..core.job.pins import counts_of
    from ..core.lookout.relogging import relogged
    from ..files.jobfile import read_job
    from ..files.log.anew import reckoned_anew
    from ..files.log.foreign import foreign_series, is_foreign
    from ..files.log.reader import LogFile

    known = read_job(job)
    channel = known.continuous(known.tagged(tag).id)
    new = _new_values(known, channel, fit, curve)
    if is_foreign(path):
        counts = counts_of(channel, foreign_series(path, channel.tag, "raw"))
        found = relogged(counts, _new_values(known, channel, None, None), new, channel.alarms)
    else:
        with LogFile(path) as log:
            found = reckoned_anew(log, channel, new)
    data = _told(found, channel)
    if as_json:
        print_json(data)
        return
    unit, change = channel.unit, data["difference"]
    print(f"{data['samples']} samples: old {data['old']['mean']:.5g}, new {data['new']['mean']:.5g} {unit} on the mean")
    print(f"difference {change['least']:+.4g} to {change['most']:+.4g} {unit}, on the mean {change['mean']:+.4g}")
    if data["doubt"] is not None:
        print(f"only what was shown was logged: each new value may be up to {data['doubt']:.3g} {unit} off")
    for name in ("gained", "lost"):
        for span in data["alarms"][name]:
            print(f"{name}: {span['kind']} alarm, {span['start_s']:.1f} to {span['end_s']:.1f} s")


def _new_values(job: "Job", channel: "ContinuousChannel", fit: int | None, curve: Path | None) -> Any:
    from ..core.lookout.other_numbers import values_by
    from ..core.lookout.relogging import values_of_curve
    from ..core.words.errors import NotApplicable, OutOfRange
    from .points import curve_from

    if curve is not None:
        return values_of_curve(curve_from(curve), channel)
    kept = len(job.journal.of(channel.id).packs)
    if not kept:
        raise NotApplicable(f"No numbers are kept for {channel.tag}. Pack and keep them, or give a curve.")
    if fit is not None and not 1 <= fit <= kept:
        raise OutOfRange(f"Expected --fit 1 to {kept}, found {fit}.", found=fit)
    return values_by(job, channel, str(kept if fit is None else fit))


def _told(found: "Relogged", channel: "ContinuousChannel") -> dict[str, Any]:
    from ..core.words.errors import TooFewReadings

    if not len(found.times_s):
        raise TooFewReadings(f"The log has no good sample of {channel.tag}.", needed=1, found=0)
    began = float(found.times_s[0])
    spans = {
        name: [span._replace(start_s=span.start_s - began, end_s=span.end_s - began)._asdict() for span in rows]
        for name, rows in (("gained", found.gained), ("lost", found.lost))
    }
    figures = {
        name: {"mean": float(row.mean()), "least": float(row.min()), "most": float(row.max())}
        for name, row in (("old", found.old), ("new", found.new), ("difference", found.difference))
    }
    doubt = None if found.doubt is None else float(found.doubt.max())
    return {"tag": channel.tag, "unit": channel.unit, "samples": len(found.times_s), **figures, "doubt": doubt,
            "alarms": spans}  # fmt: skip


def pairs(
    path: LogArgument,
    first: Annotated[str, typer.Argument(help="Tag of the first sensor.")],
    second: Annotated[str, typer.Argument(help="Tag of the second.")],
    allowed: Annotated[float | None, typer.Option(help="How far they may be apart.", min=0)] = None,
    job: Annotated[Path | None, typer.Option(help="A job: which of the two is proven is told from it.")] = None,
    as_json: AsJson = False,
) -> None:
    """Two sensors of one quantity in a log: the second less the first, its trend, the lag, and when they parted.

    Exit status 1 when they are apart by more than is allowed on the mean.
    """
    from ..core.lookout.pairs import compare_pair
    from ..core.lookout.suspects import Sensed, SuspectRow, suspect_of, suspicions
    from ..files.jobfile import read_job

    series = tuple(_values(path, tag) for tag in (first, second))
    result = compare_pair(*series)
    evidence: tuple[SuspectRow, ...] = ()
    if job is not None:
        known = read_job(job)
        channels = [known.continuous(known.tagged(tag).id) for tag in (first, second)]
        evidence = suspicions(known, Sensed(channels[0], series[0]), Sensed(channels[1], series[1]))
    parting, began = result.parting, float(result.course.times_s[0])
    data = {
        "difference": {"mean": result.mean, "spread": result.spread, "trend_per_hour": result.trend,
                       "trend_doubt": result.trend_doubt},
        "lag_s": result.lag_s,
        "parted_at": None if parting is None else {
            "s": parting.at_s - began, "interval": [parting.low_s - began, parting.high_s - began],
            "course": parting.course, "size": parting.size, "p": parting.p,
        },
        "suspect": suspect_of(evidence) or None,
        "evidence": [row._asdict() for row in evidence],
        "within": None if allowed is None else abs(result.mean) <= allowed,
    }  # fmt: skip
    if as_json:
        print_json(data)
    else:
        _print_pair(data, first, second)
    raise typer.Exit(1 if data["within"] is False else 0)


def _values(path: Path, tag: str) -> "Series":
    """What was shown of a channel, out of a log or a table."""
    from ..files.log.foreign import foreign_series, is_foreign
    from ..files.log.reader import LogFile

    if is_foreign(path):
        return foreign_series(path, tag, "shown")
    with LogFile(path) as log:
        return log.read(log.of(tag, "shown"))


def _print_pair(data: dict[str, Any], first: str, second: str) -> None:
    change = data["difference"]
    print(f"{second} less {first}: {change['mean']:+.4g} on the mean, spread {change['spread']:.3g}, "
          f"{change['trend_per_hour']:+.3g} an hour ± {2 * change['trend_doubt']:.2g}")  # fmt: skip
    if data["lag_s"] is not None:
        print(f"{second} follows {first} by {data['lag_s']:.2g} s")
    parted = data["parted_at"]
    if parted is not None:
        low, high = parted["interval"]
        print(f"they began to part {parted['s']:.0f} s after the beginning ({low:.0f} to {high:.0f} s): a "
              f"{parted['course']} of {parted['size']:+.3g}")  # fmt: skip
    for row in data["evidence"]:
        print(f"{row['evidence']}: {first} {row['first']}; {second} {row['second']}")
    if data["suspect"]:
        print(f"suspect: {data['suspect']}")
