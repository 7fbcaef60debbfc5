"""An interpreter of the Structured Text that the program writes: assignments, IF, WHILE, arrays, REAL and integers.

REAL is single precision: every operation rounds. Integers wrap nowhere: leaving their width is an error.
"""

import re

import numpy as np

_TOKEN = re.compile(
    r"\s*(?:(?P<real>\d+\.\d+(?:[eE][+-]?\d+)?)|(?P<whole>\d+(?![eE]))|(?P<name>[A-Za-z_]\w*)"
    r"|(?P<sign>:=|<>|<=|>=|\.\.|[-+*/()<>=;:,\[\]]))"
)
_WIDTHS = {"INT": (-(2**15), 2**15 - 1), "DINT": (-(2**31), 2**31 - 1), "UDINT": (0, 2**32 - 1)}


class Program:
    """One function, read once; `run` calls it."""

    def __init__(self, text):
        plain = re.sub(r"\(\*.*?\*\)", " ", text, flags=re.DOTALL)
        self.tokens, at = [], 0
        while plain[at:].strip():
            match = _TOKEN.match(plain, at)
            assert match, plain[at : at + 30]
            self.tokens.append((match.lastgroup, match[match.lastgroup]))
            at = match.end()
        self.at, self.kinds, self.start = 0, {}, {}
        self._need("FUNCTION")
        self.name = self._take()
        self._need(":")
        self.kinds[self.name] = self._take()
        while self._peek() in ("VAR_INPUT", "VAR_OUTPUT", "VAR"):
            self._section()
        self.body = self._statements("END_FUNCTION")

    def run(self, count):
        """The result and the fault flag for a count."""
        self.values = {name: list(row) if isinstance(row, list) else row for name, row in self.start.items()}
        self._assign("count", count)
        self._execute(self.body)
        return self.values[self.name], self.values["fault"]

    # -- reading ----------------------------------------------------------------------------------------------------

    def _peek(self):
        return self.tokens[self.at][1] if self.at < len(self.tokens) else None

    def _take(self):
        self.at += 1
        return self.tokens[self.at - 1][1]

    def _need(self, word):
        found = self._take()
        assert found == word, (found, word, self.tokens[self.at - 5 : self.at + 5])

    def _section(self):
        self._take()
        if self._peek() == "CONSTANT":
            self._take()
        while self._peek() != "END_VAR":
            name = self._take()
            self._need(":")
            kind = self._take()
            if kind == "ARRAY":
                self._need("[")
                first, _, last = self._take(), self._need(".."), self._take()
                self._need("]")
                self._need("OF")
                kind = self._take()
                self._need(":=")
                self._need("[")
                row = [self._literal(kind)]
                while self._peek() == ",":
                    self._take()
                    row.append(self._literal(kind))
                self._need("]")
                assert len(row) == int(last) - int(first) + 1
                self.start[name] = row
            self.kinds[name] = kind
            self._need(";")
        self._take()

    def _literal(self, kind):
        sign = -1 if self._peek() == "-" else 1
        if sign < 0:
            self._take()
        return self._typed(kind, sign * float(self._take()))

    @staticmethod
    def _typed(kind, value):
        if kind == "REAL":
            return np.float32(value)
        if kind == "BOOL":
            return bool(value)
        low, high = _WIDTHS[kind]
        assert low <= int(value) <= high, f"{value} leaves {kind}"
        return int(value)

    def _statements(self, *ends):
        found = []
        while self._peek() not in ends:
            found.append(self._statement())
        return found

    def _statement(self):
        word = self._take()
        if word == "IF":
            branches = [(self._condition("THEN"), self._statements("ELSIF", "ELSE", "END_IF"))]
            while self._peek() == "ELSIF":
                self._take()
                branches.append((self._condition("THEN"), self._statements("ELSIF", "ELSE", "END_IF")))
            if self._peek() == "ELSE":
                self._take()
                branches.append((("real", True), self._statements("END_IF")))
            self._need("END_IF")
            self._need(";")
            return ("if", branches)
        if word == "WHILE":
            condition = self._condition("DO")
            body = self._statements("END_WHILE")
            self._need("END_WHILE")
            self._need(";")
            return ("while", condition, body)
        self._need(":=")
        value = self._or()
        self._need(";")
        return ("set", word, value)

    def _condition(self, end):
        found = self._or()
        self._need(end)
        return found

    def _row(self, inner, signs):
        found = inner()
        while self._peek() in signs:
            found = (self._take(), found, inner())
        return found

    def _or(self):
        return self._row(lambda: self._row(self._comparison, ("AND",)), ("OR",))

    def _comparison(self):
        return self._row(self._sum, ("<", ">", "<=", ">=", "=", "<>"))

    def _sum(self):
        return self._row(lambda: self._row(self._factor, ("*", "/")), ("+", "-"))

    def _factor(self):
        kind, word = self.tokens[self.at]
        self.at += 1
        if word == "(":
            found = self._or()
            self._need(")")
            return found
        if word == "-":
            return ("minus", self._factor())
        if kind == "real":
            return ("real", np.float32(word))
        if kind == "whole":
            return ("real", int(word))
        if self._peek() == "(":
            self._take()
            given = [self._or()]
            while self._peek() == ",":
                self._take()
                given.append(self._or())
            self._need(")")
            return ("call", word, *given)
        if self._peek() == "[":
            self._take()
            inner = self._or()
            self._need("]")
            return ("item", word, inner)
        return ("name", word)

    # -- running ----------------------------------------------------------------------------------------------------

    def _assign(self, name, value):
        kind = self.kinds[name]
        assert kind == "BOOL" or (kind == "REAL") == isinstance(value, np.float32), (name, kind, type(value))
        self.values[name] = self._typed(kind, value)

    def _execute(self, statements):
        for statement in statements:
            if statement[0] == "set":
                self._assign(statement[1], self._value(statement[2]))
            elif statement[0] == "while":
                while self._value(statement[1]):
                    self._execute(statement[2])
            else:
                for condition, body in statement[1]:
                    if self._value(condition):
                        self._execute(body)
                        break

    def _value(self, tree):
        kind = tree[0]
        if kind == "real":
            return tree[1]
        if kind == "name":
            return tree[1] == "TRUE" if tree[1] in ("TRUE", "FALSE") else self.values[tree[1]]
        if kind == "item":
            return self.values[tree[1]][self._value(tree[2])]
        if kind == "minus":
            return -self._value(tree[1])
        if kind == "call":
            inner, *others = (self._value(one) for one in tree[2:])
            if tree[1] == "MIN":
                return min(inner, *others)
            target = tree[1].split("_TO_")[1]
            return np.float32(inner) if target == "REAL" else self._typed(target, inner)
        return self._operated(kind, self._value(tree[1]), self._value(tree[2]))

    @staticmethod
    def _operated(sign, left, right):
        if sign in ("AND", "OR"):
            return (left and right) if sign == "AND" else (left or right)
        if sign in ("<", ">", "<=", ">=", "=", "<>"):
            return {"<": left < right, ">": left > right, "<=": left <= right, ">=": left >= right, "=": left == right,
                    "<>": left != right}[sign]  # fmt: skip
        assert isinstance(left, np.float32) == isinstance(right, np.float32), "REAL and integer do not mix"
        if sign == "/" and not isinstance(left, np.float32):
            size = abs(left) // abs(right)
            return size if (left < 0) == (right < 0) else -size
        return {"+": lambda: left + right, "-": lambda: left - right, "*": lambda: left * right,
                "/": lambda: left / right}[sign]()  # fmt: skip
