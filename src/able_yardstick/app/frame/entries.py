"""All that “find or do” lists: commands, channels, kinds of transducers, numeric forms, recent jobs."""

from functools import partial
from typing import TYPE_CHECKING, Protocol

from PySide6.QtGui import QAction

from ...core.forms.spec import FormName
from ...core.job.channels import change_channel
from .channel_commands import ChannelCommands
from .find import CommandEntry, entries_of
from .job_commands import JobCommands
from .settings import Settings
from .workbench import Workbench

if TYPE_CHECKING:
    pass


class Doer(Protocol):
    """What the entries do their work with: the window."""

    bench: Workbench
    settings: Settings
    actions_list: list[QAction]
    channels: ChannelCommands
    jobs: JobCommands


def entries_for(window: Doer) -> list[CommandEntry]:
    """What can be found and done now."""
    job = window.bench.job
    found = entries_of(window.actions_list)
    for channel in job.channels:
        words = f"Channel {channel.tag}  {channel.name}"
        found.append(CommandEntry(words, "", partial(window.bench.select, channel.id)))
    for aside in job.document.set_aside:
        words = f"Bring back {aside.tag}, set aside  {aside.name}"
        found.append(CommandEntry(words, "", partial(window.channels.bring_back, aside.id)))
    return [*found, *_kinds(window), *_forms(window), *_recent(window)]


def _kinds(window: Doer) -> list[CommandEntry]:
    from ...core.describe.catalogue import ENTRIES

    return [
        CommandEntry(f"Add {kind.group.lower()}: {kind.title}", "", partial(window.channels.add_from, kind))
        for kind in ENTRIES
    ]


def _forms(window: Doer) -> list[CommandEntry]:
    """The numeric forms for the channel looked at, found also by what their owners call them."""
    if window.bench.continuous is None:
        return []
    from ...core.forms.any_form import FORMS

    kinds: list[tuple[FormName, str, str]] = [
        (form.model_fields["kind"].default, form.title, form.also) for form in FORMS
    ]
    return [
        CommandEntry(f"Pack as: {title.lower()}", "", partial(_pack_as, window, kind), also=also)
        for kind, title, also in kinds
    ]


def _pack_as(window: Doer, kind: FormName) -> None:
    from ...core.pack.begun import begun_in

    channel = window.bench.continuous
    if channel is None:
        return
    packed_so = channel.with_(pack_spec=begun_in(channel, kind))
    window.bench.try_edit(f"{channel.tag}: form", lambda job: change_channel(job, packed_so))
    window.bench.go("pack")


def _recent(window: Doer) -> list[CommandEntry]:
    return [
        CommandEntry(f"Open {path.name}  {path.parent}", "", partial(window.jobs.open_job, path))
        for path in window.settings.recent
    ]
