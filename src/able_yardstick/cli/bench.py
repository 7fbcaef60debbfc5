"""The live bench without a window: the rig, the sources, Wake, Gather, and how often the verdict is right."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from .arguments import JobFileArgument
from .output import AsJson, print_json


def rig(
    seed: Annotated[int, typer.Option(help="The same seed gives the same plant.")] = 7,
    speed: Annotated[float, typer.Option(help="How much faster than the clock the plant moves.", min=0.01)] = 1.0,
    fault: Annotated[list[str] | None, typer.Option(help="A fault to begin with, such as PT-202=open.")] = None,
    job: Annotated[Path | None, typer.Option(help="Job whose channels it simulates; else the demo's.")] = None,
    serve_for: Annotated[
        Path | None, typer.Option("--for", help="Job whose sources are turned to where the rig serves.")
    ] = None,
    free_ports: Annotated[bool, typer.Option("--free-ports", help="Take any free ports.")] = False,
) -> None:
    """Simulate the plant behind real protocols; print where it serves as JSON, then run until stopped."""
    from ..bench.rig.faults import fault_named
    from ..bench.rig.layout import Places
    from ..bench.rig.plant import Plant
    from ..bench.rig.server import serve
    from ..core.job.job import Job
    from ..core.words.errors import BadTable
    from ..demo import demo_text
    from ..files.jobfile import read_job

    path = job or serve_for
    known = Job.model_validate_json(demo_text()) if path is None else read_job(path)
    plant = Plant(known, seed, speed)
    for text in fault or []:
        tag, sign, name = text.partition("=")
        if not sign:
            raise BadTable(f"Expected a fault as TAG=FAULT, such as PT-202=open, found “{text}”.")
        plant.tagged(tag).break_by(fault_named(name))

    def told(places: dict[str, Any]) -> None:
        if serve_for is not None:
            _turn_sources(serve_for, places)
        print(json.dumps({**places, "seed": seed}), flush=True)

    wanted = Places(0, 0, 0, 0) if free_ports else Places()
    serve(plant, wanted, told, known.title)


def _turn_sources(path: Path, places: dict[str, Any]) -> None:
    from ..bench.rig.layout import Places, with_places
    from ..core.job.instruments import change_sources
    from ..files.jobfile import JobFile

    file, job = JobFile.open(path)
    try:
        where = Places(
            places["modbus"]["port"], places["gauge"]["port"], places["meter"]["port"], places["knobs"]["port"],
            places["logger"]["device"],
        )  # fmt: skip
        file.save(change_sources(job, with_places(job, where)))
    finally:
        file.close()


def sources(
    job: JobFileArgument,
    check: Annotated[bool, typer.Option("--check", help="Connect to each, and listen for a moment.")] = False,
    seconds: Annotated[float, typer.Option(help="How long to listen to each.", min=0.2, max=60)] = 2.5,
    as_json: AsJson = False,
) -> None:
    """The sources of a job: what each is, whether it answers, at what rate, and its last error."""
    from ..files.jobfile import read_job

    rows = []
    for source in read_job(job).sources:
        row: dict[str, Any] = {
            "id": source.id, "name": source.name, "kind": source.title, "address": source.address,
            "enabled": source.enabled, "values": [feed.name for feed in source.every_feed],
        }  # fmt: skip
        if check and source.enabled:
            from ..bench.link import probed

            status = probed(source, seconds)
            row |= {
                "answers": status.standing == "answering", "what": status.what, "rate_hz": round(status.rate_hz, 2),
                "error": status.error, "lost": status.lost,
            }  # fmt: skip
        rows.append(row)
    if as_json:
        print_json(rows)
    else:
        print("\n".join(_source_text(row) for row in rows) or "The job has no sources.")
    if any(row.get("answers") is False for row in rows):
        raise typer.Exit(1)


def _source_text(row: dict[str, Any]) -> str:
    head = f"{row['name']}  ({row['kind']}, {row['address']})"
    if not row["enabled"]:
        return f"{head}  switched off"
    if "answers" not in row:
        return f"{head}  {len(row['values'])} values"
    if row["answers"]:
        return f"{head}  answers: {row['what']}, {row['rate_hz']:g} values a second"
    return f"{head}  does not answer: {row['error']}"
