"""The program in a real window, from one start to the next."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

SCRIPT = Path(__file__).with_name("real_window.py")


def test_a_person_finds_fits_drags_undoes_and_comes_back_to_the_same_window(tmp_path, demo_file):
    assert shutil.which("xvfb-run"), "xvfb is missing: bin/test installs it"
    words = [
        "xvfb-run",
        "-a",
        "-s",
        "-screen 0 1600x1000x24",
        sys.executable,
        str(SCRIPT),
        str(tmp_path),
        str(demo_file),
    ]
    environment = {**os.environ, "QT_QPA_PLATFORM": "xcb"}
    done = subprocess.run(words, capture_output=True, text=True, timeout=120, env=environment)
    assert done.stdout.split() == ["seen"], done.stderr
    assert "Traceback" not in done.stderr
    assert (tmp_path / "again.png").stat().st_size > 20_000
