"""Files that are written for others: never over what they are made from, and harmless in a spreadsheet."""

import re
from pathlib import Path

from ..core.words.errors import BadTable
from .jobfile import ENDING
from .whole import put_whole

_STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r", "−")


def refuse_over(path: Path, *made_from: Path) -> None:
    """Refuse to write over a job, or over a file that the output is made from. Raises: BadTable."""
    over = next((one for one in made_from if path.exists() and one.exists() and path.samefile(one)), None)
    if over is not None:
        raise BadTable(f"{path} is the file that the output is made from: it was left as it is. Choose another name.")
    if path.name.endswith(ENDING):
        raise BadTable(f"{path} has the name of a job, which this is none of. Choose another ending.")


def put_text(path: Path, text: str, *made_from: Path) -> None:
    """Write a text file, UTF-8. Raises: BadTable if it cannot be, or would be written over what it is made from."""
    try:
        put_bytes(path, text.encode(), *made_from)
    except UnicodeEncodeError as error:
        raise BadTable(f"{path} was not written: a text in it holds half a character. Type it anew.") from error


def put_bytes(path: Path, data: bytes, *made_from: Path) -> None:
    """Write a file, whole or not at all.

    Raises: BadTable if it cannot be, or would be written over what it is made from.
    """
    refuse_over(path, *made_from)
    try:
        real = path.resolve()
        if real.exists() and not real.is_file():
            real.write_bytes(data)  # a device takes no other's place
        else:
            put_whole(real, [data])
    except (OSError, RuntimeError) as error:
        why = getattr(error, "strerror", None) or error
        raise BadTable(f"{path} cannot be written: {why}. Choose another place.") from error


def file_name(words: str, ending: str) -> str:
    """A file's name from a tag: never a path, never hidden."""
    return (re.sub(r"[^\w .()+-]", "_", words).strip(" .") or "channel") + ending


def harmless(cell: str) -> str:
    """A cell of words that no spreadsheet takes for a formula: an apostrophe keeps it text."""
    return f"'{cell}" if cell.startswith(_STARTS_A_FORMULA) else cell
