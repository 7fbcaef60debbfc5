"""The vocabulary of the window's tests: what a person goes to, reads, types, picks and presses.

Everything is found by what stands on the screen or is said to a screen reader: a title, a label, a button's words.
"""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QMenu,
    QPlainTextEdit,
    QScrollArea,
    QTableWidget,
    QToolButton,
    QWidget,
)

from able_yardstick.app.frame.ruler import StepRuler
from able_yardstick.app.frame.tagboard import Card
from able_yardstick.app.panel.fields import Complaint, Entry, FieldBase
from able_yardstick.app.panel.section import Section
from able_yardstick.app.sources.card import SourceCard
from able_yardstick.app.steps.fit.rows import CandidateRow
from able_yardstick.core.state.progress import STEP_NAMES

# -- going ----------------------------------------------------------------------------------------------------------


def go(window, tag, step):
    """To a step of a channel; gives its panel."""
    window.bench.select(window.bench.job.tagged(tag).id)
    window.bench.go(step)
    return window.panel_shown


def at_step(window, name):
    """To a step of the channel looked at; gives its panel."""
    window.bench.go(name)
    return window.panel_shown


def side(window, name):
    """The sources or the references; gives their panel."""
    if window.panel_shown.title.lower() != name:
        window.show_side(name)
    return window.panel_shown


def press_step(qtbot, window, name):
    """Press a step on the ruler."""
    ruler = window.findChild(StepRuler)
    width = ruler.width() / len(STEP_NAMES)
    qtbot.mouseClick(ruler, Qt.MouseButton.LeftButton, pos=QPoint(round(width * (STEP_NAMES.index(name) + 0.3)), 20))


def card(window, tag):
    """A channel's card on the tagboard."""
    return next(one for one in window.findChildren(Card) if one.accessibleName().startswith(f"{tag},"))


# -- reading --------------------------------------------------------------------------------------------------------


def texts(widget):
    """Everything that can be read in a widget, one text after the other."""
    found = []
    for part in [widget, *widget.findChildren(QWidget)]:
        if isinstance(part, QLabel | QAbstractButton) and part.isVisible():
            found.append(part.text())
        elif isinstance(part, QPlainTextEdit) and part.isVisible():
            found.append(part.toPlainText())
    return [text for text in found if text]


def words(widget):
    """The same in one piece."""
    return "\n".join(texts(widget))


def said(window):
    """The message in the status line."""
    return named(window, QLabel, "Message").text()


def complaint(widget):
    """Why something cannot be, as it stands beside it; empty if all is well."""
    return "\n".join(one.text() for one in widget.findChildren(Complaint) if one.text())


def named(widget, kind, name):
    """A part of a kind by the name that a screen reader says."""
    return next(one for one in widget.findChildren(kind) if one.accessibleName() == name)


def cells(table):
    """The texts of a table, row by row, without the empty ones at the end."""
    if isinstance(table, QTableWidget):
        rows = [
            [item.text() if (item := table.item(row, column)) else "" for column in range(table.columnCount())]
            for row in range(table.rowCount())
        ]
    else:
        rows = [[cell.text() for column in range(table.columnCount()) if (cell := table.cell(row, column))]
                for row in range(table.rowCount())]  # fmt: skip
    return [row for row in rows if any(row)]


# -- acting ---------------------------------------------------------------------------------------------------------


def field_named(panel, title):
    """A field by its title, once it is seen: the part of the panel that it is folded into is opened first."""
    for section in [None, *(one for one in panel.findChildren(Section) if one.isVisible() and not one.is_open)]:
        if section is not None:
            section.head.click()
            QApplication.processEvents()
        for one in panel.findChildren(FieldBase):
            parts = [*one.findChildren(Entry), *one.findChildren(QComboBox)]
            names = {part.accessibleName() for part in parts if part.isVisible()}
            if names & {title, f"{title} 1"}:
                return one
        if section is not None:
            section.head.click()
    raise AssertionError(f"no field {title} is seen among {words(panel)}")


def unfold(panel):
    """Open every part of a panel."""
    for section in panel.findChildren(Section):
        section.unfold()
    QApplication.processEvents()


def enter(qtbot, field, *texts):
    """Type into the parts of a field and leave it."""
    for entry, text in zip(field.entries, texts, strict=True):
        entry.setFocus()
        entry.selectAll()
        qtbot.keyClick(entry, Qt.Key.Key_Delete)
        qtbot.keyClicks(entry, text)
    qtbot.keyClick(field.entries[-1], Qt.Key.Key_Return)


def type_into(qtbot, entry, text):
    """Type into one line in place of what stands there, and press Enter."""
    entry.setFocus()
    entry.selectAll()
    qtbot.keyClicks(entry, text)
    qtbot.keyClick(entry, Qt.Key.Key_Return)


def pick(field, value):
    """Choose as with the mouse."""
    field.box.setCurrentIndex(field.box.findData(value))
    field.box.activated.emit(field.box.currentIndex())


def button(widget, text):
    """The button that is seen whose words begin so."""
    seen = [one for one in widget.findChildren(QAbstractButton) if one.isVisible()]
    return next(one for one in seen if one.text().startswith(text))


def press(widget, text):
    """Press a button."""
    button(widget, text).click()


def entries(holder):
    """The entries of a menu, or of a button's menu, as they are once it is open."""
    menu = holder if isinstance(holder, QMenu) else holder.menu()
    menu.aboutToShow.emit()
    return {action.text(): action for action in menu.actions() if action.text()}


def menu_button(widget, text):
    """The button with a menu whose words begin so."""
    return next(one for one in widget.findChildren(QToolButton) if one.text().startswith(text) and one.menu())


def choose(box, data):
    """Choose in a box as with the mouse."""
    box.setCurrentIndex(box.findData(data))
    box.activated.emit(box.currentIndex())


def found_by(window, text):
    """What the field of commands finds."""
    window.find_field.setText(text)
    rows = window.find_field.list
    return [rows.topLevelItem(n).text(0) for n in range(rows.topLevelItemCount())]


def do(qtbot, window, text):
    """Type a command's words and press Enter."""
    window.find_field.setFocus()
    found_by(window, text)
    qtbot.keyClick(window.find_field, Qt.Key.Key_Return)


def scroll_bar(panel):
    """The bar at a panel's side."""
    return panel.findChild(QScrollArea).verticalScrollBar()


def source_card(panel, name):
    """The card of a source, by its name; None if there is none."""
    QApplication.processEvents()
    seen = [one for one in panel.findChildren(SourceCard) if one.isVisible()]
    return next((one for one in seen if one.source.name == name), None)


def candidate(panel, model):
    """The row of a curve on offer, at Fit."""
    return next(one for one in panel.findChildren(CandidateRow) if one.model == model)


def candidates(panel):
    """The curves on offer that are seen, from above."""
    QApplication.processEvents()  # so that each stands in its place
    seen = [one for one in panel.findChildren(CandidateRow) if one.isVisible()]
    return sorted(seen, key=lambda one: one.mapTo(panel, QPoint(0, 0)).y())


def look_at(panel, model):
    """Look at a curve on offer."""
    candidate(panel, model).button.setChecked(True)
