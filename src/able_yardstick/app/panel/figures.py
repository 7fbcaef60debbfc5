"""Small tables of figures in a panel: names to the left, numbers to the right, notes below a row."""

from collections.abc import Sequence
from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from ..frame.theme import Theme, font


class FigureTable(QLabel):
    """A table of figures that can be selected and copied; gone while there are none."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setFont(font(12))
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setWordWrap(True)
        self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.setAccessibleName(name)
        self.hide()

    def show_rows(self, header: Sequence[str], rows: Sequence["FigureRow"], theme: Theme) -> None:
        """Show rows below a header; without rows nothing."""
        muted = theme.color("muted").name()
        lines = [_line(header, muted)] if any(header) else []
        for row in rows:
            lines.append(_line(row.cells, theme.color("ink").name(), row.heavy))
            if row.note:
                lines.append(f"<tr><td colspan='{len(row.cells)}'>{_dressed(row.note, muted)}</td></tr>")
        self.setText(f"<table width='100%' cellspacing='0' cellpadding='1'>{''.join(lines)}</table>" if rows else "")
        self.setVisible(bool(rows))

    @property
    def plain(self) -> str:
        """The words and figures without their dress, a row each line."""
        from PySide6.QtGui import QTextDocumentFragment

        return QTextDocumentFragment.fromHtml(self.text()).toPlainText()


class FigureRow:
    """One row: cells of words, the first to the left; a muted note below it; heavy for a sum."""

    def __init__(self, *cells: str, note: str = "", heavy: bool = False) -> None:
        self.cells, self.note, self.heavy = cells, note, heavy


def _line(cells: Sequence[str], color: str, heavy: bool = False) -> str:
    made = []
    for place, cell in enumerate(cells):
        text = escape(cell).replace("\u2009", "&thinsp;").replace(" ", "&nbsp;")  # names stay on one line
        align = "left" if place == 0 else "right"
        made.append(f"<td align='{align}'>{_dressed(f'<b>{text}</b>' if heavy else text, color, plain=False)}</td>")
    return f"<tr>{''.join(made)}</tr>"


def _dressed(text: str, color: str, *, plain: bool = True) -> str:
    size = 11 if plain else 12
    return f"<span style='color:{color}; font-size:{size}px'>{escape(text) if plain else text}</span>"
