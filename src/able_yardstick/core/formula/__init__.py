"""Formulas typed by a person: read by our own small grammar, never by Python's."""

from .parse import parse
from .tree import FormulaError, Node, names_in

__all__ = ["FormulaError", "Node", "names_in", "parse"]
