"""What can go wrong, each with what was expected, what was found, and what to do.

Every error is also the fitting builtin, and keeps its operands as attributes.
"""


class YardstickError(Exception):
    """Base of all refusals that are meant for a person to read."""


class UnitMismatch(YardstickError, ValueError):
    """A unit is unknown, or cannot be turned into the one needed."""

    def __init__(self, message: str, *, found: str = "", expected: str = "") -> None:
        super().__init__(message)
        self.found = found
        self.expected = expected


class OutOfRange(YardstickError, ValueError):
    """A value lies where nothing is defined for it."""

    def __init__(self, message: str, *, found: float = float("nan")) -> None:
        super().__init__(message)
        self.found = found


class NotMonotonic(YardstickError, ValueError):
    """A curve turns, so that one value belongs to several signals.

    `at` is the signal at which it turns.
    """

    def __init__(self, message: str, *, at: float = float("nan")) -> None:
        super().__init__(message)
        self.at = at


class TooFewReadings(YardstickError, ValueError):
    """A fit needs more different points than it was given."""

    def __init__(self, message: str, *, needed: int, found: int) -> None:
        super().__init__(message)
        self.needed = needed
        self.found = found


class ConflictingReadings(YardstickError, ValueError):
    """Points contradict one another; `rows` are their positions, counted from 0."""

    def __init__(self, message: str, *, rows: tuple[int, ...] = ()) -> None:
        super().__init__(message)
        self.rows = rows


class NotConverged(YardstickError, ArithmeticError):
    """A search for a curve did not come to its end."""


class DegenerateReadings(YardstickError, ValueError):
    """The points do not determine the curve that was asked for."""


class BadTable(YardstickError, ValueError):
    """A table or a row of one cannot be read; the message says where."""


class BadJob(YardstickError, ValueError):
    """A job file cannot be used, and was left as it is."""


class NoSuchThing(YardstickError, KeyError):
    """A channel, reading or step is asked for that the job does not have."""

    def __str__(self) -> str:  # KeyError would print the message in quotes
        return str(self.args[0]) if self.args else ""


class NotApplicable(YardstickError, ValueError):
    """The channel has no such thing: a constant has no pin, say."""
