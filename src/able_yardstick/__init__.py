"""Able Yardstick: turns what a sensor puts out into numbers a controller can be trusted with."""

__version__ = "0.1.0"
