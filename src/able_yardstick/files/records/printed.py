"""A record inside a PDF, and whether its pages say what it says."""

import json
import logging
import unicodedata
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

from ...core.sign.sheet import SHEET_VERSION, sheet_of
from ...core.words.errors import BadTable
from ...core.words.numerals import shortened
from .signed import checked_record, read_record

_MOST_TOLD = 12


class Held(NamedTuple):
    """A sealed record, and what the pages around it say otherwise, in words; none where it came without pages.

    Pages that another version of the program drew are not compared.
    """

    record: dict[str, Any]
    page_changes: tuple[str, ...] = ()
    has_pages: bool = False
    is_compared: bool = False


def read_held(path: Path) -> Held:
    """The record of a JSON file, or of a PDF with one inside. Raises: BadTable where there is none."""
    try:
        with path.open("rb") as file:
            is_pdf = file.read(5) == b"%PDF-"
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    if not is_pdf:
        return Held(read_record(path))
    from pypdf import PdfReader

    with _undamaged(path):
        reader = PdfReader(path)
        attached = [data for rows in reader.attachments.values() for data in rows]
    record = checked_record(_as_json(attached, path), str(path))
    if record["record"].get("sheet") != SHEET_VERSION:
        return Held(record, has_pages=True)
    with _undamaged(path):
        words = "".join(page.extract_text() for page in reader.pages)
    return Held(record, _told_otherwise(record, words), has_pages=True, is_compared=True)


@contextmanager
def _undamaged(path: Path) -> Iterator[None]:
    """Whatever goes wrong as a PDF is read is told of its file. Raises: BadTable."""
    from pypdf.errors import PyPdfError

    logging.getLogger("pypdf").setLevel(logging.CRITICAL)  # what it finds odd is told by what is not found
    try:
        yield
    except (PyPdfError, ValueError, KeyError, TypeError, AttributeError, IndexError, OSError, RecursionError) as error:
        raise BadTable(f"{path} is damaged: {error or type(error).__name__}.") from error


def _as_json(attached: list[bytes], path: Path) -> Any:
    """The one file that is attached, as JSON. Raises: BadTable."""
    if len(attached) != 1:
        raise BadTable(f"{path} holds {len(attached)} files: expected one record of this program inside it.")
    try:
        return json.loads(attached[0].decode())
    except (ValueError, RecursionError) as error:
        raise BadTable(f"What is inside {path} was changed: it is no JSON that can be read ({error}).") from error


def _told_otherwise(record: dict[str, Any], words: str) -> tuple[str, ...]:
    """What the pages should say, in their order, and do not."""
    try:
        texts = sheet_of(record["record"], record["sha256"], record["signatures"]).texts
    except (KeyError, TypeError, ValueError, AttributeError, IndexError) as error:
        return (f"the record cannot be printed: {type(error).__name__} at {error}",)
    said, at, found = _plain(words), 0, []
    for text in texts:
        plain = _plain(text)
        place = said.find(plain, at)
        if place < 0:
            found.append(f"“{shortened(text)}” of the record is not on the page, which goes on “{said[at : at + 30]}”")
        else:
            at = place + len(plain)
    more = len(found) - _MOST_TOLD
    return (*found[:_MOST_TOLD], f"{more} more") if more > 0 else tuple(found)


def _plain(text: str) -> str:
    """Letters without the spaces between them: a PDF keeps places, not words."""
    return "".join(unicodedata.normalize("NFKC", text).split())
