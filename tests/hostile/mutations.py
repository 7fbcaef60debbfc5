"""Jobs, descriptions and texts with one to three things wrong in them, as a file, a wire or a hand could have it."""

import copy
import json
import random
from typing import Any

NUMBERS = (
    0, -1, 1, 0.5, -0.0, 1e308, -1e308, 1e-308, 5e-324, 1e300, 2**31, 2**53, 2**63, 4095, 65536, 1e16, -273.15, 1e-12,
    1e30, -1e29, 1e-30,
)  # fmt: skip
TEXTS = (
    "", " ", "\0", "<b>x</b>", "<img src='/x.png'>", "../../etc/passwd", "=1+1", "kPa", "% O2", "m**9**9**9", "V",
    "counts", "a" * 5000, "ü\u202e\u0301", "{value}", "%s", "\n\n", "nan", "1e999", "pin", "poly3", "table",
    "kiln-controller",
)  # fmt: skip
OTHERS = (None, True, False, [], {}, "x", 7, -7.5, [1, 2, 3], {"kind": "table"})


def places(tree: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The way to everything in a tree."""
    found = [path] if path else []
    if isinstance(tree, dict):
        for key, part in tree.items():
            found += places(part, (*path, key))
    elif isinstance(tree, list):
        for n, part in enumerate(tree):
            found += places(part, (*path, n))
    return found


def at(tree: Any, path: tuple[Any, ...]) -> Any:
    """What stands at the end of a way."""
    for key in path:
        tree = tree[key]
    return tree


def mutated(tree: Any, chance: random.Random) -> tuple[Any, str]:
    """A copy with one to three changes, and what they were."""
    made, told = copy.deepcopy(tree), []
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        every = places(made)
        if not every:
            break
        path = chance.choice(every)
        told.append(_changed(made, path, every, chance))
    return made, "; ".join(told)


def _changed(tree: Any, path: tuple[Any, ...], every: list[tuple[Any, ...]], chance: random.Random) -> str:
    holder, key = at(tree, path[:-1]), path[-1]
    before = holder[key]
    way = chance.random()
    if way < 0.08:
        del holder[key]
        return f"{path} deleted"
    if way < 0.14 and isinstance(holder, list):
        holder.append(copy.deepcopy(before))
        return f"{path} doubled"
    if way < 0.24:
        holder[key] = copy.deepcopy(chance.choice(OTHERS))
    elif way < 0.4:
        holder[key] = copy.deepcopy(at(tree, chance.choice(every)))
    elif isinstance(before, bool):
        holder[key] = not before
    elif isinstance(before, int | float):
        holder[key] = _number(before, chance)
    elif isinstance(before, str):
        holder[key] = chance.choice(TEXTS)
    elif isinstance(before, list) and before:
        chance.shuffle(before)
    else:
        holder[key] = copy.deepcopy(chance.choice(OTHERS))
    return f"{path}: {str(before)[:40]} to {str(holder[key])[:40]}"


def _number(before: float, chance: random.Random) -> float:
    factors = (before * 1000, before / 1000, -before, before + 1, before * (1 + 1e-12), int(before))
    return chance.choice((*factors, *NUMBERS, *NUMBERS))


def mutated_bytes(data: bytes, chance: random.Random) -> bytes:
    """A text as a bad wire or a killed program leaves it."""
    made = bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 5, 20))):
        place = chance.randrange(len(made) + 1)
        way = chance.random()
        if way < 0.3 and made:
            made[min(place, len(made) - 1)] = chance.randrange(256)
        elif way < 0.5:
            made[place:place] = bytes(chance.randrange(256) for _ in range(chance.choice((1, 3, 50))))
        elif way < 0.7:
            del made[place : place + chance.choice((1, 10, 1000))]
        elif way < 0.85:
            made[place:place] = made[max(place - 200, 0) : place] * chance.choice((1, 3, 30))
        else:
            made[place:place] = json.dumps(chance.choice(TEXTS)).encode()
    return bytes(made)
