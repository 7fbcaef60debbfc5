"""Writes an output's count into its controller."""

from ..core.outputs.target import OutputTarget
from .modbus import Modbus


def send_count(target: OutputTarget, written: int) -> None:
    """Write a count over a link of its own. Raises: NoLink, BadAnswer."""
    link = Modbus(target.source.with_(feeds=(), history=None, history_feeds=()))
    link.open()
    try:
        link.write(target.address, [target.word(written)])
    finally:
        link.close()
