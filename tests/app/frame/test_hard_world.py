"""Names that look like markup, jobs that may not be written, disks that take nothing: the window shows and says it."""

import pytest
from acting import go, said, side, texts
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget

from able_yardstick.app.main import open_window
from able_yardstick.core.document.sources import ManualSource
from able_yardstick.core.words.errors import BadJob
from able_yardstick.files.jobfile import JobFile, read_job

MARKUP = "<b>PT</b> & <img src='/x.png' width='900' height='900'>"


def renamed(job):
    """The demo job with markup in every name that a person or a wire gives."""
    document = job.document
    channels = tuple(one.with_(tag=f"{n}{MARKUP}", name=MARKUP, note=MARKUP) for n, one in enumerate(document.channels))
    references = tuple(one.with_(name=MARKUP) for one in document.references)
    controllers = tuple(one.with_(name=MARKUP) for one in document.controllers)
    sources = (ManualSource(id="s", name=MARKUP), *document.sources)
    return job.with_(
        title=MARKUP,
        document=document.with_(channels=channels, references=references, controllers=controllers, sources=sources),
    )


def test_names_that_look_like_markup_are_shown_as_they_are(demo_file, demo_job, settings, qtbot):
    held, _ = JobFile.open(demo_file)
    held.save(renamed(demo_job))
    held.close()
    window = open_window(demo_file, settings)
    qtbot.addWidget(window)
    window.show()
    window.build_all()
    for channel in window.bench.job.channels[:9]:
        for step in ("describe", "wire", "wake", "gather", "fit", "pack", "prove"):
            go(window, channel.tag, step)
            as_written(window)
    for view in ("sources", "references"):
        side(window, view)
        as_written(window)
    assert any(MARKUP in text for text in texts(window))
    assert window.width() < 3000


def as_written(window):
    for one in window.findChildren(QLabel):
        # markup of our own is said to be some, and what others wrote is escaped in it
        assert one.textFormat() != Qt.TextFormat.AutoText or "<" not in one.text(), one.text()
        assert one.textFormat() == Qt.TextFormat.PlainText or not ("<img" in one.text() or "<b>PT" in one.text())
    for one in window.findChildren(QWidget):
        assert "<b>PT" not in one.toolTip()


def test_a_read_only_job_is_shown_and_says_so(demo_file, settings, qtbot):
    demo_file.chmod(0o444)
    window = open_window(demo_file, settings)
    qtbot.addWidget(window)
    window.show()
    assert window.bench.path == demo_file
    assert "looked at only: the file is read-only" in said(window)
    assert any(text.startswith("Read-only") for text in texts(window))
    channel = window.bench.job.channels[0]
    assert not window.bench.try_edit("name", lambda job: job.with_(title="New"))
    assert window.bench.job.channels[0] == channel
    assert "looked at only" in said(window)
    window.jobs.save_as(demo_file.with_name("copy.yardstick.json"))
    assert window.bench.try_edit("name", lambda job: job.with_(title="New"))
    assert read_job(demo_file.with_name("copy.yardstick.json")).title == "New"


def test_without_any_folder_to_write_the_window_says_what_to_do(settings, monkeypatch, qtbot):
    def refused(*_args):
        raise BadJob("no room")

    monkeypatch.setattr(JobFile, "create", refused)
    window = open_window(None, settings)
    qtbot.addWidget(window)
    window.show()
    assert window.bench.path is None
    assert "No folder of yours can be written" in said(window)
    assert any(text.startswith("Not on disk") for text in texts(window))


def test_save_as_onto_the_open_file_says_that_it_is_open_here(demo_file, settings, qtbot):
    window = open_window(demo_file, settings)
    qtbot.addWidget(window)
    window.show()
    with pytest.raises(BadJob, match="kept in it already"):
        window.bench.save_as(demo_file)
    window.jobs.save_as(demo_file)
    assert "kept in it already" in said(window)
