"""Starting: with a job, with the last one, with a damaged one, with none; and the tour."""

import subprocess
import sys

import pytest
from acting import said, texts

from able_yardstick.core.units.conversion import affine_gain
from able_yardstick.core.words.errors import BadJob
from able_yardstick.files.jobfile import JobFile, read_job


@pytest.fixture
def documents(tmp_path, monkeypatch):
    """The user's documents, in a place of their own."""
    import platformdirs

    monkeypatch.setattr(platformdirs, "user_documents_path", lambda: tmp_path / "documents")
    return tmp_path / "documents" / "Able Yardstick"


def start(qtbot, path, settings):
    from able_yardstick.app.main import open_window

    window = open_window(path, settings)
    qtbot.addWidget(window)
    window.show()
    window.build_rest()
    return window


def test_a_first_start_begins_an_empty_job(qtbot, settings, documents):
    window = start(qtbot, None, settings)
    assert window.bench.path == documents / "Job 1.yardstick.json"
    assert read_job(window.bench.path).channels == ()
    assert "Start with what you have in hand" in texts(window.centre)
    window.close()
    assert start(qtbot, None, settings).bench.path == documents / "Job 1.yardstick.json"


def test_a_job_opened_later_is_checked_bit_by_bit_too(qtbot, settings, documents, demo_file):
    affine_gain("psi", "kPa")  # a constant is reckoned once the units are there
    window = start(qtbot, None, settings)
    window.jobs.open_job(demo_file)
    qtbot.waitUntil(lambda: window.bench.is_all_checked, timeout=20_000)
    says = [step.says for channel in window.bench.job.channels for step in window.bench.progress(channel)]
    assert says
    assert "not checked yet" not in says


def test_a_damaged_job_is_refused_and_another_begun(qtbot, settings, documents, tmp_path):
    bad = tmp_path / "bad.yardstick.json"
    bad.write_text("{}")
    window = start(qtbot, bad, settings)
    assert "bad.yardstick.json is damaged" in said(window)
    assert window.bench.path.parent == documents
    assert bad.read_text() == "{}"


def test_a_job_open_elsewhere_is_refused(qtbot, settings, documents, demo_file):
    held, _ = JobFile.open(demo_file)
    window = start(qtbot, demo_file, settings)
    assert "is open in another window" in said(window)
    held.close()
    window.jobs.open_job(demo_file)
    assert window.bench.job.title == "Quillstone Tileworks, Kiln 2"


def test_a_folder_that_cannot_be_written_is_said_in_words(tmp_path):
    (tmp_path / "file").write_text("")
    with pytest.raises(BadJob, match="cannot be written"):
        JobFile(tmp_path / "file" / "x.yardstick.json")


def test_a_fault_of_our_own_is_said_and_logged(qtbot, settings, documents, demo_file, caplog):
    from able_yardstick.app.main import _tell

    window = start(qtbot, demo_file, settings)
    _tell(window)(ValueError, ValueError("oops"), None)
    assert said(window) == "A fault in the program: oops. What was saved is safe."
    assert "a fault in the program" in caplog.text


def test_recent_jobs_are_kept_without_those_that_are_gone(settings, tmp_path):
    for n in range(12):
        path = tmp_path / f"{n}.yardstick.json"
        path.write_text("{}")
        settings.opened(path)
    (tmp_path / "11.yardstick.json").unlink()
    assert [path.name.split(".")[0] for path in settings.recent] == ["10", "9", "8", "7", "6", "5", "4"]


def test_the_tour_leaves_pictures_tables_and_the_job(tmp_path):
    run = subprocess.run(
        [sys.executable, "-m", "able_yardstick", "tour", str(tmp_path / "out")], capture_output=True, text=True
    )
    assert run.returncode == 0, run.stderr
    said = [line.rsplit("/", 1)[1] for line in run.stdout.splitlines()]
    assert sorted(said) == sorted(path.name for path in (tmp_path / "out").iterdir())
    pictures = [name for name in said if name.endswith(".png")]
    assert len(pictures) >= 10
    from PySide6.QtGui import QImage

    for name in pictures:
        image = QImage(str(tmp_path / "out" / name))
        windows, dialogs = ((1280, 800), (1024, 700)), ((640, 520), (820, 560))
        assert (image.width(), image.height()) in (*windows, *dialogs)
        colors = {image.pixel(x, y) for x in range(0, image.width(), 7) for y in range(0, image.height(), 7)}
        assert len(colors) > 20, f"{name} shows next to nothing"
    assert read_job(tmp_path / "out" / "Kiln 2.yardstick.json").channels
