"""Formulas over channels: typed with their tags, kept with their ids, so that a channel may be renamed."""

import re
from collections.abc import Mapping
from functools import lru_cache

from ..formula import Expression, names_in, parse
from ..formula.tree import FormulaError
from ..words.errors import NoSuchThing

_BRACED = re.compile(r"\{([^{}]*)\}")
_NOT_WORD = re.compile(r"\W")


def name_of_tag(tag: str) -> str:
    """A tag as a name in a formula: of the same length, AT-208 as AT_208, unless it begins with a digit."""
    name = _NOT_WORD.sub("_", tag)
    return name if not name[:1].isdigit() else f"_{name}"


def kept_formula(typed: str, ids_by_tag: Mapping[str, str]) -> str:
    """A typed formula as it is kept, ids in braces. Raises: FormulaError, which points at what was typed."""
    if "{" in typed or "}" in typed:
        raise FormulaError("Braces have no place in a formula. Remove them.", text=typed, at=typed.find("{"))
    known = {name_of_tag(tag): channel for tag, channel in ids_by_tag.items()}
    plain = _tags_as_names(typed, tuple(ids_by_tag))
    tree = parse(plain)
    for name in names_in(tree):
        if name not in known:
            tags = ", ".join(ids_by_tag) or "none"
            raise FormulaError(f"There is no channel “{name}” here. Known: {tags}.", text=typed, at=plain.find(name))
    if not any(True for _ in names_in(tree)):
        raise FormulaError("The formula has no channel in it: write a tag, such as PT-201.", text=typed)
    words = sorted(known, key=len, reverse=True)
    pattern = re.compile(rf"(?<!\w)({'|'.join(map(re.escape, words))})(?!\w)")
    return pattern.sub(lambda found: "{" + known[found[1]] + "}", plain)


def _tags_as_names(text: str, tags: tuple[str, ...]) -> str:
    """Tags in a text as names, the longest first."""
    if not tags:
        return text
    words = "|".join(re.escape(tag) for tag in sorted(tags, key=len, reverse=True))
    return re.sub(rf"(?<![\w.])({words})(?![\w])", lambda found: name_of_tag(found[1]), text)


def shown_formula(kept: str, tags_by_id: Mapping[str, str]) -> str:
    """A kept formula as a person reads it; a channel that is gone as a question mark."""
    return _BRACED.sub(lambda found: tags_by_id.get(found[1], "?"), kept)


def ids_in(kept: str) -> tuple[str, ...]:
    """The ids of the channels in a formula, each once."""
    return tuple(dict.fromkeys(_BRACED.findall(kept)))


@lru_cache(maxsize=256)
def tree_of(kept: str) -> tuple[Expression, tuple[str, ...]]:
    """A kept formula as a tree whose names are c0, c1 … for the ids that are given with it. Raises: FormulaError."""
    ids = ids_in(kept)
    if not ids:
        raise NoSuchThing("The formula has no channel in it.")
    return parse(_BRACED.sub(lambda found: f"c{ids.index(found[1])}", kept)), ids
