"""The window, on a job, on the demo, or walked through without a screen."""

from pathlib import Path
from typing import Annotated, NoReturn

import typer

from ..loading import hold


def show(job: Path | None) -> NoReturn:
    """Show the window until it is closed, with a job or with the last one."""
    hold()
    from ..app.main import run

    raise typer.Exit(run(job))


def open_job(job: Annotated[Path, typer.Argument(help="Job file to open.")]) -> None:
    """Open a job in the window."""
    show(job)


def demo() -> None:
    """Open the window with a fresh copy of the demo job."""
    from platformdirs import user_data_path

    from ..demo import fresh_copy

    show(fresh_copy(user_data_path("able-yardstick") / "demo"))


def tour(folder: Annotated[Path, typer.Argument(help="Where pictures, tables and the job go.")]) -> None:
    """Walk the demo through every step without a screen; leave a picture of each view, the tables and the job."""
    from ..app.tour.walk import walk

    for path in walk(folder):
        print(path)
