"""`recover` on the command line: by counts and by signals, and what is refused."""

import json

import pytest
from calling import run


def told(*words):
    status, out, error = run("recover", *words, "--json")
    assert status == 0, error
    return json.loads(out)


@pytest.fixture
def file(tmp_path):
    def written(text):
        path = tmp_path / "pairs.csv"
        path.write_text(text)
        return path

    return written


def test_counts_give_a_straight_line_with_what_is_open(file):
    found = told(file("count,shown\n0,-62.5\n1024,0.0\n2048,62.5\n4095,187.4\n"))
    forms = {one["name"]: one for one in found["forms"]}
    low, high = forms["straight"]["open"]["slope per V"]
    assert low <= 50 <= high + 1e-6
    assert all(one["reproduces"] for one in found["forms"])
    assert forms["integer ratio"]["special_case_of"] == "straight"
    assert found["unit"] == "counts"
    assert isinstance(found["next_signal"], int)


def test_signals_are_taken_for_the_counts_of_the_converter(file):
    path = file("signal,shown\n0,-150\n1,-150\n2,-75\n3,0\n4,75\n5,150\n")
    found = told(path)
    held = next(one for one in found["forms"] if one["name"] == "held straight")
    low, high = held["open"]["lower limit"]
    assert low < -150 < high
    assert found["unit"] == "V"
    assert 0 < found["next_signal"] < 1
    _, out, _ = run("recover", path)
    assert "held straight" in out
    assert "decides most" in out


def test_what_cannot_be_read_is_refused(file):
    status, _, error = run("recover", file("count,shown\n0,1\n5000,2\n"))
    assert status == 2
    assert "whole counts from 0 to 4095, found 5000" in error
    status, _, error = run("recover", file("count,shown\n0,1\n"))
    assert status == 2
    assert "Two different counts" in error
