"""Every benchmark runs, in its smallest size: a figure that cannot be had again is none."""

import subprocess
import sys
from pathlib import Path

import pytest

BENCHMARKS = sorted((Path(__file__).parents[1] / "benchmarks").glob("*.py"))


@pytest.mark.parametrize("path", BENCHMARKS, ids=lambda path: path.stem)
def test_it_runs_in_its_smallest_size(path):
    run = subprocess.run([sys.executable, path, "--smallest"], capture_output=True, text=True, timeout=240)
    assert run.returncode == 0, run.stderr
    assert run.stdout.strip()
