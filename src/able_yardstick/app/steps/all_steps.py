"""The steps, in the order a technician takes them."""

from ...core.state.progress import StepName
from .describe.step import DESCRIBE
from .fit.step import FIT
from .gather.step import GATHER
from .pack.step import PACK
from .prove.step import PROVE
from .sign.step import SIGN
from .step import Step
from .wake.step import WAKE
from .wire.step import WIRE

STEPS: dict[StepName, Step] = {step.name: step for step in (DESCRIBE, WIRE, WAKE, GATHER, FIT, PACK, PROVE, SIGN)}
