"""Reads ordinary arithmetic: + − * / ^, brackets, functions, numbers with a decimal point, names.

sum = product {("+" | "-") product}         product = signed {("*" | "/") signed}
signed = {"-" | "+"} power                  power = atom ["^" signed]
atom = number | name | name "(" sum {("," | ";") sum} ")" | "(" sum ")"
"""

import re
from functools import lru_cache
from typing import NamedTuple

from .tree import FUNCTIONS, Call, Expression, FormulaError, Name, Negative, Number, Operation

_TOKEN = re.compile(
    r"\s*(?:(?P<number>\d+\.?\d*(?:[eE][+-]?\d{1,3})?|\.\d+(?:[eE][+-]?\d{1,3})?)"
    r"|(?P<name>[^\W\d]\w*)|(?P<sign>\*\*|[-+*/^(),;]))"
)
_SAME = {"−": "-", "–": "-", "×": "*", "·": "*", "÷": "/", "√": "sqrt"}
_LONGEST = 500
_DEEPEST = 60


class _Token(NamedTuple):
    kind: str
    text: str
    at: int


@lru_cache(maxsize=256)
def parse(text: str) -> Expression:
    """The tree of a formula. Raises: FormulaError that points at the character it fails at."""
    if len(text) > _LONGEST:
        raise FormulaError(f"A formula has at most {_LONGEST} characters, found {len(text)}. Simplify it.")
    return _Reader(text).whole()


def _tokens(text: str) -> list[_Token]:
    plain = "".join(_SAME.get(sign, sign) if len(_SAME.get(sign, sign)) == 1 else sign for sign in text)
    found, at = [], 0
    while plain[at:].strip():
        match = _TOKEN.match(plain, at)
        if match is None:
            start = at + len(plain[at:]) - len(plain[at:].lstrip())
            raise FormulaError(f"“{text[start]}” has no place in a formula. Remove it.", text=text, at=start)
        kind = match.lastgroup or ""
        written = match[kind].replace("**", "^")
        found.append(_Token(kind, written, match.start(kind)))
        at = match.end()
    return found


class _Reader:
    def __init__(self, text: str) -> None:
        self._text = text
        self._tokens = _tokens(text)
        self._next = 0
        self._depth = 0

    def whole(self) -> Expression:
        if not self._tokens:
            raise FormulaError("Expected a formula such as 62.5 * (V - 0.5), found nothing.")
        node = self._sum()
        token = self._peek()
        if token.kind:
            raise self._error(f"Expected an operator or the end, found “{token.text}”.", token.at)
        return node

    def _error(self, words: str, at: int) -> FormulaError:
        return FormulaError(words, text=self._text, at=at)

    def _peek(self) -> _Token:
        return self._tokens[self._next] if self._next < len(self._tokens) else _Token("", "", len(self._text.rstrip()))

    def _take(self) -> _Token:
        token = self._peek()
        self._next += 1
        return token

    def _sum(self) -> Expression:
        self._depth += 1
        if self._depth > _DEEPEST:
            raise self._error("The brackets are nested too deeply. Simplify the formula.", self._peek().at)
        node = self._product()
        while self._peek().text in ("+", "-"):
            sign = self._take()
            node = Operation(sign.text, node, self._product(), sign.at)
        self._depth -= 1
        return node

    def _product(self) -> Expression:
        node = self._signed()
        while self._peek().text in ("*", "/"):
            sign = self._take()
            node = Operation(sign.text, node, self._signed(), sign.at)
        return node

    def _signed(self) -> Expression:
        turned, first = False, self._peek().at
        while self._peek().text in ("+", "-"):
            turned ^= self._take().text == "-"
        node = self._power()
        return Negative(node, first) if turned else node

    def _power(self) -> Expression:
        node = self._atom()
        if self._peek().text == "^":
            sign = self._take()
            return Operation("^", node, self._signed(), sign.at)
        return node

    def _atom(self) -> Expression:
        token = self._take()
        if token.kind == "number":
            return Number(float(token.text), token.at)
        if token.kind == "name":
            return self._call(token) if self._peek().text == "(" else self._name(token)
        if token.text == "(":
            node = self._sum()
            self._close(token.at)
            return node
        found = f"“{token.text}”" if token.text else "the end"
        raise self._error(f"Expected a number, a name or a bracket, found {found}.", token.at)

    def _name(self, token: _Token) -> Expression:
        if token.text in FUNCTIONS:
            raise self._error(f"{token.text} is a function: write {token.text}( … ).", token.at)
        return Name(token.text, token.at)

    def _call(self, name: _Token) -> Expression:
        opening = self._take()
        known = FUNCTIONS.get(name.text)
        if known is None:
            raise self._error(f"There is no function “{name.text}”. Known: {', '.join(FUNCTIONS)}.", name.at)
        parts = [self._sum()]
        while self._peek().text in (",", ";"):
            self._take()
            parts.append(self._sum())
        self._close(opening.at)
        if not known.least <= len(parts) <= known.most:
            wanted = str(known.least) if known.least == known.most else f"{known.least} to {known.most}"
            raise self._error(f"{name.text} takes {wanted} value(s), found {len(parts)}.", name.at)
        return Call(name.text, tuple(parts), name.at)

    def _close(self, opened: int) -> None:
        token = self._take()
        if token.text != ")":
            found = f"“{token.text}”" if token.text else "the end"
            raise self._error(f"The bracket opened at character {opened + 1} is not closed: found {found}.", token.at)
