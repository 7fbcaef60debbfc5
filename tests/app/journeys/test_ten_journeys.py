"""Ten jobs from an empty one to numbers that a controller takes, on a real window with mouse and keys."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

SCRIPT = Path(__file__).with_name("ten_journeys.py")
JOURNEYS = [
    "frequency_with_a_pull_up", "pressure_part_without_a_data_sheet", "counts_against_a_meter",
    "loop_into_integers_with_one_decimal", "loop_with_its_value_at_4_and_20", "long_oxygen_table_into_sixteen_rows",
    "formula_transducer", "bridge_by_sensitivity_with_tare", "two_state_contact", "register_constant",
]  # fmt: skip


def test_ten_jobs_end_in_numbers_that_were_worked_out_by_hand(tmp_path):
    assert shutil.which("xvfb-run"), "xvfb is missing: bin/test installs it"
    environment = {**os.environ, "QT_QPA_PLATFORM": "xcb", "HOME": str(tmp_path)}
    words = ["xvfb-run", "-a", "-s", "-screen 0 1600x1000x24", sys.executable, str(SCRIPT), str(tmp_path)]
    done = subprocess.run(words, capture_output=True, text=True, timeout=240, env=environment)
    assert "Traceback" not in done.stderr, done.stderr
    assert done.stdout.split() == JOURNEYS, done.stderr
