"""Checks of one stop, wherever they are told together: on paper, and as one error of a visit."""

from collections.abc import Mapping, Sequence
from typing import Any

_NEAR = 0.02  # of the range


def by_stop(checks: Sequence[Mapping[str, Any]], ends: tuple[float, float]) -> list[list[Mapping[str, Any]]]:
    """Checks of a record by their stops, the lowest first; `ends` are those of the range, in the channel's unit."""
    near = _NEAR * abs(ends[1] - ends[0])
    stops: list[list[Mapping[str, Any]]] = []
    for check in sorted(checks, key=lambda check: float(check["reference"])):
        if stops and check["reference"] - stops[-1][0]["reference"] <= near:
            stops[-1].append(check)
        else:
            stops.append([check])
    return stops


def mean_of(stop: Sequence[Mapping[str, Any]], name: str) -> float:
    """The mean of a figure over the checks of a stop."""
    return sum(float(check[name]) for check in stop) / len(stop)
