"""The fields of a constant: a number, or a formula of named inputs with units and the register it goes to."""

from typing import get_args

from PySide6.QtWidgets import QPlainTextEdit, QPushButton

from ...core.channel import AnyChannel, ConstantChannel
from ...core.errors import BadTable, YardstickError
from ...core.numerals import parse_number
from ...core.register import NamedInput, RegisterConstant, Rounding
from ..theme import font
from .describe import Fields
from .fields import FieldBase, TextField, heading, label, rule_line
from .record_form import RecordForm, Row, TickField, plain

_REGISTER = (
    Row("Formula", ("formula",), kind="text"),
    Row("it comes to", ("unit",), kind="text", optional=True, hint="a plain number"),
    Row("Rounded", ("rounding",), kind="choice", choices=tuple((one, one) for one in get_args(Rounding))),
    Row("Register", ("bits",), kind="choice", choices=((16, "16 bits"), (32, "32 bits: two words"))),
    Row("it holds signed numbers", ("signed",), kind="tick"),
    Row("the high word comes first", ("high_word_first",), kind="tick", only_if=lambda one: one.bits == 32),
)


class InputsField(FieldBase):
    """Named inputs as lines of text: name = value unit; where from."""

    def __init__(self, put: "object") -> None:
        super().__init__("")
        self._put = put
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText("name = value unit; where it is from")
        self.text.setAccessibleName("Inputs of the formula, one a line")
        self.text.setFont(font(12))
        self.text.setFixedHeight(150)
        self.text.setTabChangesFocus(True)
        self.row.addWidget(self.text)
        self.take = QPushButton("Take these inputs")
        self.take.clicked.connect(self._commit)
        self._column.insertWidget(1, self.take)

    def show_inputs(self, inputs: tuple[NamedInput, ...]) -> None:
        """Show the model's inputs, unless something else is typed here."""
        lines = "\n".join(
            f"{one.name} = {plain(one.value)} {one.unit}".rstrip() + (f"; {one.source}" if one.source else "")
            for one in inputs
        )
        if not self.text.document().isModified() and self.text.toPlainText() != lines:
            self.text.setPlainText(lines)

    def _commit(self) -> None:
        try:
            self._put(read_inputs(self.text.toPlainText()))  # type: ignore[operator]
        except YardstickError as error:
            self.fail(str(error))
            return
        self.text.document().setModified(False)
        self.fail("")


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
    noun = "constant"

    def build(self) -> None:
        self.value = TextField("Value", lambda text: self.put("value", value=parse_number(text)))
        self.unit = TextField("Unit", lambda text: self.put("unit", unit=text.strip()), optional=True)
        self.decimals = TextField("Decimals", lambda text: self.put("decimals", decimals=round(parse_number(text))))
        self.derivation = TextField("Comes from", lambda text: self.put("derivation", derivation=text), optional=True)
        self.has_register = TickField("a register gets a number reckoned from it", self._put_has_register)
        self.register = RecordForm(_REGISTER, self._put_register)
        self.inputs_title = label("Inputs, one a line", "muted", 12)
        self.inputs = InputsField(lambda inputs: self._put_register({"inputs": inputs}))
        self.add(self.value, self.unit, self.decimals, self.derivation)
        self.add(rule_line(), heading("Register"), self.has_register, self.register, self.inputs_title, self.inputs)

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
        for widget in (self.register, self.inputs_title, self.inputs):
            widget.setVisible(constant is not None)
        if constant is not None:
            self.register.show_record(constant)
            self.inputs.show_inputs(constant.inputs)
