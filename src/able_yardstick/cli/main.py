"""The command line: every step without a window, each command loaded when it is asked for.

Text, or JSON with --json; exit status 0, 1 (the answer is no) or 2 (bad input).
"""

import os
import sys
from importlib import import_module
from typing import NamedTuple, NoReturn

import typer
from typer.core import TyperGroup

from ..loading import release


class Command(NamedTuple):
    """Where a command stands, and what it does in a sentence."""

    module: str
    function: str
    does: str


COMMANDS = {
    "open": Command("window", "open_job", "Open a job in the window."),
    "demo": Command("window", "demo", "Open the window with a fresh copy of the demo job."),
    "new": Command("job", "new", "Make an empty job."),
    "add": Command("job", "add", "Add a channel to a job, of a kind or of nothing known."),
    "set": Command("job", "put", "Set what a channel is described by."),
    "read": Command("job", "read", "Take down a reading in a job."),
    "curve": Command("describe", "curve", "The other side of a standard curve."),
    "constant": Command("describe", "constant", "An integer for a register from a formula of named inputs."),
    "path": Command("wire", "path", "Every node of a channel's path at one place."),
    "check": Command("wire", "check", "The checks of a channel's description and wiring."),
    "divider": Command("wire", "divider", "The preferred resistors for a divider."),
    "shunt": Command("wire", "shunt", "The preferred resistor for a current loop."),
    "wiring": Command("wire", "wiring", "The wiring list of a job, as text, CSV or PDF."),
    "wake": Command("wake", "wake", "Is a channel's raw signal alive, and what is wrong when it is not."),
    "gather": Command("gather", "gather", "Go to stops by the reference and take readings."),
    "fit": Command("fit", "fit", "Fit a curve to points and say what it is worth."),
    "pack": Command("pack", "pack", "A curve in a controller's form, with its exact cost."),
    "prove": Command("prove", "prove", "Judge checks against a tolerance."),
    "sign": Command("sign", "sign", "Sign a channel into a record that shows any change."),
    "verify": Command("verify", "verify", "What a record proves, and what was changed in it."),
    "key": Command("key", "key", "The key to sign with, and whose are trusted."),
    "sheet": Command("paper", "sheet", "A blank sheet for the field, as PDF."),
    "label": Command("paper", "label", "A label for a sensor that was signed, as PDF."),
    "hand-over": Command("paper", "hand_over", "A whole job in one ZIP that needs nothing else."),
    "register": Command("register", "register", "Every unit and record of a shop: found, due, drifting, resting on."),
    "mistakes": Command("mistakes", "mistakes", "Which known mistake explains what a controller shows."),
    "trim": Command("trim", "trim", "The numbers to change so that mismatches go, and what is left of them."),
    "alarms": Command("alarms", "alarms", "The counts that trip a channel's alarms, and what breaks do to them."),
    "output": Command("outputs", "output", "The counts for an output's values, its checks and its proof."),
    "recover": Command("recover", "recover", "Read an unknown controller from pairs of signal and shown value."),
    "reckon": Command("reckon", "reckon", "Every scale of a channel at one place."),
    "rig": Command("bench", "rig", "Simulate the plant behind real protocols."),
    "log": Command("log", "log", "Log everything that the sources give into one file."),
    "log-export": Command("log", "log_export", "A stretch of a log as CSV, XLSX or Parquet."),
    "relog": Command("relog", "relog", "A log reckoned anew with other numbers."),
    "pairs": Command("relog", "pairs", "Two sensors of one quantity in a log: apart by how much, since when."),
    "sources": Command("bench", "sources", "The sources of a job, and how they answer."),
    "confusion": Command("wake", "confusion", "How often the verdict on a raw signal is right."),
    "schema": Command("schema", "schema", "The JSON schema of the files."),
    "tour": Command("window", "tour", "Walk the demo through every step without a screen; leave its pictures."),
}


def loaded(name: str) -> typer.core.TyperCommand:
    """A command with its options, its module imported for it."""
    row = COMMANDS[name]
    single = typer.Typer(add_completion=False, pretty_exceptions_enable=False, rich_markup_mode=None)
    single.command(name)(getattr(import_module(f".{row.module}", __package__), row.function))
    release()
    return typer.main.get_command(single)  # type: ignore[return-value]  # one command and no callback


class OnDemand(TyperGroup):
    """A group that lists its commands without loading them."""

    def list_commands(self, ctx: typer.Context) -> list[str]:  # type: ignore[override]
        """All names, in the steps' order."""
        return list(COMMANDS)

    def get_command(self, ctx: typer.Context, cmd_name: str) -> typer.core.TyperCommand | None:  # type: ignore[override]
        """The command of a name, loaded; None if there is none."""
        return loaded(cmd_name) if cmd_name in COMMANDS else None

    def format_commands(self, ctx: typer.Context, formatter: object) -> None:  # type: ignore[override]
        """One line each."""
        with formatter.section("Commands"):  # type: ignore[attr-defined]
            formatter.write_dl([(name, row.does) for name, row in COMMANDS.items()])  # type: ignore[attr-defined]


app = typer.Typer(
    help="Turns what a sensor puts out into numbers a controller can be trusted with. Without a command: the window.",
    cls=OnDemand,
    no_args_is_help=False,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)


@app.callback(invoke_without_command=True)
def window(context: typer.Context) -> None:
    """Open the window with the last job."""
    if context.invoked_subcommand is None:
        from .window import show

        show(None)


def main() -> NoReturn:
    """Run the command line; refusals go to stderr, a sentence each, with exit status 2."""
    try:
        status = _status()
        sys.stdout.flush()
    except BrokenPipeError:  # whoever read along has read enough
        _let_output_go()
        sys.exit(0)
    except UnicodeEncodeError as error:
        _refuse(f"The output cannot be written as {error.encoding}. Run it again with PYTHONIOENCODING=utf-8.")
    except OSError as error:
        _let_output_go()
        _refuse(f"The output cannot be written: {error.strerror or error}.")
    sys.exit(status)


def _status() -> int | str | None:
    """Run a command; gives the exit status it wants."""
    from ..core.words.errors import YardstickError

    try:
        app(standalone_mode=True)
    except SystemExit as end:
        return end.code
    except YardstickError as error:
        _refuse(str(error))
    except (BrokenPipeError, UnicodeEncodeError):
        raise
    except OSError as error:
        if error.filename is None:
            raise
        _refuse(f"{error.filename}: {error.strerror or error}.")
    except (RecursionError, MemoryError):
        _refuse("What is asked for, or a file that is read, is too large or nested too deeply.")
    return 0


def _refuse(why: str) -> NoReturn:
    print(f"able-yardstick: {why}".encode(errors="replace").decode(), file=sys.stderr)
    sys.exit(2)


def _let_output_go() -> None:
    """What is left of the output goes nowhere, so that the end of the program does not try it again."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
