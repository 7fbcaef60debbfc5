"""Able Yardstick: turns what a sensor puts out into numbers a controller can be trusted with."""

import os

__version__ = "0.1.0"
# pydantic otherwise looks through all installed packages for some that would change what a record is
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
