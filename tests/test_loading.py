"""What is put off while the program is loaded, and what is there at which moment of its start."""

import builtins
import subprocess
import sys
from textwrap import dedent

import pytest

from able_yardstick import loading


@pytest.fixture
def package(tmp_path, monkeypatch):
    """A package with a module that tells when it is loaded."""
    room = tmp_path / "kilnroom"
    room.mkdir()
    (room / "__init__.py").write_text("__all__ = ['damper']\n")
    (room / "takes_all_names.py").write_text("from kilnroom import *\n")
    (room / "damper.py").write_text("import builtins\nbuiltins.damper_was_loaded = True\nopen_share = 0.25\n")
    monkeypatch.syspath_prepend(str(tmp_path))
    monkeypatch.setattr(builtins, "damper_was_loaded", False, raising=False)
    yield "kilnroom"
    for name in ("kilnroom.takes_all_names", "kilnroom.damper", "kilnroom"):
        sys.modules.pop(name, None)


def test_a_module_that_is_put_off_is_loaded_by_the_first_that_asks_for_something_of_it(package):
    import kilnroom

    loading.put_off("kilnroom.damper")
    from kilnroom import takes_all_names

    assert takes_all_names.damper is kilnroom.damper
    assert not builtins.damper_was_loaded
    assert takes_all_names.damper.open_share == 0.25
    assert builtins.damper_was_loaded


def test_a_module_that_is_there_or_nowhere_is_left_alone(package):
    import kilnroom.damper

    loading.put_off("kilnroom.damper")
    assert sys.modules["kilnroom.damper"] is kilnroom.damper
    loading.put_off("kilnroom.chimney")
    assert "kilnroom.chimney" not in sys.modules


def test_plots_are_there_before_the_marks_and_before_what_only_marks_need(tmp_path):
    script = dedent(
        """
        import sys
        from pathlib import Path
        from able_yardstick.app.main import application, open_window
        from able_yardstick.app.frame.settings import Settings
        from able_yardstick.demo import fresh_copy
        from PySide6.QtCore import QSettings
        QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, sys.argv[1])
        app = application()
        window = open_window(fresh_copy(Path(sys.argv[1])), Settings())
        window.show()
        app.processEvents()
        print("pyqtgraph" in sys.modules)
        window.build_rest()
        app.processEvents()
        says = lambda: window.bench.progress(window.bench.channel)[6].says
        print("pyqtgraph" in sys.modules, "scipy.special" in sys.modules, says())
        while not window.bench.is_all_checked:
            app.processEvents()
        print("scipy.special" in sys.modules, "numpy.f2py.f2py2e" in sys.modules, says())
        window.close()
        """
    )
    run = subprocess.run([sys.executable, "-c", script, str(tmp_path)], capture_output=True, text=True, timeout=120)
    assert run.stdout.splitlines() == [
        "False",
        "True False not checked yet",
        "True False 5 of 5 checks pass",
    ], run.stderr
