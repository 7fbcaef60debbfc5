"""A fingerprint for every figure of a record, so that what was changed can be named; and what differs between two."""

import hashlib
from collections.abc import Callable, Iterator
from typing import Any

_SHORT = 16  # hexadecimal digits: one chance in 10^19 that a change is not seen here; the whole's hash sees it anyway
Canonical = Callable[[Any], bytes]


def leaves(data: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Every figure of plain JSON data with its path: readings[3].reference; an empty list or object is one too."""
    if isinstance(data, dict) and data:
        for key, part in data.items():
            yield from leaves(part, f"{path}.{key}" if path else str(key))
    elif isinstance(data, list) and data:
        for n, part in enumerate(data):
            yield from leaves(part, f"{path}[{n}]")
    else:
        yield path, data


def fingerprints(data: Any, canonical: Canonical) -> dict[str, str]:
    """The fingerprint of every figure by its path; its path is part of what is hashed."""
    return {
        path: hashlib.sha256(path.encode() + b"\0" + canonical(leaf)).hexdigest()[:_SHORT]
        for path, leaf in leaves(data)
    }


def changed_paths(data: Any, stated: dict[str, str], canonical: Canonical) -> list[str]:
    """What of data does not have the fingerprint that was stated: changed, added, or gone; in words, by its path."""
    now = fingerprints(data, canonical)
    changed = [f"{path} was changed" for path in now if path in stated and now[path] != stated[path]]
    added = [f"{path} was added" for path in now if path not in stated]
    gone = [f"{path} is gone" for path in stated if path not in now]
    return [*changed, *added, *gone]
