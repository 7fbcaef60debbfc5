"""The curves on offer for a channel, what each is worth, and the one recommended."""

from functools import partial

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_inputs, once_per_slice
from ..job.job import Job
from ..regression.choice import Candidate, Choice, candidate, simplest
from ..regression.fitted import Fitted
from ..regression.kinds import ModelName
from ..regression.models import described
from ..regression.worth import Worth, worth_of
from .element_fit import element_candidate, fit_through_path
from .inputs import FitInputs, fit_inputs

Array = NDArray[np.float64]


@once_per_inputs
def made(inputs: FitInputs) -> list[Candidate]:
    """Every curve on offer; without readings only the described one, if there is one."""
    signal, reference = inputs.points
    found = []
    if inputs.nominal is not None:
        found.append(Candidate("nominal", described(inputs.nominal, signal, reference)))
    for spec in inputs.specs if len(signal) else ():
        if inputs.element is not None and spec.model in inputs.element.models:
            found.append(element_candidate(inputs.element, signal, reference, spec, inputs.doubts, inputs.repeats))
        else:
            found.append(candidate(signal, reference, spec, inputs.doubts, inputs.repeats))
    return found


@once_per_slice
def candidates_of(job: Job, channel: ContinuousChannel) -> list[Candidate]:
    """Every curve on offer for a channel."""
    return made(fit_inputs(job, channel))


def candidate_of(inputs: FitInputs, model: ModelName) -> Candidate | None:
    """One of the curves on offer; None if it is not."""
    return next((row for row in made(inputs.of_model(model)) if row.model == model), None)


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
