"""Job files on sticks without links, behind links, read-only, killed half way; outputs that would eat their input."""

import csv
import os
import shutil
import subprocess
from contextlib import suppress
from pathlib import Path

import pytest
from typer.testing import CliRunner

from able_yardstick.cli.main import app
from able_yardstick.core.words.errors import BadJob, BadTable
from able_yardstick.files import jobfile
from able_yardstick.files.jobfile import JobFile, backup_of, read_job, write_job
from able_yardstick.files.output import file_name, put_text
from able_yardstick.files.wiring import wiring_csv


def refuse_links(monkeypatch):
    def refused(*_paths):
        raise PermissionError(1, "Operation not permitted")

    monkeypatch.setattr(os, "link", refused)


def edited_and_backed_up(path, demo_job):
    """Two edits, each with the state before it as the backup."""
    held, job = JobFile.open(path)
    held.save(job.with_(title="First"))
    assert read_job(backup_of(path)).title == demo_job.title
    held.save(job.with_(title="Second"))
    held.close()
    assert (read_job(path).title, read_job(backup_of(path)).title) == ("Second", "First")
    assert [one.name for one in path.parent.iterdir() if one.name.endswith((".tmp", ".lock"))] == []


def test_a_job_is_saved_where_there_are_no_links(demo_file, demo_job, monkeypatch):
    refuse_links(monkeypatch)
    edited_and_backed_up(demo_file, demo_job)


def test_a_job_is_saved_on_a_real_fat_image(tmp_path, demo_job):
    image, folder = tmp_path / "stick.img", tmp_path / "stick"
    folder.mkdir()
    image.write_bytes(bytes(8 << 20))
    maker = shutil.which("mkfs.vfat", path="/usr/sbin:/sbin:/usr/bin")
    if maker is None or subprocess.run([maker, image], capture_output=True).returncode:
        pytest.skip("no maker of FAT images here")
    if subprocess.run(["mount", "-o", "loop", image, folder], capture_output=True).returncode:
        pytest.skip("this machine mounts no FAT image")
    try:
        path = folder / "kiln.yardstick.json"
        write_job(path, demo_job)
        edited_and_backed_up(path, demo_job)
    finally:
        subprocess.run(["umount", folder], check=False)


def test_the_backup_stands_until_the_new_one_does(demo_file, demo_job, monkeypatch):
    held, job = JobFile.open(demo_file)
    held.save(job.with_(title="First"))
    refuse_links(monkeypatch)

    def no_room(*_paths):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(shutil, "copyfile", no_room)
    with pytest.raises(BadJob, match="No space left"):
        held.save(job.with_(title="Second"))
    held.close()
    assert (read_job(demo_file).title, read_job(backup_of(demo_file)).title) == ("First", demo_job.title)


def test_a_job_behind_a_link_is_locked_and_saved_as_the_real_file(demo_file, tmp_path):
    link = tmp_path / "link.yardstick.json"
    link.symlink_to(demo_file)
    held, job = JobFile.open(link)
    with pytest.raises(BadJob, match="open in another window"):
        JobFile.open(demo_file)
    held.save(job.with_(title="By the link"))
    held.close()
    assert link.is_symlink()
    assert read_job(demo_file).title == "By the link"


def test_links_that_lead_round_are_refused_in_words(tmp_path):
    one, two = tmp_path / "one.yardstick.json", tmp_path / "two.yardstick.json"
    one.symlink_to(two)
    two.symlink_to(one)
    with pytest.raises(BadJob, match="cannot be read"):
        JobFile.open(one)


def test_a_file_made_read_only_meanwhile_is_not_written_over(demo_file):
    held, job = JobFile.open(demo_file)
    before = demo_file.read_bytes()
    demo_file.chmod(0o444)
    with pytest.raises(BadJob, match="read-only since it was opened"):
        held.save(job.with_(title="New"))
    held.close()
    assert demo_file.read_bytes() == before
    assert demo_file.stat().st_mode & 0o777 == 0o444


def test_a_read_only_job_opens_to_be_looked_at(demo_file, demo_job):
    demo_file.chmod(0o444)
    held, job = JobFile.open(demo_file)
    assert job == demo_job
    assert held.why_read_only == "the file is read-only"
    with pytest.raises(BadJob, match="looked at only"):
        held.save(job.with_(title="New"))
    held.close()


def test_a_job_in_a_folder_that_cannot_be_written_opens_to_be_looked_at(demo_file, demo_job, monkeypatch):
    def refused(*_args, **_options):
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr(jobfile.FileLock, "acquire", refused)
    held, job = JobFile.open(demo_file)
    assert job == demo_job
    assert "its folder cannot be written" in held.why_read_only
    held.close()
    with pytest.raises(BadJob, match="cannot be written"):
        JobFile.create(demo_file.with_name("new.yardstick.json"), job)


def test_what_killed_saves_left_is_swept_at_the_next_open(demo_file):
    left = [demo_file.with_name(f".{demo_file.name}.{word}.tmp") for word in ("a8d", "zz_")]
    other = demo_file.with_name(".other.yardstick.json.a8d.tmp")
    for path in (*left, other):
        path.write_text("half")
    JobFile.open(demo_file)[0].close()
    assert [path.exists() for path in (*left, other)] == [False, False, True]


def test_the_lock_is_never_held_twice(demo_file):
    held, _ = JobFile.open(demo_file)
    lock = demo_file.with_name(f".{demo_file.name}.lock")
    waiting = os.open(lock, os.O_RDWR)  # another program is about to lock it
    held.close()
    assert not lock.exists()
    again, _ = JobFile.open(demo_file)
    with pytest.raises(BadJob, match="open in another window"):
        JobFile.open(demo_file)
    assert os.fstat(waiting).st_ino != lock.stat().st_ino or os.fstat(waiting).st_nlink == 0
    again.close()
    os.close(waiting)


@pytest.mark.parametrize("command", [["wiring", "JOB", "--csv", "JOB"], ["wiring", "JOB", "--pdf", "JOB"]])
def test_an_output_that_is_the_input_is_refused(command, demo_file):
    before = demo_file.read_bytes()
    result = CliRunner().invoke(app, [str(demo_file) if word == "JOB" else word for word in command])
    assert isinstance(result.exception, BadTable)
    assert "Choose another" in str(result.exception)
    assert demo_file.read_bytes() == before


def test_no_text_is_written_over_a_job(demo_file):
    with pytest.raises(BadTable, match="name of a job"):
        put_text(demo_file, "text")


@pytest.mark.parametrize("tag", ["../../etc/passwd", "/root/x", "..", ".hidden", "a/b", "PT 1.2", "", "\0"])
def test_a_tag_never_makes_a_path(tag):
    name = file_name(tag, ".csv")
    assert Path(name).name == name
    assert not name.startswith(".")
    assert "\0" not in name


def test_cells_of_words_are_harmless_to_a_spreadsheet(demo_job):
    channels = [
        one.with_(tag="=HYPERLINK(1)", name='"; DROP') if one.tag == "PT-201" else one
        for one in demo_job.document.channels
    ]
    job = demo_job.with_(document=demo_job.document.with_(channels=tuple(channels)))
    cells = [cell for row in csv.reader(wiring_csv(job).splitlines()) for cell in row]
    assert "'=HYPERLINK(1)" in cells
    assert [cell for cell in cells if cell.startswith(("=", "+", "@"))] == []
    with suppress(ValueError):
        assert all(not cell.startswith("-") or float(cell) for cell in cells)
