"""A window on the demo job, its settings in a place of its own, closed and checked afterwards."""

import gc
import logging

import pytest
from acting import button
from PySide6.QtCore import QEvent, QSettings, Qt, QTimer
from PySide6.QtWidgets import QApplication, QMainWindow

from able_yardstick.app.panel.import_dialog import ImportDialog


@pytest.fixture(autouse=True)
def one_demo(monkeypatch, demo_job):
    """The demo job is read once: what follows from it, which never changes, is reckoned for all windows together."""
    from able_yardstick.demo import demo_text
    from able_yardstick.files import jobfile

    read, text = jobfile.read_job, demo_text().encode()
    monkeypatch.setattr(jobfile, "read_job", lambda path: demo_job if path.read_bytes() == text else read(path))


@pytest.fixture(autouse=True)
def no_window_left(qapp):
    """Every window a test opened is gone when it ends.

    What the test before has left is cleared away, and what then is there is not looked through again.
    """
    gc.collect()
    gc.freeze()
    yield
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert [widget for widget in qapp.topLevelWidgets() if isinstance(widget, QMainWindow)] == []


@pytest.fixture(autouse=True)
def patience(monkeypatch):
    """What is searched for is there when it is looked at; the tests of searching have less of it."""
    from able_yardstick.app.frame import beside, pack_search

    monkeypatch.setattr(pack_search, "PATIENCE_S", 60.0)
    monkeypatch.setattr(beside, "PATIENCE_S", 60.0)


@pytest.fixture
def settings(tmp_path):
    """Settings that nobody else has."""
    from able_yardstick.app.frame.settings import Settings

    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))
    return Settings()


@pytest.fixture
def press_take(qtbot):
    """Presses “Take … readings” in the import dialog as soon as it is open."""

    def soon():
        def press():
            dialog = QApplication.activeModalWidget()
            if dialog is None:  # not open yet
                QTimer.singleShot(50, press)
                return
            assert isinstance(dialog, ImportDialog)
            qtbot.mouseClick(button(dialog, "Take"), Qt.MouseButton.LeftButton)

        QTimer.singleShot(100, press)

    return soon


@pytest.fixture
def answer_soon():
    """Does something with a dialog of a kind as soon as it is open."""

    def soon(kind, act):
        def answer():
            dialog = QApplication.activeModalWidget()
            if dialog is None:  # not open yet
                QTimer.singleShot(50, answer)
                return
            assert isinstance(dialog, kind)
            act(dialog)

        QTimer.singleShot(100, answer)

    return soon


@pytest.fixture
def opened(qtbot, caplog, settings):
    """Opens the window on a job, or on an empty one, plots and all. A logged error fails the test."""
    from able_yardstick.app.main import open_window

    made = []

    def on(path):
        made.append(open_window(path, settings))
        qtbot.addWidget(made[-1])
        made[-1].resize(1280, 800)  # whatever the screen, which may be smaller where there is none
        made[-1].build_all()
        made[-1].show()
        qtbot.waitExposed(made[-1])
        return made[-1]

    yield on
    for one in made:
        one.close()
    assert [record for record in caplog.records if record.levelno >= logging.ERROR] == []


@pytest.fixture
def window(opened, demo_file):
    """The window with the demo job."""
    return opened(demo_file)
