"""The base of every record in the job: frozen, complete from birth, and named by its contents."""

import hashlib
import json
from functools import cached_property, partial
from math import copysign
from typing import Annotated, Any, ClassVar, Self

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, ValidationError
from pydantic_core.core_schema import CoreSchema, float_schema, no_info_after_validator_function

from .errors import YardstickError
from .numerals import shortened

_LONGEST_TEXT, _LONGEST_COMPLAINT = 1_000_000, 400
_LEAST_STATED, _MOST_STATED, _MOST_RECKONED = 1e-30, 1e30, 1e150


_NUMBER = float_schema()  # one without bounds of its field


class _UpTo:
    """Numbers up to a size either way; those next to nothing are taken for the least there is, so that they divide.

    What checks them is made once for all fields: to
    have it put together anew for each of hundreds is a good part of starting.
    """

    def __init__(self, most: float, least: float = 0.0) -> None:
        def sized(number: float) -> float:
            if not -most <= number <= most:
                raise ValueError(f"expected a number of at most {most:g} either way, found {number:g}")
            return number if number == 0 or not -least < number < least else copysign(least, number)

        self._checked = partial(no_info_after_validator_function, sized)
        self._plain = self._checked(float_schema(allow_inf_nan=False))

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        number = handler(source)
        return self._plain if number == _NUMBER else self._checked({**number, "allow_inf_nan": False})


# numbers that are stated, and those that follow from them: so small that no sum or square of them is infinite
Finite = Annotated[float, _UpTo(_MOST_STATED, _LEAST_STATED)]
Reckoned = Annotated[float, _UpTo(_MOST_RECKONED)]


class Frozen(BaseModel):
    """A record that is never edited: a correction makes a new one."""

    # built when first used: Job holds all others, so that start-up builds one validator instead of a hundred
    # a longest text makes pydantic look at it, and so refuse half a character (a lone surrogate), at the door
    model_config = ConfigDict(
        frozen=True, extra="forbid", ser_json_inf_nan="strings", defer_build=True, str_max_length=_LONGEST_TEXT
    )

    built_apart: ClassVar[tuple[type["Frozen"], ...]] = ()  # large records it holds that others hold too

    @classmethod
    def model_rebuild(cls, **options: Any) -> bool | None:
        """Build what checks the record; what it holds and others hold too is built first, once for all of them."""
        for part in cls.built_apart:
            part.model_rebuild()
        return super().model_rebuild(**options)

    @classmethod
    def model_json_schema(cls, *args: Any, **options: Any) -> dict[str, Any]:
        """The JSON schema, its limits by JSON Schema's own names wherever pydantic leaves its own."""
        return dict(_in_json_words(super().model_json_schema(*args, **options)))

    def __eq__(self, other: object) -> bool:
        """Whether all fields are equal; what was reckoned from them and kept beside them does not count."""
        if type(self) is not type(other):
            return NotImplemented
        return all(getattr(self, name) == getattr(other, name) for name in type(self).model_fields)

    def __hash__(self) -> int:
        return hash(tuple(getattr(self, name) for name in type(self).model_fields))

    @cached_property
    def json_text(self) -> bytes:
        """The record as JSON on one line, UTF-8; made once, as a record never changes."""
        return self.model_dump_json().encode()

    def with_(self, **changes: Any) -> Self:
        """The same record with some fields changed, validated anew.

        Raises: InvalidRecord with the first complaint in words.
        """
        fields = {name: getattr(self, name) for name in type(self).model_fields}
        try:
            return type(self)(**{**fields, **changes})
        except ValidationError as error:
            raise InvalidRecord(first_complaint(error)) from error


def added_later(default: Any, **bounds: Any) -> Any:
    """A field that earlier programs did not know: at its default it is not written, and names of contents stay."""
    return Field(default=default, exclude_if=lambda value: value == default, **bounds)


_JSON_WORDS = {"ge": "minimum", "gt": "exclusiveMinimum", "le": "maximum", "lt": "exclusiveMaximum"}


def _in_json_words(tree: Any) -> Any:
    if isinstance(tree, dict):
        is_number = tree.get("type") in ("number", "integer")
        return {_JSON_WORDS.get(key, key) if is_number else key: _in_json_words(part) for key, part in tree.items()}
    return [_in_json_words(part) for part in tree] if isinstance(tree, list) else tree


class InvalidRecord(YardstickError, ValueError):
    """A field holds what the model does not allow."""


def first_complaint(error: ValidationError) -> str:
    """The first of pydantic's complaints as a plain sentence."""
    first = error.errors()[0]
    message = shortened(str(first["msg"]).removeprefix("Value error, "), _LONGEST_COMPLAINT)
    if first["type"] == "value_error":
        return message
    where = shortened(".".join(str(part) for part in first["loc"])) or "value"
    return f"{where}: {message}; found {shortened(repr(first.get('input')))}"


def digest(*parts: Any) -> str:
    """Ten hexadecimal digits that name the contents of records and plain data.

    The revision of a result is named by what it contains, so that going back to earlier contents goes back
    to the earlier name.
    """
    plain = [part.model_dump(mode="json") if isinstance(part, BaseModel) else part for part in parts]
    text = json.dumps(plain, sort_keys=True, ensure_ascii=False, default=_plain)
    return hashlib.sha256(text.encode()).hexdigest()[:10]


def digests(record: BaseModel) -> dict[str, str]:
    """What names the contents of each field of a record, by the field's name.

    Fields at their defaults are left out of it, so that a field that a later program adds changes no name.
    """
    plain = record.model_dump(mode="json", exclude_defaults=True)
    return {name: digest(plain.get(name)) for name in type(record).model_fields}


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    raise TypeError(f"{type(value).__name__} has no plain form")


AT_DEFAULT = digest(None)  # what `digests` says of a field at its default: one that an earlier program did not know
