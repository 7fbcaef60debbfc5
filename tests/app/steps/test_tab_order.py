"""Tab goes down a panel as the eye does, whenever its parts were made, and then out of it."""

from itertools import pairwise

import pytest
from acting import go
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from able_yardstick.app.panel.fields import Entry
from able_yardstick.core.state.progress import STEP_NAMES

MOST = 80
ROW_PX = 12


def tabbed_through(panel):
    """What gets the focus, until it is beside the panel."""
    found = []
    for _ in range(MOST):
        focused = QApplication.focusWidget()
        if not panel.isAncestorOf(focused):
            return found
        found.append(focused)
        QTest.keyClick(focused, Qt.Key.Key_Tab)
    raise AssertionError(f"Tab stays in the panel: {[one.accessibleName() for one in found]}")


@pytest.mark.parametrize("step", STEP_NAMES)
def test_tab_goes_down_every_panel_and_out_of_it(window, step):
    window.activateWindow()
    panel = go(window, "PT-201", step)
    QApplication.processEvents()
    next(button for button in panel.lead_box.findChildren(QPushButton) if button.isVisible()).setFocus()
    found = tabbed_through(panel)
    inside = panel.body.parentWidget()
    heights = [one.mapTo(inside, QPoint(0, one.height() // 2)).y() for one in found if inside.isAncestorOf(one)]
    assert len(heights) > 3
    assert all(after >= before - ROW_PX for before, after in pairwise(heights)), heights
    assert not any(inside.isAncestorOf(one) for one in found[-1:] if panel.findChild(QWidget, "actions").isVisible())


def test_what_is_typed_goes_on_to_the_field_below(window):
    window.activateWindow()
    panel = go(window, "PT-201", "describe")
    next(entry for entry in panel.findChildren(Entry) if entry.accessibleName() == "Tag").setFocus()
    names = []
    for _ in range(4):
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        names.append(QApplication.focusWidget().accessibleName())
    assert names == ["Measures", "Quantity", "Data sheet in", "Range 1"]
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert QApplication.focusWidget().accessibleName() == "Data sheet in"
