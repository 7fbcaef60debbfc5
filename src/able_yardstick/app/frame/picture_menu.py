"""A picture of what is seen, to the clipboard or to a file, from a right click on it."""

from pathlib import Path

from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from ...files.output import file_name
from .workbench import Say

_ENDING = ".png"


def picture_menu(widget: QWidget, name: str, say: Say) -> QMenu:
    """A menu that copies or saves a widget as it looks now; `name` is what the file is called at first."""
    menu = QMenu(widget)
    menu.addAction("Copy as a picture", lambda: copy_picture(widget, say))
    menu.addAction("Save as a picture …", lambda: ask_picture(widget, name, say))
    return menu


def copy_picture(widget: QWidget, say: Say) -> None:
    """Put the picture on the clipboard."""
    QGuiApplication.clipboard().setPixmap(widget.grab())
    say("The picture is copied.", False)


def ask_picture(widget: QWidget, name: str, say: Say) -> None:
    """Ask where the picture goes, and write it."""
    path, _ = QFileDialog.getSaveFileName(widget, "Save as a picture", file_name(name, _ENDING), "Pictures (*.png)")
    if path:
        save_picture(widget, Path(path), say)


def save_picture(widget: QWidget, path: Path, say: Say) -> None:
    """Write the picture to a file; says where, or why not."""
    target = path if path.suffix else path.with_suffix(_ENDING)
    if widget.grab().save(str(target)):
        say(f"The picture is in {target}.", False)
    else:
        say(f"{target} could not be written: check that its folder is there and may be written to.", True)
