"""The settings that another form begins with."""

from ..document.channel import ContinuousChannel
from ..forms.spec import FormName, PackSpec
from .spared import step_for

_IN_STEPS: tuple[FormName, ...] = ("ratio",)  # forms that show whole steps


def begun_in(channel: ContinuousChannel, form: FormName) -> PackSpec:
    """A channel's settings in another form; whole steps begin as fine as the error allowed needs them."""
    spec = channel.pack_spec.in_form(form)
    if form not in _IN_STEPS or spec.value_step is not None or not channel.tolerance.is_stated:
        return spec
    allowed = min(channel.allowed_error(value) for value in channel.range)
    return spec.with_(value_step=step_for(allowed))
