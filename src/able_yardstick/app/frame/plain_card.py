"""What a channel without a curve has to show: a constant and its register, or a contact in words."""

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QLabel, QVBoxLayout

from ...core.document.channel import ConstantChannel, TwoStateChannel
from ...core.document.register_constant import RegisterConstant, RegisterValue, reckon
from ...core.words.errors import YardstickError
from ...core.words.numerals import fixed, significant
from .plain_text import PlainLabel
from .register_picture import RegisterPicture, rows_of
from .theme import Theme, bold, font


class PlainCard(QFrame):
    """A number or two words, large, and why."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(28, 24, 28, 24)
        self._value, self._words, self._agreement = PlainLabel(), QLabel(), QLabel()
        self._register = RegisterPicture()
        self._value.setFont(bold(34))
        self._value.setWordWrap(True)
        self._value.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self._words.setWordWrap(True)
        self._words.setTextFormat(Qt.TextFormat.RichText)  # what others wrote is escaped
        self._words.setFont(font(14))
        self._words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addStretch(1)
        layout.addWidget(self._value)
        layout.addWidget(self._words)
        layout.addSpacing(8)
        layout.addWidget(self._register)
        layout.addWidget(self._agreement)
        layout.addStretch(2)
        self._agreement.setWordWrap(True)
        self._agreement.setTextFormat(Qt.TextFormat.RichText)  # what others wrote is escaped
        self._agreement.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self._words.setAlignment(Qt.AlignmentFlag.AlignHCenter)

    def show_channel(self, channel: ConstantChannel | TwoStateChannel, theme: Theme) -> None:
        """The number of a constant, or the levels of a contact."""
        self._register.show_rows((), theme)
        self._value.setVisible(True)
        self._agreement.setText("")
        if isinstance(channel, ConstantChannel):
            self._show_constant(channel, theme)
        else:
            self._show_contact(channel)

    def _show_constant(self, channel: ConstantChannel, theme: Theme) -> None:
        self._value.setText(f"{fixed(channel.value, channel.decimals)} {channel.unit}")
        self._value.setVisible(bool(channel.value) or channel.register_constant is None)  # else the register's says all
        why = f"<p>{escape(channel.derivation)}.</p>" if channel.derivation else ""
        if channel.register_constant is None:
            self._words.setText(f"{why}<p>A constant for a register: no pin, so nothing to gather or to fit.</p>")
        else:
            self._show_register(channel.register_constant, why, theme)

    def _show_register(self, constant: RegisterConstant, why: str, theme: Theme) -> None:
        formula = f"{why}<p style='color:{theme.muted}'>{escape(constant.formula)}</p>"
        try:
            found = reckon(constant)
        except YardstickError as error:
            self._words.setText(f"{formula}<p style='color:{theme.red}'>{escape(str(error).splitlines()[0])}</p>")
            return
        self._words.setText(formula + register_words(constant, found, theme))
        self._register.show_rows(rows_of(constant, found), theme)
        self._agreement.setText(agreement_words(found, theme))

    def _show_contact(self, channel: TwoStateChannel) -> None:
        unit = channel.signal_unit
        closed, opened = channel.pin_levels
        self._value.setText(f"{channel.closed_means}  |  {channel.open_means}")
        half = channel.dead_band / 2
        self._words.setText(
            f"Closed the pin is at {closed:.4g} {unit}, open at {opened:.4g} {unit}. The state changes at "
            f"{fixed(channel.threshold - half, 2)} and {fixed(channel.threshold + half, 2)} {unit}: between the "
            "two it stays what it was.<br><br>A contact has two states and no curve: nothing to gather or to fit."
        )


def register_words(constant: RegisterConstant, found: RegisterValue, theme: Theme) -> str:
    """What the register gets and what rounding costs, as rich text."""
    words = " ".join(f"0x{word:04X}" for word in found.words)
    order = "high word first" if constant.high_word_first else "low word first"
    rows = [
        ("exactly", significant(found.exact, 12)),
        ("register", f"<b>{found.integer:,}</b>".replace(",", "\u2009")),
        ("hexadecimal", f"<b>{found.hexadecimal}</b>"),
        ("words", f"<b>{words}</b> {order}" if len(found.words) > 1 else f"<b>{words}</b>"),
        ("rounding", f"{constant.rounding}: {100 * found.rounding_error:.2g} % off".replace("-", "\u2212")),
    ]
    cells = "".join(
        f"<tr><td style='color:{theme.muted}; padding:3px 14px 3px 0' align='right'>{title}</td>"
        f"<td style='padding:3px 0'>{text}</td></tr>"
        for title, text in rows
    )
    return f"<table align='center'>{cells}</table>"


def agreement_words(found: RegisterValue, theme: Theme) -> str:
    """Whether the bit fields agree with the formula, as rich text."""
    return "".join(
        f"<p style='color:{theme.green if field.agrees else theme.red}'>"
        f"{'●' if field.agrees else '■'} {escape(field.says)}.</p>"
        for field in found.fields
    )
