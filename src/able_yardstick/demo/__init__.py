"""The demo: Quillstone Tileworks, Kiln 2. A made-up plant; `kiln` is the seeded script its readings come from."""

from importlib import resources
from pathlib import Path


def demo_text() -> str:
    """The demo job as it ships."""
    return resources.files(__package__).joinpath("kiln-2.yardstick.json").read_text("utf-8")


def fresh_copy(folder: Path) -> Path:
    """A new copy of the demo job in a folder, beside the earlier ones; gives its path."""
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "Kiln 2.yardstick.json"
    number = 1
    while path.exists():
        number += 1
        path = folder / f"Kiln 2, copy {number}.yardstick.json"
    path.write_text(demo_text(), encoding="utf-8")
    _earlier_records(folder / "Kiln 2, earlier records")
    return path


def _earlier_records(folder: Path) -> None:
    """The signed records of the visits before, where the register finds them."""
    folder.mkdir(exist_ok=True)
    for one in resources.files(__package__).joinpath("records").iterdir():
        if one.name.endswith(".json"):
            folder.joinpath(one.name).write_text(one.read_text("utf-8"), encoding="utf-8")
