"""A polynomial as a text that the program's own parser reads."""


def formula_text(coefficients: tuple[float, ...], name: str) -> str:
    """A polynomial of a name by Horner's rule, every number with all its digits."""
    text = repr(float(coefficients[-1]))
    for place, coefficient in enumerate(reversed(coefficients[:-1])):
        inner = text if place == 0 else f"({text})"
        sign = "-" if coefficient < 0 else "+"
        text = f"{inner}*{name} {sign} {abs(float(coefficient))!r}"
    return text
