"""Arguments that several commands take."""

from pathlib import Path
from typing import Annotated

import typer

JobFileArgument = Annotated[Path, typer.Argument(help="Job file.")]
TagArgument = Annotated[str, typer.Argument(help="Tag of the channel.")]
