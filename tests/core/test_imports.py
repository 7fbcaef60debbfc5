"""Who may import whom, and that this check itself can fail."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "able_yardstick"
QT = ("PySide6", "shiboken6", "pyqtgraph")
OUTSIDE = (
    "socket",
    "asyncio",
    "subprocess",
    "time",
    "threading",
    "os",
    "pathlib",
    "io",
    "shutil",
    "tempfile",
    "random",
)
FORBIDDEN = {
    "core": (*QT, *OUTSIDE, "able_yardstick.app", "able_yardstick.files", "able_yardstick.bench", "able_yardstick.cli"),
    "files": (*QT, "able_yardstick.app", "able_yardstick.bench", "able_yardstick.cli"),
    "bench": (*QT, "able_yardstick.app", "able_yardstick.cli"),
}


def imported_names(path, package):
    """Every absolute name a module imports, wherever in it."""
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = package.split(".")[: len(package.split(".")) - node.level + 1] if node.level else []
            stem = ".".join([*base, node.module] if node.module else base)
            yield stem
            yield from (f"{stem}.{alias.name}" for alias in node.names)


def offences(root, part):
    found = []
    for path in sorted((root / part).rglob("*.py")):
        package = ".".join(["able_yardstick", *path.parent.relative_to(root).parts])
        for name in imported_names(path, package):
            if any(name == bad or name.startswith(bad + ".") for bad in FORBIDDEN[part]):
                found.append(f"{path.relative_to(root)}: {name}")
    return found


@pytest.mark.parametrize("part", sorted(FORBIDDEN))
def test_no_layer_imports_one_above_it(part):
    assert offences(SOURCE, part) == []


@pytest.mark.parametrize(
    "line", ["import PySide6.QtCore", "from ..app import window", "from pyqtgraph import mkPen", "import time"]
)
def test_a_planted_import_is_found(tmp_path, line):
    (tmp_path / "core").mkdir()
    (tmp_path / "core" / "planted.py").write_text(f"def f():\n    {line}\n")
    assert offences(tmp_path, "core")


def test_the_core_works_where_there_is_no_qt():
    script = (
        "import sys\n"
        "for name in ('PySide6', 'shiboken6', 'pyqtgraph'): sys.modules[name] = None\n"
        "from able_yardstick.core.job import Job\n"
        "from able_yardstick.core.progress import progress_of, state_of\n"
        "from able_yardstick.demo import demo_text\n"
        "job = Job.model_validate_json(demo_text())\n"
        "print(*(state_of(progress_of(job, channel)).level for channel in job.channels))\n"
    )
    run = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert run.stdout.split() == ["ok", "fault", *["open"] * 5, "ok", "fault", "open", "ok", "ok"]


def test_starting_up_imports_nothing_heavy():
    script = (
        "import sys\n"
        "import able_yardstick.app.window\n"
        "print([n for n in ('scipy', 'pint', 'pyqtgraph', 'typer', 'openpyxl') if n in sys.modules])\n"
    )
    run = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert run.stdout.strip() == "[]"


def test_opening_the_demo_to_its_first_picture_imports_no_units_and_no_statistics(tmp_path):
    script = (
        "import os, sys\n"
        "from pathlib import Path\n"
        "os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from PySide6.QtCore import QSettings\n"
        f"QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, {str(tmp_path)!r})\n"
        "from able_yardstick.app.main import application, open_window\n"
        "from able_yardstick.app.settings import Settings\n"
        "from able_yardstick.demo import fresh_copy\n"
        "made = application()\n"
        f"window = open_window(fresh_copy(Path({str(tmp_path)!r})), Settings())\n"
        "window.show()\n"
        "made.processEvents()\n"
        "heavy = ('scipy', 'pint', 'pyqtgraph', 'able_yardstick.core.checks')\n"
        "print([name for name in heavy if name in sys.modules])\n"
        "window.build_rest()\n"
        "draft = window.bench.progress(window.bench.job.tagged('PT-202'))\n"
        "print(draft[1].says)\n"
        "window.close()\n"
    )
    run = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert run.stdout.strip() == "[]\n2 faults in the wiring"
