"""Run under a real X server by test_real_window: two starts of the program, driven by keys and mouse."""

import sys
from pathlib import Path

from PySide6.QtCore import QPoint, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from able_yardstick.app.centre.rule.layout import ends_of
from able_yardstick.app.frame.settings import Settings
from able_yardstick.app.main import application, open_window
from able_yardstick.core.state.progress import STEP_NAMES

folder, job = Path(sys.argv[1]), Path(sys.argv[2])
QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder))
app = application()
assert app.platformName() == "xcb", app.platformName()


def started(path):
    """The window as the program opens it."""
    window = open_window(path, Settings())
    window.show()
    window.build_all()
    assert QTest.qWaitForWindowExposed(window)
    window.activateWindow()
    assert QTest.qWaitForWindowActive(window)
    return window


def ink(widget):
    """How many pixels of a widget within its focus frame are dark on the screen."""
    corner = widget.mapTo(widget.window(), QPoint(0, 0))
    seen = app.primaryScreen().grabWindow(widget.window().winId(), corner.x(), corner.y(), *widget.size().toTuple())
    image = seen.toImage().copy(4, 4, seen.width() - 8, seen.height() - 8)
    return sum(image.pixelColor(x, y).lightness() < 120 for x in range(image.width()) for y in range(image.height()))


window = started(job)
window.bench.select("pt-201")  # no step of it is out of date: its last mark is a plain one
QTest.qWait(100)
plain = ink(window.ruler)
for at in (0.3, 4.3):
    width = window.ruler.width() / len(STEP_NAMES)
    place = QPoint(round(width * at) + 14, 20)
    QTest.mouseClick(window.ruler, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, place)
    QTest.qWait(100)
    assert window.ruler.hasFocus()
    assert ink(window.ruler) > 0.8 * plain, "the steps can be read after one was clicked"
assert window.bench.step == "fit"
QTest.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
QTest.qWait(100)
popup = window.find_field.list.parentWidget()
assert popup.isVisible()
assert popup.height() > 300
app.primaryScreen().grabWindow(window.winId()).save(str(folder / "find.png"))
QTest.keyClicks(window.find_field, "wt-206")
assert 20 < popup.height() < 80
QTest.keyClick(window.find_field, Qt.Key.Key_Return)
assert window.bench.channel.tag == "WT-206"
QTest.keyClick(window, Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier)
assert window.bench.step == "fit"
QTest.mouseClick(window.panel_shown.use, Qt.MouseButton.LeftButton)
assert window.bench.job.fit_of("wt-206") is not None
rule = window.centre.rule
x = round(float(ends_of(rule, window.sight).x(4.0)))
QTest.mousePress(rule, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(x, 60))
QTest.mouseMove(rule, QPoint(x + 40, 60))
QTest.mouseRelease(rule, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(x + 40, 60))
plain = float(rule.readout("quantity").text().replace("\u2009", ""))
assert abs(plain - 207.4 * window.sight.pin) < 5, (plain, window.sight.pin)
QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
assert window.bench.job.fit_of("wt-206") is None
window.find_field.setFocus()
QTest.keyClick(window.find_field, Qt.Key.Key_F8)  # the capture key arrives whatever has the focus
assert (
    "F8 looks at the signal at Wake"
    in next(one for one in window.findChildren(QLabel) if one.accessibleName() == "Message").text()
)
QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
window.splitter.setSizes([280, 620, 370])
sizes = window.splitter.sizes()
window.close()

window = started(None)
assert window.bench.path == job
assert window.theme.name == "night"
assert all(abs(a - b) <= 2 for a, b in zip(window.splitter.sizes(), sizes, strict=True)), (
    window.splitter.sizes(),
    sizes,
)
QTest.qWait(100)
app.primaryScreen().grabWindow(window.winId()).save(str(folder / "again.png"))
window.close()
print("seen")
