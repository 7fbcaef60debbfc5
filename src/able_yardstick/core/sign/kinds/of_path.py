"""The signal path of a record, as it is printed."""

from ...words.numerals import significant
from ..blocks import Facts
from .signed_kind import RecordData


def path_facts(record: RecordData) -> Facts:
    """The stages from the source to the converter."""
    path = record["channel"]["path"]
    stages = [(f"stage {n}", str(one.get("kind", ""))) for n, one in enumerate(path["stages"], 1)]
    converter = path["converter"]
    ends = f"{significant(converter['low'], 6)} to {significant(converter['high'], 6)} {converter['unit']}"
    rows = [("source", str(path["source"])), *stages, ("converter", f"{converter['bits']} bit, {ends}")]
    return Facts("Signal path", tuple(rows))
