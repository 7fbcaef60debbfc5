"""The fields of a constant: a number, or a formula of named inputs with units and the register it goes to."""

import re
from collections.abc import Callable, Iterable
from typing import get_args

from PySide6.QtWidgets import QPlainTextEdit, QPushButton

from ....core.document.channel import AnyChannel, ConstantChannel
from ....core.document.register_constant import BitField, NamedInput, RegisterConstant, Rounding, reckon
from ....core.words.errors import BadTable, YardstickError
from ....core.words.numerals import parse_number
from ...frame.theme import font
from ...panel.fields import FieldBase, TextField, label
from ...panel.lead_box import Act, Headline
from ...panel.record_form import FieldRow, RecordForm, TickField, plain
from .lead import lead_of_constant
from .part_fields import Fields

_REGISTER = (
    FieldRow("Formula", ("formula",), kind="text"),
    FieldRow("it comes to", ("unit",), kind="text", optional=True, hint="a plain number"),
    FieldRow("Rounded", ("rounding",), kind="choice", choices=tuple((one, one) for one in get_args(Rounding))),
    FieldRow("Register", ("bits",), kind="choice", choices=((16, "16 bits"), (32, "32 bits: two words"))),
    FieldRow("it holds signed numbers", ("signed",), kind="tick"),
    FieldRow("the high word comes first", ("high_word_first",), kind="tick", only_if=lambda one: one.bits == 32),
)


class LinesField(FieldBase):
    """Records as lines of text, taken together once each line makes sense."""

    def __init__(self, what: str, hint: str, height: int, put: Callable[[str], None]) -> None:
        super().__init__("")
        self._put = put
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText(hint)
        self.text.setToolTip(hint)
        self.text.setAccessibleName(f"{what}, one a line")
        self.text.setFont(font(12))
        self.text.setFixedHeight(height)
        self.text.setTabChangesFocus(True)
        self.row.addWidget(self.text)
        self.take = QPushButton(f"Take these {what.lower()}")
        self.take.clicked.connect(self._commit)
        self._column.insertWidget(1, self.take)

    def show_lines(self, lines: Iterable[str]) -> None:
        """Show the model's lines, unless something else is typed here."""
        text = "\n".join(lines)
        if not self.text.document().isModified() and self.text.toPlainText() != text:
            self.text.setPlainText(text)

    def _commit(self) -> None:
        try:
            self._put(self.text.toPlainText())
        except YardstickError as error:
            self.fail(str(error))
            return
        self.text.document().setModified(False)
        self.fail("")


def lines_of_inputs(inputs: Iterable[NamedInput]) -> list[str]:
    """Each input as `read_inputs` reads it."""
    return [
        f"{one.name} = {plain(one.value)} {one.unit}".rstrip() + (f"; {one.source}" if one.source else "")
        for one in inputs
    ]


_INPUT_HINT = "name = value unit; where it is from"
_FIELD = re.compile(
    r"(?P<name>[^=]+?)\s*=\s*(?P<value>0x[0-9a-fA-F]+|\d+)\s*\[(?P<high>\d+)(?::(?P<low>\d+))?\]\s*"
    r"(?P<codes>[^;]+);\s*(?P<input>\w+)\s*"
)
_FIELD_HINT = "filter code = 0x243 [9:8] 0=1, 1=4, 2=16, 3=64; averages"


def lines_of_fields(fields: Iterable[BitField]) -> list[str]:
    """Each bit field as `read_fields` reads it: name, register, bits, what each code stands for, the input it is."""
    found = []
    for one in fields:
        codes = ", ".join(f"{code}={plain(value)}" for code, value in one.codes)
        bits = f"[{one.lowest_bit + one.width - 1}:{one.lowest_bit}]"
        found.append(f"{one.name} = 0x{one.register_value:X} {bits} {codes}; {one.must_equal}")
    return found


def read_fields(text: str) -> tuple[BitField, ...]:
    """The bit fields in lines. Raises: BadTable with the line's number and the form a line has."""
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        match = _FIELD.fullmatch(line.strip())
        if match is None:
            raise BadTable(f"Line {number}: expected a line such as “{_FIELD_HINT}”, found “{line.strip()}”.")
        high = int(match["high"])
        low = int(match["low"] or high)
        if low > high:
            raise BadTable(f"Line {number}: the bits run from the higher to the lower, [{low}:{high}].")
        pairs = [code.partition("=") for code in match["codes"].split(",")]
        codes = tuple((round(parse_number(code)), parse_number(value)) for code, _, value in pairs)
        found.append(
            BitField(
                name=match["name"].strip(), register_value=int(match["value"], 0), lowest_bit=low,
                width=high - low + 1, codes=codes, must_equal=match["input"],
            )
        )  # fmt: skip
    return tuple(found)


