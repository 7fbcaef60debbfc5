"""What a new machine needs: the scripts, and the lists they install from."""

import os
import re
import subprocess
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
NAME = re.compile(r"^([A-Za-z0-9_.-]+)==(\S+)", re.MULTILINE)


def locked(part):
    """Names and versions of a lock file."""
    return {name.lower().replace("_", "-"): v for name, v in NAME.findall((ROOT / "locks" / f"{part}.txt").read_text())}


def stub(folder, name, script):
    path = folder / name
    path.write_text(f"#!/bin/bash\n{script}\n")
    path.chmod(0o755)


@pytest.fixture
def shell(tmp_path):
    """Runs a line after sourcing bin/set-up, with stand-ins for some commands."""

    def run(line, **stubs):
        for name, script in stubs.items():
            stub(tmp_path, name.replace("_", "-"), script)
        environment = {
            **os.environ,
            "PATH": f"{tmp_path}:{os.environ['PATH']}",
            "ABLE_YARDSTICK_VENV": str(tmp_path / "v"),
        }
        command = f"source {ROOT}/bin/set-up; {line}"
        return subprocess.run(["bash", "-c", command], capture_output=True, text=True, env=environment)

    return run


def test_without_root_the_line_to_run_is_printed_and_nothing_else_happens(shell):
    done = shell("install_packages liba libb; echo went on", dpkg_query="exit 1", id="echo 1000", apt_get="echo called")
    assert done.returncode == 2
    assert "sudo apt-get update && sudo apt-get install -y --no-install-recommends liba libb" in done.stderr
    assert done.stdout == ""


def test_as_root_only_what_is_missing_is_installed(shell, tmp_path):
    query = '[ "${@: -1}" = libb ] && exit 1; echo "install ok installed"'
    log = tmp_path / "log"
    done = shell("install_packages liba libb libc", dpkg_query=query, id="echo 0", apt_get=f'echo "$@" >> {log}')
    assert (done.returncode, done.stderr) == (0, "")
    assert log.read_text().splitlines() == ["update -qq", "install -y -qq --no-install-recommends libb"]


def test_a_second_run_installs_nothing(shell):
    done = shell("install_packages liba", dpkg_query='echo "install ok installed"', apt_get="echo called; exit 1")
    assert (done.returncode, done.stdout, done.stderr) == (0, "", "")


def test_what_apt_refuses_is_said(shell):
    done = shell("install_packages liba", dpkg_query="exit 1", id="echo 0", apt_get="exit 100")
    assert done.returncode == 2
    assert "apt-get could not install: liba" in done.stderr


def test_names_of_packages_are_read_without_remarks(shell):
    done = shell("package_names locks/system-run.txt locks/system-test.txt")
    names = set(done.stdout.split())
    assert {"libegl1", "libxcb-cursor0", "libxcb-icccm4", "libxcb-keysyms1", "fonts-inter", "xvfb", "xauth"} <= names
    assert all(re.fullmatch(r"[a-z0-9.+-]+", name) for name in names)


def test_an_old_python_is_refused(shell):
    done = shell("make_venv", python3='[ "$1" = --version ] && echo Python 3.9.2 || exit 1')
    assert done.returncode == 2
    assert "Python 3.11 or newer is needed, found Python 3.9.2" in done.stderr


def test_every_dependency_is_locked_with_a_hash():
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    for part, wanted in (
        ("run", project["dependencies"]),
        ("test", project["dependencies"] + project["optional-dependencies"]["test"]),
    ):
        versions = locked(part)
        for requirement in wanted:
            assert re.split(r"[<>=\[ ]", requirement)[0].lower() in versions, requirement
        text = (ROOT / "locks" / f"{part}.txt").read_text()
        assert len(re.findall(r"^\S+==\S+ \\\n\s+--hash=sha256:", text, re.MULTILINE)) == len(versions)
        assert "://" not in text
    both = set(locked("run")) & set(locked("test"))
    assert all(locked("run")[name] == locked("test")[name] for name in both)


def test_qt_stays_below_the_release_that_loses_references():
    version = tuple(int(part) for part in locked("run")["pyside6-essentials"].split(".")[:2])
    assert version < (6, 12)


def test_ci_calls_the_tests_and_nothing_more():
    lines = [line for line in (ROOT / ".ci" / "run").read_text().splitlines() if not line.startswith("#")]
    assert lines == ['exec "$(dirname "$0")/../bin/test"']


def test_what_the_documents_link_to_is_there():
    for name in ("README.md", "ARCHITECTURE.md", "CONTRIBUTING.md"):
        for target in re.findall(r"\]\(([^)#]+)\)", (ROOT / name).read_text("utf-8")):
            assert (ROOT / target).exists(), (name, target)


def test_the_map_of_the_folders_names_files_that_exist():
    text = (ROOT / "ARCHITECTURE.md").read_text("utf-8")
    tree = text.split("```")[1]
    known = {path.name for path in (ROOT / "src").rglob("*") if "__pycache__" not in str(path)}
    for name in re.findall(r"\b([a-z_]+\.py)\b", tree):
        assert name in known, name
    for folder in re.findall(r"^    ([a-z]+)/", tree, re.MULTILINE):
        assert folder in known, folder
