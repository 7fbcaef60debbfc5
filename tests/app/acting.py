"""What a person does in the window: goes somewhere, types into a field, picks a choice."""

from PySide6.QtCore import Qt


def go(window, tag, step):
    window.bench.select(window.bench.job.tagged(tag).id)
    window.bench.go(step)
    return window._panel(step)


def enter(qtbot, field, *texts):
    """Type into the parts of a field and leave it."""
    for entry, text in zip(field.entries, texts, strict=True):
        entry.setFocus()
        entry.selectAll()
        qtbot.keyClick(entry, Qt.Key.Key_Delete)
        qtbot.keyClicks(entry, text)
    qtbot.keyClick(field.entries[-1], Qt.Key.Key_Return)


def pick(field, value):
    """Choose as with the mouse."""
    field.box.setCurrentIndex(field.box.findData(value))
    field.box.activated.emit(field.box.currentIndex())
