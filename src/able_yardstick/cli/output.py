"""What all commands share: the option for JSON, and how it is printed."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON instead of text.")]


def put_page(text: str, into: Path | None) -> None:
    """Print a page, or write it to a file. Raises: what the file refuses."""
    if into is None:
        print(text)
        return
    from ..files.output import put_text

    put_text(into, text + "\n")


def print_json(data: Any) -> None:
    """Print plain data; refuses a number that JSON does not have."""
    print(json.dumps(data, indent=1, ensure_ascii=False, allow_nan=False))
