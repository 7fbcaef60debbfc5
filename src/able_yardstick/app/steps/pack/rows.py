"""The settings of each form, as rows of the panel's form."""

from typing import Any

from ....core.forms.any_form import FORMS
from ....core.forms.spec import PackSpec
from ....core.forms.table import Knots
from ...panel.record_form import FieldRow

_STRAIGHT = ("slope", "divisor", "offset", "formula", "words")
_HELD: dict[str, str] = {form.model_fields["kind"].default: form.held for form in FORMS}


def _forms(*names: str) -> Any:
    """Whether a form, or the form that a function is made of, is one of these."""

    def wanted(spec: PackSpec) -> bool:
        made_of = spec.code_of or "knots" if spec.form in ("st", "c") else spec.form
        return made_of in names or spec.form in names

    return wanted


def _table(spec: PackSpec) -> bool:
    return bool(_forms("knots")(spec))


def is_placed(spec: PackSpec) -> bool:
    """Whether the program chooses where the knots of a table stand."""
    return _table(spec) and spec.spacing in ("best", "even")


_steps_values = _forms("knots", "ends", "span", "normal", "ratio")
_by_signals = _forms("ends", "integers")


def _of_implied(spec: PackSpec) -> str:
    """What is typed into the controller for 12.5."""
    return f"12.5 is {12.5 * 10**spec.implied_decimals:.0f} to the controller." if spec.implied_decimals else ""


FORM_ROWS = (
    FieldRow("Ends given", ("ends_at",), kind="choice", only_if=_by_signals, choices=(
        ("pin", "at the input's pin"), ("output", "at the transducer"),
    )),
    FieldRow("Signal ends", ("signal_low", "signal_high"), suffix="{end}", between="to", optional=True, hint="auto",
        only_if=_by_signals),
    FieldRow("Made of", ("code_of",), kind="choice", only_if=lambda spec: spec.form in ("st", "c"), choices=(
        (None, "what the curve needs"), ("slope", "slope and offset"), ("knots", "a table of knots"),
        ("poly", "a polynomial"), ("ratio", "an integer ratio"), ("fixed", "fixed point"),
    )),
    FieldRow("Knots", ("spacing",), kind="choice", only_if=_table, choices=(
        ("best", "best placed"), ("even", "evenly spaced"), ("fixed", "at fixed signals"), ("own", "put by hand"),
    )),
    FieldRow("How many", ("knots",), kind="whole", only_if=lambda spec: is_placed(spec) and spec.max_error is None),
    FieldRow("Steps", ("signal_step", "value_step"), suffix="{unit}", between="{pin}", optional=True, hint="any",
        only_if=is_placed),
    FieldRow("Value step", ("value_step",), suffix="{unit}", optional=True, hint="any",
        only_if=lambda spec: _steps_values(spec) and not is_placed(spec)),
    FieldRow("Implied decimals", ("implied_decimals",), kind="whole", optional=True, hint="not said",
        only_if=lambda spec: spec.form in ("knots", "integers"), note=_of_implied),
    FieldRow("Decimals", ("decimals",), kind="whole", optional=True, hint="all", only_if=_forms(*_STRAIGHT)),
    FieldRow("Or digits", ("significant",), kind="whole", optional=True, hint="all",
        only_if=lambda spec: spec.form in _STRAIGHT[:4] and spec.decimals is None),
    FieldRow("Integers", ("int_bits",), kind="choice", choices=((16, "16 bits"), (32, "32 bits")),
        only_if=_forms("ratio", "fixed", "integers")),
    FieldRow("Rounding", ("rounding",), kind="choice", only_if=lambda spec: _forms("ratio", "integers")(spec) or (
        spec.form == "knots" and spec.implied_decimals is not None), choices=(
        ("nearest", "to nearest"), ("truncate", "cuts off"), ("floor", "towards below"),
    )),
    FieldRow("Order", ("order",), kind="choice", only_if=_forms("ratio"), choices=(
        ("multiply first", "multiplies first"), ("divide first", "divides first"),
    )),
    FieldRow("Fraction bits", ("fraction_bits",), kind="whole", optional=True, hint="as many as fit",
        only_if=_forms("fixed")),
    FieldRow("Degree", ("degree",), kind="whole", only_if=_forms("poly", "formula")),
    FieldRow("Called", ("channel_name",), kind="text", optional=True, hint="signal",
        only_if=_forms("formula", "st", "c")),
    FieldRow("Its name in", ("name_quotes",), kind="choice", only_if=_forms("formula"), choices=(
        ("", "no quotes"), ("[]", "[brackets]"), ("''", "'single quotes'"), ('""', '"double quotes"'),
        ("{}", "{braces}"),
    )),
    FieldRow("A fault is", ("fault_test",), kind="choice", only_if=_forms("st", "c"), choices=(
        ("limits", "beyond the sensor's limits"), ("range", "beyond the range"), ("none", "not tested"),
    )),
    FieldRow("by more than", ("fault_margin",), suffix="% of the pin's span",
        only_if=lambda spec: spec.form in ("st", "c") and spec.fault_test == "range"),
    FieldRow("Registers", ("number_type",), kind="choice", only_if=_forms("words"), choices=(
        ("f32", "32-bit float"), ("s16", "16-bit signed"), ("u16", "16-bit unsigned"), ("s32", "32-bit signed"),
        ("u32", "32-bit unsigned"),
    )),
    FieldRow("Words", ("word_order",), kind="choice", only_if=_forms("words"), choices=(
        ("high word first", "high word first"), ("low word first", "low word first"),
    )),
)  # fmt: skip

RARE_ROWS = (
    FieldRow("Or within ±", ("max_error",), suffix="{unit}", optional=True, hint="any",
        only_if=lambda spec: is_placed(spec) and spec.spacing == "best"),
    FieldRow("Signal ends", ("signal_low", "signal_high"), suffix="{pin}", between="to", optional=True, hint="auto",
        only_if=lambda spec: spec.form in ("span", "normal") or is_placed(spec)),
    FieldRow("Limits", ("limit_low", "limit_high"), suffix="{unit}", between="to", optional=True, hint="none",
        only_if=lambda spec: spec.form == "slope" or _table(spec)),
)  # fmt: skip


def _rare_rows(spec: PackSpec) -> list[FieldRow]:
    return [row for row in RARE_ROWS if row.only_if is None or row.only_if(spec)]


def is_rarely_set(spec: PackSpec) -> bool:
    """Whether one of the settings is made that few need."""
    return any(getattr(spec, name) is not None for row in _rare_rows(spec) for name in row.names)


def has_rare_rows(spec: PackSpec) -> bool:
    """Whether a form has such settings at all."""
    return bool(_rare_rows(spec))


def clamp_words(spec: PackSpec) -> str:
    """What the controller does at the ends, as a tick; empty where the form has no choice."""
    return Knots.held if _table(spec) else _HELD[spec.form]
