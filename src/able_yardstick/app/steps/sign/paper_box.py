"""On paper: the record, a label, a blank sheet for the field; and the whole job handed over in one file."""

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import NamedTuple

from PySide6.QtWidgets import QFileDialog, QGridLayout, QPushButton, QWidget

from ....core.document.channel import SignableChannel
from ....core.job.people import person_of
from ....core.sign.field_sheet import field_sheet, wiring_sheet
from ....core.sign.sheet import sheet_of
from ....core.words.errors import BadTable, NotApplicable, YardstickError
from ....files.output import file_name, put_bytes
from ....files.records.keys import SigningKey
from ....files.records.package import package_of, save_package
from ....files.records.signing import last_sealed
from ...frame.workbench import Workbench, now
from ...panel.fields import ChoiceField, Complaint
from ...paper.label import LABEL, label_page
from ...paper.page import Page
from ...paper.pdf import pdf_of
from ...paper.record_pdf import record_pdf
from ...paper.typeset import A4, Paper, paper_named, typeset

_PAPERS = (("A4", "A4"), ("Letter", "Letter"))


class Printed(NamedTuple):
    """Pages on their paper, a title, and what their file would be called; a record brings its own bytes."""

    pages: list[Page]
    paper: Paper
    title: str
    data: bytes | None = None


class PaperBox(QWidget):
    """Each thing can be saved as PDF or printed."""

    def __init__(
        self, bench: Workbench, key: Callable[[], SigningKey], due_of: Callable[[SignableChannel], date | None]
    ) -> None:
        super().__init__()
        self._bench, self._key, self._due_of = bench, key, due_of
        self.stock = A4
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        self.paper = ChoiceField("Paper", _PAPERS, self._put_paper)
        self.paper.show_value("A4")
        grid.addWidget(self.paper, 0, 0, 1, 3)
        grid.setColumnStretch(0, 1)
        for row, (words, make) in enumerate(
            (("Its record", self.record), ("Label", self.label), ("Blank field sheet", self.sheet),
             ("Sheets of all channels", self.sheets), ("Wiring list", self.wiring)), 1,
        ):  # fmt: skip
            save, to_printer = QPushButton(f"{words} as PDF …"), QPushButton("Print …")
            to_printer.setAccessibleName(f"Print {words.lower()}")
            save.clicked.connect(lambda _checked=False, made=make: self._do(lambda: self._ask_pdf(made())))
            to_printer.clicked.connect(lambda _checked=False, made=make: self._do(lambda: self._print(made())))
            grid.addWidget(save, row, 0, 1, 2)
            grid.addWidget(to_printer, row, 2)
        self.hand_over = QPushButton("Hand over the whole job as ZIP …")
        self.hand_over.clicked.connect(lambda: self._do(self._ask_package))
        grid.addWidget(self.hand_over, 7, 0, 1, 3)
        self.complaint = Complaint()
        grid.addWidget(self.complaint, 8, 0, 1, 3)

    def _put_paper(self, name: str) -> None:
        self.stock = paper_named(name)

    def _do(self, act: Callable[[], None]) -> None:
        try:
            act()
            self.complaint.setText("")
        except YardstickError as error:
            self.complaint.setText(str(error))

    # -- what can be printed ----------------------------------------------------------------------------------------

    def _sealed(self) -> dict:  # type: ignore[type-arg]  # plain JSON
        path = self._bench.path
        sealed = None if path is None else last_sealed(self._bench.job, self._bench.to_sign(), path)
        if sealed is None:
            raise NotApplicable(f"{self._bench.to_sign().tag} is not signed yet: sign it first.")
        return sealed

    def record(self) -> Printed:
        """The last record of the channel. Raises: NotApplicable without one."""
        sealed = self._sealed()
        pages = typeset(sheet_of(sealed["record"], sealed["sha256"], sealed["signatures"]), self.stock)
        return Printed(pages, self.stock, f"{self._bench.to_sign().tag} record", record_pdf(sealed, self.stock))

    def label(self) -> Printed:
        """A label of the last record. Raises: NotApplicable without one."""
        due = self._due_of(self._bench.to_sign())
        return Printed(
            [label_page(self._sealed(), "" if due is None else str(due))], LABEL, f"{self._bench.to_sign().tag} label"
        )

    def sheet(self) -> Printed:
        """A blank sheet for the channel."""
        made = field_sheet(self._bench.job, [self._bench.to_sign()])
        return Printed(typeset(made, self.stock), self.stock, f"{self._bench.to_sign().tag} field sheet")

    def sheets(self) -> Printed:
        """A blank sheet for all channels."""
        made = field_sheet(self._bench.job, self._bench.job.channels)
        return Printed(typeset(made, self.stock), self.stock, "field sheets")

    def wiring(self) -> Printed:
        """Where every lead goes."""
        return Printed(typeset(wiring_sheet(self._bench.job), self.stock), self.stock, "wiring list")

    # -- where it goes ----------------------------------------------------------------------------------------------

    def _ask_pdf(self, made: Printed) -> None:
        name, _ = QFileDialog.getSaveFileName(self, made.title, file_name(made.title, ".pdf"), "PDF (*.pdf)")
        if name:
            self.save_pdf(made, Path(name))

    def save_pdf(self, made: Printed, path: Path) -> None:
        """Save what was made as a PDF. Raises: BadTable."""
        put_bytes(path, made.data or pdf_of(made.pages, made.paper, made.title))
        self._bench.said.emit(f"{made.title} is in {path}.", False)

    def _print(self, made: Printed) -> None:
        from ...paper.printing import print_pages

        if print_pages(made.pages, made.paper, self):
            self._bench.said.emit(f"{made.title} went to the printer.", False)

    def _ask_package(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Hand over", file_name(self._bench.job.title, ".zip"), "ZIP (*.zip)"
        )
        if name:
            self.save_package(Path(name), self._ask_logs())

    def _ask_logs(self) -> tuple[Path, ...]:
        """Which logs go into the package; none is asked for where none lies beside the job."""
        own = self._bench.path
        if own is None or not any(own.parent.glob("*.yardlog")):
            return ()
        title = "Logs to put in: choose them, or cancel for none"
        names, _ = QFileDialog.getOpenFileNames(self, title, str(own.parent), "Logs (*.yardlog)")
        return tuple(Path(name) for name in names)

    def save_package(self, path: Path, logs: tuple[Path, ...] = ()) -> None:
        """Save the whole job as one file, with the logs that were chosen. Raises: BadTable."""
        job, own = self._bench.job, self._bench.path
        if own is None:
            raise BadTable("Save the job first: what is handed over is what is on disk.")
        by = person_of(job, "technician")
        if not by:
            raise NotApplicable("Say who hands it over: a name under Technician.")
        files = package_of(job, own, self._key(), by, now(), logs)
        save_package(path, files, own)
        self._bench.said.emit(f"{len(files)} files are in {path}. verify says what it proves.", False)
