"""One name means one thing: no two public classes or types of the whole tree are called the same."""

import ast
from collections import Counter, defaultdict
from pathlib import Path

import able_yardstick

ROOT = Path(able_yardstick.__file__).parent
# words of the arithmetic that each room uses in its own sense, or an enumeration of the command line beside its type
SHARED = {
    "Array", "ClassLimits", "CodeOf", "Command", "Counts", "Element", "IntBits", "NumberType", "Room", "Rounding",
    "Rows", "Spacing", "ToleranceClass", "WordOrder", "Words",
}  # fmt: skip


def names_of(path):
    for node in ast.parse(path.read_text("utf-8")).body:
        if isinstance(node, ast.ClassDef):
            yield node.name
        elif isinstance(node, ast.Assign) and len(node.targets) == 1 and isinstance(node.targets[0], ast.Name):
            name = node.targets[0].id
            if name[:1].isupper() and not name.isupper():
                yield name


def test_no_public_name_means_two_things():
    where = defaultdict(list)
    for path in sorted(ROOT.rglob("*.py")):
        for name in names_of(path):
            if not name.startswith("_"):
                where[name].append(str(path.relative_to(ROOT)))
    assert {name: places for name, places in where.items() if len(places) > 1 and name not in SHARED} == {}


def test_no_two_test_files_have_one_name():
    """They are imported by their bare names: the second is an error wherever one worker gets both."""
    names = Counter(path.name for path in Path(__file__).parents[1].rglob("*.py") if path.name != "conftest.py")
    assert [name for name, count in names.items() if count > 1] == []
