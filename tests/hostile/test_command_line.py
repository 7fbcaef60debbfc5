"""The command line under bad files and bad outputs: one plain sentence and status 2, never a traceback."""

import json
import subprocess
import sys

import pytest

AY = [sys.executable, "-m", "able_yardstick"]


def run(*words, **options):
    return subprocess.run([*AY, *map(str, words)], capture_output=True, text=True, timeout=60, **options)


def constant(path, formula, value, unit=""):
    path.write_text(json.dumps({"formula": formula, "inputs": [{"name": "a", "value": value, "unit": unit}]}))
    return path


@pytest.fixture
def points(tmp_path):
    path = tmp_path / "points.csv"
    path.write_text("V,kPa\n1,2\n2,4\n3,6\n")
    return path


def refused(result):
    """The one sentence of a refusal."""
    assert result.returncode == 2, result.stderr
    assert "Traceback" not in result.stderr
    lines = result.stderr.splitlines()
    assert lines[0].startswith("able-yardstick: ")
    assert len(result.stderr) < 700
    return lines[0]


@pytest.mark.parametrize(
    ("command", "text"),
    [
        ("constant", json.dumps({"formula": "a^(a^99)", "inputs": [{"name": "a", "value": 9}]})),
        ("constant", json.dumps({"formula": "(a-9)^0.5", "inputs": [{"name": "a", "value": 1}]})),
        ("constant", json.dumps({"formula": "a", "inputs": [{"name": "a", "value": 1, "unit": "% O2"}]})),
        ("constant", "[" * 50_000),
        ("constant", '{"formula":' * 50_000),
        ("constant", '{"formula":"a","inputs":[{"name":"a","value":' + "9" * 5000 + "}]}"),
        ("pack", "[" * 50_000),
        ("pack", '{"curve":' * 50_000),
        ("pack", '{"curve":' + "9" * 5000 + "}"),
        ("fit", "a,b\n" + "1" * 140_000 + ",2\n3,4\n"),
        ("fit", ",".join(["1"] * 200_000) + "\n"),
        ("fit", '"a' * 3 + "\n1,2\n"),
        ("wiring", '{"format":"able-yardstick-job","title":"\\ud800"}'),
        ("wiring", "[" * 50_000),
        ("check", "{}"),
    ],
)
def test_a_bad_file_is_refused_in_a_sentence(command, text, tmp_path):
    path = tmp_path / "bad.json"
    path.write_text(text)
    refused(run(command, path, *(["PT-201"] if command == "check" else [])))


def test_a_disk_that_is_full_is_said(points):
    with open("/dev/full", "w") as full:
        result = subprocess.run([*AY, "fit", points], stdout=full, stderr=subprocess.PIPE, text=True)
    assert "No space left" in refused(result)


def test_a_reader_that_has_read_enough_is_no_error(points):
    process = subprocess.Popen([*AY, "fit", points], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    process.stdout.close()
    assert process.stderr.read() == ""
    assert process.wait() in (0, 1)
    process.stderr.close()


def test_output_that_cannot_be_encoded_says_what_to_do():
    import os

    result = run("curve", "pt100", "--value", "100degC", env={**os.environ, "PYTHONIOENCODING": "ascii"})
    assert "PYTHONIOENCODING" in refused(result)


def test_an_argument_that_is_no_text_is_refused(tmp_path):
    result = subprocess.run([*AY, "wiring", b"\xff\xfe.json"], capture_output=True, timeout=60)
    assert result.returncode == 2
    assert b"Traceback" not in result.stderr
