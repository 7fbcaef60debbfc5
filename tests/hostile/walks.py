"""What every view and command asks of a job, without a window: none of it may fail but in words."""

import json
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from able_yardstick.core.alarms.rehearsal import rehearsal_of
from able_yardstick.core.document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel
from able_yardstick.core.document.output import OutputChannel
from able_yardstick.core.document.register_constant import reckon
from able_yardstick.core.fit.on_offer import candidates_of, recommended
from able_yardstick.core.job.job import Job
from able_yardstick.core.lookout.standing import standing_of
from able_yardstick.core.outputs.dead_input import dead_rows
from able_yardstick.core.outputs.findings import output_findings
from able_yardstick.core.outputs.proving import output_proof, own_scaling
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.prove.checks import checks_of, proof_of
from able_yardstick.core.state.progress import progress_of, state_of
from able_yardstick.core.state.scales import contact_scales, output_scales, scales_of, signals_of
from able_yardstick.core.wire.checks import findings_of
from able_yardstick.core.words.errors import BadJob, YardstickError
from able_yardstick.files.exports import as_cells, as_plain, as_rows
from able_yardstick.files.jobfile import read_job, write_job
from able_yardstick.files.wiring import wiring_csv, wiring_text


def walk_job(path: Path) -> str:
    """Open a job, ask all of it, save it and open it again; "refused" if it was, else "walked"."""
    try:
        job = read_job(path)
    except BadJob:
        return "refused"
    for channel in job.channels:
        state_of(progress_of(job, channel))
        for ask in _QUESTIONS:
            _in_words(ask, job, channel)
    _in_words(lambda job, _: wiring_csv(job), job, None)
    _in_words(lambda job, _: wiring_text(job), job, None)
    write_job(path, job)
    assert read_job(path) == job
    return "walked"


def _in_words(ask: Callable[[Job, Any], object], job: Job, channel: Any) -> None:
    with suppress(YardstickError):  # which is words
        ask(job, channel)


def _scales(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel):
        for scale in scales_of(job, channel):
            signals_of(scale)
    elif isinstance(channel, TwoStateChannel):
        contact_scales(job, channel)
    elif isinstance(channel, OutputChannel):
        for scale in output_scales(job, channel):
            signals_of(scale)


def _fits(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel):
        candidates_of(job, channel)
        recommended(job, channel)


def _numbers(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel):
        made = packed_now(job, channel)
        cells = made.form.cells(channel.path.pin_unit, channel.unit)
        as_cells(cells)
        as_rows(cells, ",")
        json.dumps(as_plain(made.form, made.cost, channel.path.pin_unit, channel.unit), allow_nan=False)


def _proof(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel):
        checks_of(job, channel)
        proof_of(job, channel)


def _wiring(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel | TwoStateChannel):
        findings_of(job, channel)


def _output(job: Job, channel: Any) -> None:
    if isinstance(channel, OutputChannel):
        output_findings(job, channel)
        dead_rows(job, channel)
        output_proof(job, channel)
        own_scaling(job, channel)


def _standing(job: Job, channel: Any) -> None:
    if isinstance(channel, ContinuousChannel | TwoStateChannel):
        for pin in (None, 0.0, 1.0, 1e9, -1e9):
            standing_of(job, channel, pin)
        rehearsal_of(job, channel)


def _constant(_job: Job, channel: Any) -> None:
    if isinstance(channel, ConstantChannel) and channel.register_constant is not None:
        reckon(channel.register_constant)


_QUESTIONS = (_wiring, _scales, _fits, _numbers, _proof, _constant, _output, _standing)
