"""Writes a channel's numbers into its controller over the link of the job's source, and keeps what came of it."""

from ....bench.modbus import Modbus
from ....bench.writer import Place, read_table, write_table
from ....core.document.channel import ContinuousChannel
from ....core.job.entries import finish_write, keep_write
from ....core.journal.records import WriteRecord
from ....core.journal.table_image import TableImage
from ....core.results.loading import LoadTarget, image_to_write, target_of
from ....core.words.errors import NotApplicable
from ...frame.beside import Ask, Talk
from ...frame.workbench import Workbench, new_id, now


def write(bench: Workbench, channel: ContinuousChannel) -> Talk:
    """Writes the kept packing; gives what was read back otherwise. Raises: NotApplicable; then NoLink, BadAnswer."""
    meant = image_to_write(bench.job, channel)
    record = bench.job.pack_of(channel.id)
    assert record is not None  # it has an image
    return _written(bench, channel, meant, record.revision, undoing=False)


def put_back(bench: Workbench, channel: ContinuousChannel) -> Talk:
    """Writes back what was there before the last write. Raises: as `write`."""
    last = bench.job.write_of(channel.id)
    if last is None:
        raise NotApplicable("Nothing was written yet, so there is nothing to put back.")
    return _written(bench, channel, last.before, last.packing, undoing=True)


def compare(bench: Workbench, channel: ContinuousChannel) -> Talk:
    """Gives where the table in force differs from what was last written, else from what is kept. Raises: as `write`."""
    last = bench.job.write_of(channel.id)
    meant = last.meant if last is not None else image_to_write(bench.job, channel)
    target = target_of(bench.job, channel)
    return lambda _ask: meant.differences(table_in_force(target))


def table_in_force(target: LoadTarget) -> TableImage:
    """The table that the controller works with now. Raises: NoLink, BadAnswer."""
    link = _opened(target)
    try:
        return read_table(link, Place(target.address, target.layout))[0]
    finally:
        link.close()


def _written(bench: Workbench, channel: ContinuousChannel, meant: TableImage, packing: str, *, undoing: bool) -> Talk:
    """Writes with the copy of what is there on disk before the first cell; gives the differences.

    After a write that was cut off, the copy stays that of what was there before it.
    """
    target, last = target_of(bench.job, channel), bench.job.write_of(channel.id)

    def begun(before: TableImage) -> WriteRecord:
        was_cut_off = last is not None and not last.finished
        return WriteRecord(
            id=new_id(),
            channel=channel.id, made=now(), source=target.source.id, packing=packing, meant=meant, is_undoing=undoing,
            before=last.before if last is not None and was_cut_off else before, finished=False,
        )  # fmt: skip

    def talk(ask: Ask) -> tuple[str, ...]:
        def keep(before: TableImage) -> None:
            ask(lambda: bench.record(lambda job: keep_write(job, begun(before))))

        link = _opened(target)
        try:
            found = write_table(link, Place(target.address, target.layout), meant, keep)
        finally:
            link.close()
        ask(lambda: bench.record(lambda job: finish_write(job, channel.id, found.differences)))
        return found.differences

    return talk


def _opened(target: LoadTarget) -> Modbus:
    link = Modbus(target.source.with_(feeds=(), history=None, history_feeds=()))
    link.open()
    return link
