"""Outputs without a window: the counts for wanted values, what writes an output, and how its checks came out."""

from typing import TYPE_CHECKING, Annotated, Any

import typer

from .arguments import JobFileArgument, TagArgument
from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..core.document.output import OutputChannel
    from ..core.job.job import Job


def output(
    job: JobFileArgument,
    tag: TagArgument,
    value: Annotated[list[float] | None, typer.Option(help="A wanted value, in its unit; may be repeated.")] = None,
    as_json: AsJson = False,
) -> None:
    """The counts and signals for an output's values, what its checks of description and wiring say, and its proof.

    Exit status 1 on a fault, or when a check of what it gave fails.
    """
    from ..core.document.output import OutputChannel
    from ..core.outputs.findings import output_findings
    from ..core.outputs.giving import plan_of
    from ..core.outputs.proving import output_proof
    from ..core.words.errors import NotApplicable
    from ..files.jobfile import read_job

    read = read_job(job)
    channel = read.tagged(tag)
    if not isinstance(channel, OutputChannel):
        raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: it gives no signal.")
    rows = _rows(channel, value or list(plan_of(channel)))
    findings, proof = output_findings(read, channel), output_proof(read, channel)
    if as_json:
        print_json(
            {
                "values": rows,
                "checks": [one._asdict() for one in findings],
                "dead_input": _dead(read, channel),
                "proof": None if proof is None else proof.model_dump(mode="json"),
            }
        )
    else:
        for row in rows:
            print(f"{row['value']:<12g}{row['signal']:<10.5g}{channel.driver.unit:<4}count {row['count']}")
        for one in findings:
            print(f"{one.level:<6}{one.check:<18}{one.text}")
        if proof is not None:
            print(f"{proof.verdict}: {sum(check.passed for check in proof.checks)} of {len(proof.checks)} checks")
    failed = proof is not None and not proof.passed
    raise typer.Exit(1 if failed or any(one.level == "fault" for one in findings) else 0)


def _rows(channel: "OutputChannel", values: list[float]) -> list[dict[str, Any]]:
    import numpy as np

    from ..core.outputs.giving import given

    found = given(channel, np.array(values))
    return [
        {
            "value": float(found.wanted[n]), "held": bool(found.is_held[n]), "signal": float(found.signals[n]),
            "count": int(found.counts[n]), "delivered": float(found.delivered[n]),
        }
        for n in range(len(values))
    ]  # fmt: skip


def _dead(job: "Job", channel: "OutputChannel") -> list[dict[str, Any]]:
    """What each break of its input does to it; none where nothing can be said."""
    from ..core.outputs.dead_input import dead_rows
    from ..core.words.errors import YardstickError

    try:
        return [row._asdict() for row in dead_rows(job, channel)]
    except YardstickError:
        return []
