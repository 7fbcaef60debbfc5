"""Formulas typed by a person: read by our own small grammar, never by Python's."""

from .parse import parse
from .tree import Expression, FormulaError, names_in

__all__ = ["Expression", "FormulaError", "names_in", "parse"]
