"""Descriptions of controllers: those that ship, and those a person wrote, as JSON."""

import json
import os
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..core.document.controller import Controller
from ..core.words.errors import BadTable
from ..core.words.record import first_complaint
from .output import file_name, put_text

FORMAT = "able-yardstick-controller"


@cache
def shipped() -> tuple[Controller, ...]:
    """The made-up controllers that ship, by name."""
    folder = resources.files("able_yardstick.library").joinpath("controllers")
    found = [
        controller_from(json.loads(file.read_text("utf-8")), file.name)
        for file in folder.iterdir()
        if file.name.endswith(".json")
    ]
    return tuple(sorted(found, key=lambda controller: controller.name))


def read_controller(path: Path) -> Controller:
    """The controller described in a file. Raises: BadTable that says what is wrong and where."""
    try:
        tree = json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    except (ValueError, RecursionError) as error:
        where = f", line {error.lineno}, column {error.colno}" if isinstance(error, json.JSONDecodeError) else ""
        raise BadTable(f"{path}{where}: this is no whole JSON text.") from error
    return controller_from(tree, str(path))


def own_folder() -> Path:
    """Where a person's own descriptions are kept for other jobs (XDG Base Directory Specification 0.8)."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "able-yardstick" / "controllers"


def own() -> tuple[Controller, ...]:
    """A person's own controllers, by name; a file that is none is left out."""
    found = []
    for path in sorted(own_folder().glob("*.json")):
        try:
            found.append(read_controller(path))
        except BadTable:
            continue
    return tuple(sorted(found, key=lambda controller: controller.name))


def save_controller(path: Path, controller: Controller) -> None:
    """Write a description that people can read too. Raises: BadTable if it cannot be written."""
    tree = {"format": FORMAT, "version": 1, **controller.model_dump(mode="json", exclude_defaults=True)}
    put_text(path, json.dumps(tree, indent=1, ensure_ascii=False) + "\n")


def keep_controller(controller: Controller) -> Path:
    """Keep a description for other jobs; gives where it is. Raises: BadTable."""
    path = own_folder() / file_name(controller.id, ".json")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise BadTable(f"{path.parent} cannot be made: {error.strerror or error}.") from error
    save_controller(path, controller)
    return path


def controller_from(tree: Any, where: str) -> Controller:
    """The controller in plain data. Raises: BadTable."""
    if not isinstance(tree, dict) or tree.get("format") != FORMAT:
        raise BadTable(f"{where}: expected a controller's description (format “{FORMAT}”), found something else.")
    fields = {key: value for key, value in tree.items() if key not in ("format", "version")}
    try:
        controller = Controller.model_validate(fields)
    except ValidationError as error:
        raise BadTable(f"{where}: {first_complaint(error)}. See docs/controller-schema.json.") from error
    ids = [terminal.id for terminal in controller.terminals]
    again = next((one for one in ids if ids.count(one) > 1), None)
    if again is not None:
        raise BadTable(f"{where}: two terminals have the id {again}: each must be distinct.")
    return controller


def schema() -> dict[str, Any]:
    """The JSON schema of a controller's description."""
    tree = Controller.model_json_schema()
    tree["properties"] = {"format": {"const": FORMAT}, "version": {"const": 1}, **tree["properties"]}
    tree["required"] = ["format", *tree.get("required", [])]
    return tree
