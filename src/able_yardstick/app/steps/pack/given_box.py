"""Numbers that somebody else made, typed into the form's own fields."""

from collections.abc import Callable
from types import SimpleNamespace

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.forms.any_form import FORMS, AnyForm
from ....core.forms.base import GivenNumber, SuffixOf
from ....core.forms.implied import LowHighIntegers
from ....core.forms.spec import PackSpec
from ...panel.record_form import FieldRow, RecordForm, TickField

_SUFFIXES: dict[SuffixOf, str] = {
    "": "",
    "unit": "{unit}",
    "pin": "{pin}",
    "per pin": "{unit}/{pin}",
    "pin per": "{pin}/{unit}",
    "counts": "counts",
}
_GIVEN: dict[str, tuple[GivenNumber, ...]] = {form.model_fields["kind"].default: form.given for form in FORMS}


class GivenBox(QWidget):
    """A tick, and below it the numbers of the form as they are typed; `put` takes the settings that they change."""

    def __init__(self, put: Callable[[dict[str, object]], None]) -> None:
        super().__init__()
        self._put = put
        self._form: AnyForm | None = None
        self._spec: PackSpec | None = None
        self._records: dict[str, RecordForm] = {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(7)
        self.tick = TickField("I have these numbers from elsewhere", self._ticked)
        self._column.addWidget(self.tick)

    def show_form(self, spec: PackSpec, form: AnyForm | None, **units: str) -> None:
        """Show the numbers of a form, for which `form` stands where there is one."""
        self._spec, self._form = spec, form
        self.setVisible(bool(_GIVEN[spec.form]))
        self.tick.show_value(bool(spec.given))
        if spec.given:
            self._record(spec.form).show_record(SimpleNamespace(**dict(spec.given)), **units)
        for kind, record in self._records.items():
            record.setVisible(kind == spec.form and bool(spec.given))

    def _record(self, kind: str) -> RecordForm:
        if kind not in self._records:
            rows = [
                FieldRow(one.title, (one.name,), suffix=_SUFFIXES[one.of], kind="whole" if one.is_whole else "number")
                for one in _GIVEN[kind]
            ]
            self._records[kind] = RecordForm(rows, self._typed)
            self._column.addWidget(self._records[kind])
        return self._records[kind]

    def _ticked(self, on: bool) -> None:
        spec, form = self._spec, self._form
        if spec is None or not on:
            self._put({"given": ()})
        elif form is not None:
            numbers = tuple((one.name, float(getattr(form, one.name))) for one in _GIVEN[spec.form])
            # integers mean what their decimal point says: it stays where it is, whatever the curve becomes
            point = {"implied_decimals": form.implied_decimals} if isinstance(form, LowHighIntegers) else {}
            self._put({"given": numbers, **point})

    def _typed(self, numbers: dict[str, object]) -> None:
        if self._spec is not None:
            self._put({"given": tuple({**dict(self._spec.given), **numbers}.items())})
