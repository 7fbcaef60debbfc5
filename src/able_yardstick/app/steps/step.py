"""A step as the window sees it: everything that tells it from the others, in one record."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any, Literal, NamedTuple, Protocol

from ...core.state.progress import StepName
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from ..panel.step_panel import StepPanel


class PanelParts(Protocol):
    """What every panel is made of."""

    bench: Workbench
    theme: Theme


Room = Literal["plots", "path", "live", "page"]


class Plots(NamedTuple):
    """What the two plots show at a step.

    `candidate`: the curve looked at of those on offer, else the one in use. `checks` stand in the readings' place;
    `knots` can be dragged; `uncertainty` and `expected` are bands of the error plot, whose `errors` are those of the
    curve, of the packing, or of what the controller shows.
    """

    candidate: bool = False
    whiskers: bool = False
    checks: bool = False
    knots: bool = False
    uncertainty: bool = False
    expected: bool = False
    errors: Literal["curve", "packing", "proof"] = "curve"


class Step(NamedTuple):
    """One step: its panel, made when it is first looked at, and what the centre shows beside it.

    `room` is what stands under the Rule, or in its place. `live_strip` adds the live signals over the plots, `jaws` the
    lane of errors closing on the tolerance, `advises` the ring where a reading would help most.
    """

    name: StepName
    legend: str
    make_panel: Callable[[Any], StepPanel]  # of the parts that it says it takes
    room: Room = "plots"
    plots: Plots = Plots()
    live_strip: bool = False
    jaws: bool = False
    advises: bool = False
    other_panels: Mapping[str, Callable[[Any], StepPanel]] = MappingProxyType({})  # by a kind of channel with its own
