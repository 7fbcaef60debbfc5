"""Every public function of arrays says their shape, and what unit or kind of number is in them."""

import ast
import re
from pathlib import Path

import able_yardstick.core

CORE = Path(able_yardstick.core.__file__).parent
ARRAYS = re.compile(r"\bArray\b|NDArray|\bCounts\b|\bStops\b|\bRows\b")
SHAPE = re.compile(r"\([a-z0-9+ ]{1,6},( ?[a-z0-9+ ]{0,6})?\)|\bshapes?\b|\b(each|every) count", re.I)
UNIT = re.compile(
    r"\bunits?\b|\bin (V|Ω|°C|K|Hz|s|mA|mV|kPa|counts|steps|pixels|%)|"
    r"\b(signals?|values?|counts?|pixels|readings?|references?|errors?|points|weights|stops?|samples)\b|`(gives|takes)`",
    re.I,
)
FORBIDDEN = re.compile(r"(^|[.:] )(MV|MA)\b")  # a millivolt is no megavolt, whatever begins a sentence


def public(tree):
    """Functions and methods that are no one's inner ones, without those whose names begin with _."""
    for node in ast.iter_child_nodes(tree):
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from public(node)
        elif isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield node


def of_arrays(function):
    arguments = [*function.args.args, *function.args.kwonlyargs]
    annotations = [one.annotation for one in arguments] + [function.returns]
    return any(ARRAYS.search(ast.unparse(one)) for one in annotations if one is not None)


def test_public_functions_of_arrays_name_shape_and_unit():
    wanting, seen = [], 0
    for path in sorted(CORE.rglob("*.py")):
        for function in public(ast.parse(path.read_text("utf-8"))):
            if not of_arrays(function):
                continue
            said, seen = ast.get_docstring(function) or "", seen + 1
            if not (SHAPE.search(said) and UNIT.search(said)):
                wanting.append(f"{path.relative_to(CORE)}:{function.lineno} {function.name}: {said[:60]}")
    assert seen > 150
    assert wanting == []


def test_no_capital_turns_a_milli_into_a_mega():
    found = [
        f"{path.relative_to(CORE)}: {said[:60]}"
        for path in sorted(CORE.rglob("*.py"))
        for node in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(node, ast.FunctionDef | ast.ClassDef | ast.Module)
        and FORBIDDEN.search(said := ast.get_docstring(node) or "")
    ]
    assert found == []
