"""Nothing is clipped, nothing overlaps, nothing is too small: at every step, at the smallest and the usual size."""

import pytest
from acting import at_step, candidates, card, field_named, menu_button
from PySide6.QtWidgets import QApplication, QLabel, QPushButton, QRadioButton, QScrollArea, QToolButton

from able_yardstick.app.centre.plots.strip import AxisStrip
from able_yardstick.app.frame.theme import SMALLEST_PX
from able_yardstick.app.panel.section import ShortLabel
from able_yardstick.core.state.progress import STEP_NAMES

SIZES = [(1024, 700), (1280, 800), (2560, 1440)]
TAGS = ["PT-201", "PT-202", "WT-206", "AT-209", "WQ-212", "PS-211"]


def views(window):
    """Every channel at every step it has, one after the other."""
    for tag in TAGS:
        window.bench.select(window.bench.job.tagged(tag).id)
        for step in STEP_NAMES if window.bench.continuous else ("describe",):
            window.bench.go(step)
            for _ in range(4):  # parts within parts take their turns
                QApplication.processEvents()
            yield tag, step


@pytest.mark.parametrize("size", SIZES)
def test_no_panel_is_wider_than_its_place(window, size):
    window.resize(*size)
    for where in views(window):
        panel = window.panels.currentWidget()
        for area in panel.findChildren(QScrollArea):
            inside = area.widget()
            assert inside.width() <= area.viewport().width(), (where, inside.minimumSizeHint().width())


@pytest.mark.parametrize("size", SIZES)
def test_no_words_are_cut_off(window, size):
    window.resize(*size)
    for where in views(window):
        for kind in (QLabel, QPushButton, QRadioButton, QToolButton):
            for widget in window.findChildren(kind):
                if not widget.isVisible() or not widget.text() or getattr(widget, "wordWrap", bool)():
                    continue
                if isinstance(widget, ShortLabel):  # shortened with dots, and whole in its tip
                    continue
                needed = max(widget.fontMetrics().horizontalAdvance(line) for line in widget.text().split("\n"))
                assert widget.width() >= needed - 1, (where, widget.text(), widget.width(), needed)


def test_wrapped_words_have_the_height_they_need(window):
    for where in views(window):
        for label in window.panels.currentWidget().findChildren(QLabel):
            if label.isVisible() and label.wordWrap() and label.text():
                assert label.height() >= label.heightForWidth(label.width()) - 1, (where, label.text())


def test_no_letters_are_smaller_than_can_be_read(window):
    for where in views(window):
        for label in window.findChildren(QLabel):
            if label.isVisible() and label.text():
                assert label.font().pixelSize() >= SMALLEST_PX, (where, label.text())


def test_neighbours_in_the_frame_do_not_overlap(window):
    for size in SIZES:
        window.resize(*size)
        for _ in range(3):  # parts within parts take their turns
            for _ in range(4):  # parts within parts take their turns
                QApplication.processEvents()
        parts = [window.tagboard, window.splitter.widget(1), window.panels]
        edges = [(part.x(), part.x() + part.width()) for part in parts]
        assert edges[0][1] <= edges[1][0]
        assert edges[1][1] <= edges[2][0]
        assert edges[2][1] <= window.splitter.width()
        centre = window.centre
        stack = [centre.rule.parentWidget(), centre.splitter, centre.findChild(AxisStrip)]
        tops = [(part.y(), part.y() + part.height()) for part in stack]
        assert tops[0][1] <= tops[1][0]
        assert tops[1][1] <= tops[2][0]
        assert tops[2][1] <= centre.height()


def test_the_whole_program_is_walked_with_the_tab_key(window, qtbot):
    from PySide6.QtCore import Qt

    window.bench.select("pt-201")
    window.bench.go("fit")
    window.activateWindow()
    seen = set()
    widget = first = window.centre.rule
    for _ in range(5000):
        widget = widget.nextInFocusChain()
        if widget is first:
            break
        if widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            seen.add(widget)
    assert window.find_field in seen
    assert window.ruler in seen
    assert menu_button(window, window.bench.job.title) in seen
    assert any(one.accessibleName().startswith("Theme: ") for one in seen)
    assert card(window, "PT-201") in seen
    assert card(window, "PT-202") not in seen, "one card is in the tab order: arrows go to the others"
    assert window.centre.rule.readout("quantity") in seen
    panel = at_step(window, "fit")
    assert field_named(panel, "Fixed error ±").entries[0] in seen
    assert any(row.button in seen for row in candidates(panel))
