"""The window, on a job, on the demo, or walked through without a screen."""

from pathlib import Path
from typing import Annotated

import typer


def open_job(job: Annotated[Path, typer.Argument(help="Job file to open.")]) -> None:
    """Open a job in the window."""
    from ..app.main import run

    raise typer.Exit(run(job))


def demo() -> None:
    """Open the window with a fresh copy of the demo job."""
    from platformdirs import user_data_path

    from ..app.main import run
    from ..demo import fresh_copy

    raise typer.Exit(run(fresh_copy(user_data_path("able-yardstick") / "demo")))


def tour(folder: Annotated[Path, typer.Argument(help="Where pictures, tables and the job go.")]) -> None:
    """Walk the demo through every step without a screen; leave a picture of each view, the tables and the job."""
    from ..app.tour.walk import walk

    for path in walk(folder):
        print(path)
