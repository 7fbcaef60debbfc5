"""What can go wrong between here and an instrument."""

from ..core.words.errors import YardstickError


class NoLink(YardstickError, ConnectionError):
    """A source cannot be reached, or stopped answering."""


class BadAnswer(YardstickError, ValueError):
    """A source answered something that is not what was asked for."""
