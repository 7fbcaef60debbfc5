"""What all commands share: the option for JSON, and how it is printed."""

import json
from typing import Annotated, Any

import typer

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON instead of text.")]


def print_json(data: Any) -> None:
    """Print plain data; refuses a number that JSON does not have."""
    print(json.dumps(data, indent=1, ensure_ascii=False, allow_nan=False))
