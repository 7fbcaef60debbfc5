"""The curves on offer for a channel, what each is worth, and the one recommended."""

from functools import partial

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve
from ..document.channel import ContinuousChannel
from ..document.once import once_per_inputs, once_per_slice
from ..job.job import Job
from ..regression.choice import Candidate, Choice, candidate, simplest
from ..regression.fitted import FitSpec, Fitted
from ..regression.kinds import ModelName
from ..regression.models import described
from ..regression.worth import Worth, worth_of
from .element_fit import element_candidate, fit_through_path
from .inputs import FitInputs, fit_inputs

Array = NDArray[np.float64]


@once_per_inputs
def made(inputs: FitInputs) -> list[Candidate]:
    """Every curve on offer; without readings only the described one, if there is one."""
    found = [] if inputs.nominal is None else [_as_described(inputs.nominal, inputs)]
    found += [_tried(inputs, spec) for spec in (inputs.specs if inputs.signal else ())]
    return found


def _as_described(nominal: AnyCurve, inputs: FitInputs) -> Candidate:
    return Candidate("nominal", described(nominal, *inputs.points))


def _tried(inputs: FitInputs, spec: FitSpec) -> Candidate:
    """One model with its settings."""
    signal, reference = inputs.points
    element = inputs.element
    if element is not None and spec.model in element.models:
        return element_candidate(element, signal, reference, spec, inputs.doubts, inputs.repeats)
    return candidate(signal, reference, spec, inputs.doubts, inputs.repeats)


@once_per_slice
def candidates_of(job: Job, channel: ContinuousChannel) -> list[Candidate]:
    """Every curve on offer for a channel."""
    return made(fit_inputs(job, channel))


@once_per_inputs
def candidate_of(inputs: FitInputs, model: ModelName) -> Candidate | None:
    """One of the curves on offer, made alone; None if it is not."""
    if model == "nominal":
        return None if inputs.nominal is None else _as_described(inputs.nominal, inputs)
    only = inputs.of_model(model)
    spec = next((spec for spec in only.specs if spec.model == model), None) if only.signal else None
    return None if spec is None else _tried(only, spec)


@once_per_inputs
def worth_in(inputs: FitInputs, fitted: Fitted) -> Worth:
    """What a candidate is worth."""
    signal, reference = inputs.points
    element = inputs.element
    if element is not None and fitted.spec.model in element.models:
        refit = partial(fit_through_path, element)
        return worth_of(signal, reference, fitted, inputs.doubts, refit, inputs.repeats)
    return worth_of(signal, reference, fitted, inputs.doubts, repeats=inputs.repeats)


@once_per_slice
def recommended(job: Job, channel: ContinuousChannel) -> Choice | None:
    """The simplest adequate candidate with its reason; None while there is nothing fitted."""
    inputs = fit_inputs(job, channel)
    signal, reference = inputs.points
    if not len(signal):
        return None
    allowed = channel.tolerance.at(reference, channel.span) if channel.tolerance.is_stated else None
    return simplest(candidates_of(job, channel), signal, reference, allowed, inputs.repeats)
