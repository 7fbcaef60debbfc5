"""The command line as a person calls it."""

import io
import sys
from contextlib import redirect_stderr, redirect_stdout
from unittest.mock import patch

import pytest

from able_yardstick.cli.main import main


def run(*words):
    """Exit status, stdout and stderr of a command; in this process, as nearly all of them only reckon."""
    out, error = io.StringIO(), io.StringIO()
    asked = patch.object(sys, "argv", ["able-yardstick", *map(str, words)])
    with redirect_stdout(out), redirect_stderr(error), asked, pytest.raises(SystemExit) as end:
        main()
    return end.value.code or 0, out.getvalue(), error.getvalue()
