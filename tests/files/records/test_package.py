"""A job handed over: its list of files is signed, every change is named, and it unpacks only into its folder."""

import json
import zipfile
from datetime import UTC, datetime

import pytest

from able_yardstick.core.words.errors import BadTable
from able_yardstick.files.jobfile import read_job
from able_yardstick.files.records.keys import TrustedKey, make_key
from able_yardstick.files.records.package import (
    MANIFEST,
    files_in,
    package_of,
    save_package,
    unpack,
    verified_package,
)

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)


@pytest.fixture
def key(tmp_path):
    return make_key(tmp_path / "keys")


@pytest.fixture
def package(demo_file, key, tmp_path):
    (demo_file.parent / "a.yardlog").write_bytes(b"a log")
    files = package_of(read_job(demo_file), demo_file, key, "Ada", NOON, [demo_file.parent / "a.yardlog"])
    save_package(tmp_path / "job.zip", files)
    return tmp_path / "job.zip"


def test_what_nobody_touched_is_whole_and_opens_as_the_same_job(package, key, demo_file, tmp_path):
    found = verified_package(package, (TrustedKey("Ada Tester", key.public),))
    assert found.is_whole
    assert found.signers == ("Ada, trusted as Ada Tester",)
    assert verified_package(package).signers == ("Ada, whose key is not trusted here",)
    names = set(files_in(package))
    assert {"Kiln 2.yardstick.json", "logs/a.yardlog", "numbers/PT-201.txt", "wiring/wiring.csv", MANIFEST} <= names
    job = unpack(package, tmp_path / "elsewhere")
    assert read_job(job) == read_job(demo_file)
    with pytest.raises(BadTable, match="is there already"):
        unpack(package, tmp_path / "elsewhere")


def rewritten(package, change):
    files = files_in(package)
    change(files)
    with zipfile.ZipFile(package, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return verified_package(package)


def relisted(files):
    manifest = json.loads(files[MANIFEST])
    manifest["record"]["files"]["READ ME.txt"] = "0" * 64
    files[MANIFEST] = json.dumps(manifest).encode()


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda files: files.update({"READ ME.txt": b"other"}), "READ ME.txt was changed"),
        (lambda files: files.pop("wiring/wiring.csv"), "wiring/wiring.csv is gone"),
        (lambda files: files.update({"more.txt": b"x"}), "more.txt was added"),
        (relisted, "manifest.json is not as it was signed"),
    ],
)
def test_every_change_is_named(package, change, says):
    found = rewritten(package, change)
    assert not found.is_whole
    assert says in found.changes


@pytest.mark.parametrize("name", ["../outside.txt", "/outside.txt", "a/../../outside.txt", "..\\outside.txt", "C:/x"])
def test_nothing_is_unpacked_outside_its_folder(package, tmp_path, name):
    rewritten(package, lambda files: files.update({name: b"x"}))
    with pytest.raises(BadTable, match="outside its folder"):
        unpack(package, tmp_path / "in" / "here")
    assert not list(tmp_path.rglob("outside.txt"))


def test_what_is_no_package_is_said_in_words(tmp_path):
    (tmp_path / "x.zip").write_bytes(b"PK\x03\x04 nothing more")
    with pytest.raises(BadTable, match="is damaged"):
        verified_package(tmp_path / "x.zip")
    with zipfile.ZipFile(tmp_path / "y.zip", "w") as archive:
        archive.writestr("a.txt", "a")
    with pytest.raises(BadTable, match="no package of this program"):
        verified_package(tmp_path / "y.zip")
    with pytest.raises(BadTable, match="holds 0 jobs"):
        unpack(tmp_path / "y.zip", tmp_path / "z")
