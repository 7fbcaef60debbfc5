"""The forms of the files, as JSON Schema."""

from typing import Annotated

import typer

from .output import print_json


def schema(
    controller: Annotated[bool, typer.Option("--controller", help="Of a controller's description instead.")] = False,
) -> None:
    """Print the JSON schema of the job file, or of a controller's description."""
    from ..core.job.job import Job
    from ..files.controllers import schema as controller_schema

    print_json(controller_schema() if controller else Job.model_json_schema())