def read_inputs(text: str) -> tuple[NamedInput, ...]:
    """The inputs in lines of `name = value unit; where from`. Raises: BadTable with the line's number."""
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        name, sign, rest = line.partition("=")
        stated, _, source = rest.partition(";")
        value, _, unit = stated.strip().partition(" ")
        if not sign or not name.strip().isidentifier():
            raise BadTable(f"Line {number}: expected “name = value unit”, found “{line.strip()}”.")
        try:
            found.append(
                NamedInput(name=name.strip(), value=parse_number(value), unit=unit.strip(), source=source.strip())
            )
        except BadTable as error:
            raise BadTable(f"Line {number}: {error}") from error
    return tuple(found)


class ConstantFields(Fields):
    """A constant channel."""

    shows = ConstantChannel
    noun = "Constant"

    def build(self) -> None:
        self.value = TextField("Value", lambda text: self.put("value", value=parse_number(text)))
        self.unit = TextField("Unit", lambda text: self.put("unit", unit=text.strip()), optional=True)
        self.decimals = TextField("Decimals", lambda text: self.put("decimals", decimals=round(parse_number(text))))
        self.derivation = TextField("Comes from", lambda text: self.put("derivation", derivation=text), optional=True)
        self.has_register = TickField("a register gets a number reckoned from it", self._put_has_register)
        self.register = RecordForm(_REGISTER, self._put_register)
        self.inputs_title = label("Inputs, one a line", "muted", 12)
        self.inputs = LinesField(
            "Inputs",
            "name = value unit; where it is from",
            150,
            lambda text: self._put_register({"inputs": read_inputs(text)}),
        )
        self.fields_title = label("Bit fields that must agree, one a line", "muted", 12)
        self.bit_fields = LinesField(
            "Fields", _FIELD_HINT, 64, lambda text: self._put_register({"fields": read_fields(text)})
        )
        self.add_to_top(self.value, self.unit, self.decimals, self.derivation)
        self.section("register", "Register", opened=True).add(
            self.has_register, self.register, self.inputs_title, self.inputs, self.fields_title, self.bit_fields
        )

    def lead(self, channel: AnyChannel) -> Headline:
        """What the register gets, to be copied from here."""
        assert isinstance(channel, ConstantChannel)
        lead = lead_of_constant(channel)
        constant = channel.register_constant
        if constant is None:
            return lead._replace(acts=(Act("Reckon one for a register", lambda: self._put_has_register(True)),))
        if lead.level == "fault":
            return lead._replace(acts=(self.panel.goes_to("Show the inputs", self.inputs.text),))
        return lead._replace(acts=(Act("Copy the words", lambda: self._copy_words(constant)),))

    def _copy_words(self, constant: RegisterConstant) -> None:
        from PySide6.QtGui import QGuiApplication

        words = "\n".join(f"0x{word:04X}" for word in reckon(constant).words)
        QGuiApplication.clipboard().setText(words)
        self.panel.bench.said.emit("The register's words are copied, in the order they are sent.", False)

    def _put_has_register(self, wanted: bool) -> None:
        self.put("register", register_constant=RegisterConstant() if wanted else None)

    def _put_register(self, changes: dict[str, object]) -> None:
        channel = self.panel.bench.channel
        if isinstance(channel, ConstantChannel) and channel.register_constant is not None:
            self.put("register", register_constant=channel.register_constant.with_(**changes))

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, ConstantChannel)
        self.value.show_values(plain(channel.value))
        self.unit.show_values(channel.unit)
        self.decimals.show_values(str(channel.decimals))
        self.derivation.show_values(channel.derivation)
        constant = channel.register_constant
        self.has_register.show_value(constant is not None)
        for widget in (self.register, self.inputs_title, self.inputs, self.fields_title, self.bit_fields):
            widget.setVisible(constant is not None)
        if constant is not None:
            self.register.show_record(constant)
            self.inputs.show_lines(lines_of_inputs(constant.inputs))
            self.bit_fields.show_lines(lines_of_fields(constant.fields))
