"""A calibration as a function for a controller, in each of the languages there are."""

from typing import ClassVar, Literal

from . import code_c, code_st
from .function import CodeFunction


class CFunction(CodeFunction):
    """C99."""

    title: ClassVar[str] = "C99 function"
    caption: ClassVar[str] = "C"
    kind: Literal["c"] = "c"

    @property
    def text(self) -> str:
        """The function, ready to compile."""
        return code_c.written(self)


class StFunction(CodeFunction):
    """IEC 61131-3 Structured Text."""

    title: ClassVar[str] = "Structured Text function"
    caption: ClassVar[str] = "Structured Text"
    kind: Literal["st"] = "st"

    @property
    def text(self) -> str:
        """The function, ready to compile."""
        return code_st.written(self)
