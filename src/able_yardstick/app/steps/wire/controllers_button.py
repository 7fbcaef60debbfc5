"""The button that adds a controller to the job: one that ships, one of a file, one described here."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QMenu, QToolButton

from ....core.document.controller import Controller
from ....core.wire.edits import add_controller, describe_controller
from ....core.words.errors import YardstickError
from ...frame.widgets import discard
from ...frame.workbench import Workbench


class ShopControllers(Protocol):
    """Who keeps controllers for every bench of a shop."""

    def controllers(self) -> list[Controller]:
        """Those that are kept. Raises: YardstickError."""

    def keep_controller(self, controller: Controller) -> None:
        """Keep one more. Raises: YardstickError."""


class ControllersButton(QToolButton):
    """Opens the list of controllers; what was refused is told in words, empty once something was taken."""

    refused = Signal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        self.shop: ShopControllers | None = None
        self.setText("Controllers  ▾")
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.choices = QMenu(self)
        self.choices.aboutToShow.connect(self._fill)
        self.setMenu(self.choices)

    def _fill(self) -> None:
        from ....files.controllers import own, shipped

        menu = self.choices
        menu.clear()
        for controller in (*shipped(), *own()):
            words = f"{controller.name}: {controller.note}" if controller.note else controller.name
            menu.addAction(words, partial(self._add, controller))
        kept = self._fill_shop(menu)
        menu.addSeparator()
        menu.addAction("From a file …", self.ask)
        menu.addAction("Describe one …", lambda: self.describe(Controller(id="", name="")))
        known = self._bench.job.controllers
        if known:
            menu.addSeparator()
        for controller in known:
            menu.addAction(f"Change {controller.name} …", partial(self.describe, controller))
        if self.shop is not None:
            for controller in (one for one in known if one not in kept):
                words = f"Keep {controller.name} in the shop's library"
                menu.addAction(words, partial(self._try, partial(self.shop.keep_controller, controller)))

    def _fill_shop(self, menu: QMenu) -> list[Controller]:
        """The controllers that the shop keeps; gives them."""
        try:
            kept = [] if self.shop is None else self.shop.controllers()
        except YardstickError as error:
            menu.addAction(str(error)).setEnabled(False)
            return []
        for controller in kept:
            menu.addAction(f"{controller.name}: from the shop's library", partial(self._add, controller))
        return kept

    def _try(self, act: Callable[[], None]) -> None:
        try:
            act()
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self.refused.emit("")

    def _add(self, controller: Controller) -> None:
        what = f"controller {controller.name}"
        self._try(lambda: self._bench.edit(what, lambda job: add_controller(job, controller)))

    def describe(self, controller: Controller) -> None:
        """Ask for a controller's terminals, and take what was typed into the job."""
        from ....files.controllers import keep_controller
        from .controller_editor import ControllerEditor

        dialog = ControllerEditor(controller, self)
        if dialog.exec():
            made = dialog.controller
            what = f"controller {made.name}"
            self._try(lambda: self._bench.edit(what, lambda job: describe_controller(job, made)))
            if dialog.kept_for_others:
                self._try(lambda: self._bench.said.emit(f"Kept for other jobs in {keep_controller(made)}.", False))
        discard(dialog)

    def ask(self) -> None:
        """Ask for a controller's description in a file and take it into the job."""
        from ....files.controllers import read_controller

        name, _ = QFileDialog.getOpenFileName(self, "A controller's description", "", "Controllers (*.json);;All (*)")
        if name:
            self._try(lambda: self._add(read_controller(Path(name))))
