"""Who may import whom (the contracts of pyproject.toml), that these checks can fail, and what the core does without."""

import graphlib
import re
import shutil
import subprocess
import sys
from pathlib import Path

import grimp
import pytest

ROOT = Path(__file__).parents[2]
BLIND = "import sys\nfor name in ('PySide6', 'shiboken6', 'pyqtgraph'): sys.modules[name] = None\n"


def linted(root, source):
    """What import-linter says of a tree: whether all contracts are kept, and its words."""
    run = subprocess.run(
        [sys.executable, "-c", "from importlinter.cli import lint_imports_command as lint; lint()", "--no-cache"],
        capture_output=True, text=True, cwd=root, env={"PYTHONPATH": str(source), "PATH": "", "COLUMNS": "200"},
    )  # fmt: skip
    return run.returncode == 0, run.stdout + run.stderr


def ran(script):
    run = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert run.returncode == 0, run.stderr
    return run.stdout


def test_the_house_keeps_its_contracts():
    kept, says = linted(ROOT, ROOT / "src")
    assert kept, says


def test_no_file_imports_itself_by_way_of_others():
    graph = grimp.build_graph("able_yardstick")
    graphlib.TopologicalSorter({one: graph.find_modules_directly_imported_by(one) for one in graph.modules}).prepare()


@pytest.fixture(scope="module")
def copy(tmp_path_factory):
    root = tmp_path_factory.mktemp("copy")
    shutil.copy(ROOT / "pyproject.toml", root)
    shutil.copytree(ROOT / "src" / "able_yardstick", root / "able_yardstick", ignore=shutil.ignore_patterns("*.pyc"))
    return root


@pytest.mark.parametrize(
    ("room", "line", "contract"),
    [
        ("core/fit", "import PySide6.QtCore", "The core knows no window"),
        ("core/fit", "from pyqtgraph import mkPen", "The core knows no window"),
        ("core/fit", "import time", "The core knows no window"),
        ("core/fit", "import filelock", "The core knows no window"),
        ("core/fit", "from importlib import resources", "The core knows no window"),
        ("core/fit", "from ...demo import demo_text", "The layers of the house"),
        ("core/fit", "from ...cli import points", "The layers of the house"),
        ("core/fit", "from ...app.frame import window", "The layers of the house"),
        ("core/describe", "from ..pack import packed", "The rooms of the core"),
        ("core/curves", "from ..document import channel", "The rooms of the core"),
        ("app/steps/fit", "from ..pack import panel", "The panels of the steps"),
        ("bench", "import pyqtgraph", "Files, the bench and the command line"),
    ],
)
def test_a_planted_import_is_found(copy, room, line, contract):
    planted = copy / "able_yardstick" / room / "planted.py"
    planted.write_text(f'"""Planted."""\n\n\ndef f():\n    {line}\n')
    try:
        kept, says = linted(copy, copy)
    finally:
        planted.unlink()
    assert not kept
    broken = [text for text in says.splitlines() if text.endswith("BROKEN")]
    assert any(text.startswith(contract) for text in broken), says


def test_the_core_works_where_there_is_no_qt():
    script = (
        BLIND + "from able_yardstick.core.job.job import Job\n"
        "from able_yardstick.core.state.progress import progress_of, state_of\n"
        "from able_yardstick.demo import demo_text\n"
        "job = Job.model_validate_json(demo_text())\n"
        "print(*(state_of(progress_of(job, channel)).level for channel in job.channels))\n"
    )
    assert ran(script).split() == ["ok", "fault", *["open"] * 5, "ok", "fault", "open", "ok", "ok", "open"]


def test_the_core_opens_no_file():
    script = (
        "import sys\n"
        "import pint, scipy.optimize  # which read their own files when they are imported\n"
        "from able_yardstick.core.job.job import Job\n"
        "from able_yardstick.core.state.progress import progress_of\n"
        "from able_yardstick.demo import demo_text\n"
        "text, opened = demo_text(), []\n"
        "def heard(event, args):\n"
        "    if event == 'open' and isinstance(args[0], str) and not args[0].endswith(('.py', '.pyc', '.so')):\n"
        "        opened.append(args[0])\n"
        "sys.addaudithook(heard)\n"
        "job = Job.model_validate_json(text)\n"
        "[progress_of(job, channel) for channel in job.channels]\n"
        "from able_yardstick.core.units.conversion import convert\n"
        "from able_yardstick.core.standards.thermocouples import emf_mv\n"
        "convert(1.0, 'kPa', 'psi'), emf_mv('K', 100.0)\n"
        "print([path for path in opened if 'able_yardstick' in path or 'pint' in path])\n"
    )
    assert ran(script).strip() == "[]"


def test_the_command_line_works_where_there_is_no_qt(tmp_path):
    points = tmp_path / "points.csv"
    points.write_text("V;kPa\n0.5;0\n2.5;125\n4.5;250\n")
    script = BLIND + (
        "from able_yardstick.cli.main import app\n"
        f"app(['fit', {str(points)!r}, '--model', 'line'], standalone_mode=False)\n"
        "app(['curve', 'pt100', '--value', '100degC'], standalone_mode=False)\n"
    )
    assert "138.5" in ran(script)


def test_starting_up_imports_nothing_heavy():
    script = (
        "import sys\n"
        "import able_yardstick.app.frame.window\n"
        "print([n for n in ('scipy', 'pint', 'pyqtgraph', 'typer', 'openpyxl') if n in sys.modules])\n"
    )
    assert ran(script).strip() == "[]"


def test_opening_the_demo_to_its_first_picture_imports_no_units_and_no_statistics(tmp_path):
    script = (
        "import os, sys\n"
        "from pathlib import Path\n"
        "os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from PySide6.QtCore import QSettings\n"
        f"QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, {str(tmp_path)!r})\n"
        "from able_yardstick.app.main import application, open_window\n"
        "from able_yardstick.app.frame.settings import Settings\n"
        "from able_yardstick.demo import fresh_copy\n"
        "made = application()\n"
        f"window = open_window(fresh_copy(Path({str(tmp_path)!r})), Settings())\n"
        "window.show()\n"
        "made.processEvents()\n"
        "heavy = ('scipy', 'pint', 'pyqtgraph', 'able_yardstick.core.wire.checks')\n"
        "print([name for name in heavy if name in sys.modules])\n"
        "window.build_rest()\n"
        "while not window.bench.is_all_checked: made.processEvents()\n"
        "draft = window.bench.progress(window.bench.job.tagged('PT-202'))\n"
        "print(draft[1].says)\n"
        "window.close()\n"
    )
    assert ran(script).strip() == "[]\n2 faults in the wiring"


def test_the_tests_of_the_window_use_what_a_person_sees_and_no_private_member():
    """What they need is in `tests/app/acting.py`; a name after a dot that begins with _ is not for them."""
    private = re.compile(r"(?<!self)\._(?!replace\()[a-z]")
    tests = Path(__file__).parents[1] / "app"
    found = [
        f"{path.name}:{number}"
        for path in sorted(tests.rglob("*.py"))
        for number, line in enumerate(path.read_text("utf-8").splitlines(), 1)
        if private.search(line)
    ]
    assert found == []
