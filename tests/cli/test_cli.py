"""The command line, run as a person runs it."""

import json

import numpy as np
import pytest
from calling import run

POINTS = "# bench\nsignal (V),pressure (kPa)\n0.5,0.1\n1.3,50\n2.1,99.8\n2.9,150.1\n3.7,200\n4.5,250.2\n"


@pytest.fixture
def points(tmp_path):
    path = tmp_path / "points.csv"
    path.write_text(POINTS)
    return path


def test_fit_prints_what_it_is_worth(points):
    status, out, _ = run("fit", points, "--model", "line", "--json")
    found = json.loads(out)
    x, y = np.loadtxt(POINTS.splitlines()[2:], delimiter=",").T
    (slope, offset), covariance = np.polyfit(x, y, 1, cov=True)
    assert status == 0
    assert found["coefficients"] == pytest.approx([offset, slope])
    assert found["standard_errors"] == pytest.approx(np.sqrt(np.diag(covariance))[::-1])
    assert (found["dof"], found["monotonic"], found["domain"]) == (4, True, [0.5, 4.5])
    assert found["largest_error"] == pytest.approx(np.abs(slope * x + offset - y).max())


@pytest.mark.parametrize("model", ["two-point", "through-zero", "poly2", "table", "auto"])
def test_every_model_is_fitted_as_text_and_json(points, model):
    assert run("fit", points, "--model", model)[0] == 0
    found = json.loads(run("fit", points, "--model", model, "--json", "--tolerance", "30")[1])
    assert found["model"] == (model if model != "auto" else "line")


def test_columns_are_found_by_name(tmp_path):
    path = tmp_path / "p.csv"
    path.write_text("n;ref;u\n1;0;0,5\n2;100;2,5\n3;200;4,5\n")
    found = json.loads(run("fit", path, "--signal", "u", "--reference", "REF", "--model", "line", "--json")[1])
    assert found["coefficients"] == pytest.approx([-25, 50])
    status, _, error = run("fit", path, "--signal", "volts", "--reference", "ref")
    assert (status, "Expected a column “volts”. The columns are n, ref, u." in error) == (2, True)


@pytest.mark.parametrize("form", ["slope", "ends", "span", "knots"])
def test_a_fit_is_packed_in_every_form(points, tmp_path, form):
    curve = tmp_path / "curve.json"
    curve.write_text(run("fit", points, "--model", "line", "--json")[1])
    words = ["pack", curve, "--form", form, "--signal-low", "0", "--signal-high", "5", "--value-step", "0.1"]
    status, out, _ = run(*words, "--decimals", "3", "--knots", "5", "--json")
    found = json.loads(out)
    assert (status, found["counts"]) == (0, 4096)
    assert 0 < found["worst_error"] < 0.06
    assert 0 <= found["worst_at"] <= 5
    assert run(*words)[0] == 0


def test_a_table_is_packed_straight_from_its_points(points):
    found = json.loads(run("pack", points, "--form", "knots", "--knots", "6", "--json")[1])
    assert found["numbers"]["signals"] == pytest.approx([0.5, 1.3, 2.1, 2.9, 3.7, 4.5])
    assert found["worst_error"] < 1e-9


def test_a_proof_that_fails_is_the_answer_no(tmp_path):
    path = tmp_path / "checks.csv"
    path.write_text("shown,reference\n10.2,10\n20.7,20\n")
    status, out, _ = run("prove", path, "--tolerance", "0.5", "--json")
    found = json.loads(out)
    assert (status, found["verdict"]) == (1, "fail")
    assert [row["pass"] for row in found["checks"]] == [True, False]
    assert found["shift"] == pytest.approx(0.45)
    assert run("prove", path, "--tolerance", "0.8")[0] == 0


def test_one_place_is_reckoned_on_every_scale(demo_file):
    status, out, _ = run("reckon", demo_file, "PT-202", "--output", "12mA", "--json")
    found = json.loads(out)
    assert (status, found["pin"]["value"], found["counts"]["value"]) == (0, pytest.approx(2.99925, abs=1e-6), 2456)
    assert found["quantity"]["value"] == pytest.approx(0, abs=1)
    again = json.loads(run("reckon", demo_file, "pt-202", "--quantity", f"{found['quantity']['value']}Pa", "--json")[1])
    assert again["pin"]["value"] == pytest.approx(found["pin"]["value"], abs=1e-9)
    assert "Controller" in run("reckon", demo_file, "PT-201", "--pin", "2500mV")[1]


BAD = [
    (["fit", "{tmp}/none.csv"], "none.csv cannot be read: No such file or directory."),
    (["fit", "{tmp}/bad.csv"], "bad.csv, line 3, column 2: Expected a number, found “x”."),
    (["fit", "{tmp}/one.csv", "--model", "line"], "At least 2 readings at different signals are needed, found 1"),
    (["fit", "{tmp}/turn.csv", "--model", "table"], "The table turns at a signal of 2"),
    (["pack", "{tmp}/turn.csv"], "turn.csv, line 2: The table turns at a signal of 2"),
    (["pack", "{tmp}/broken.json"], "broken.json, line 1, column 14: this is no whole JSON text."),
    (["pack", "{tmp}/other.json"], "other.json: expected what fit --json printed"),
    (["prove", "{tmp}/bad.csv", "--tolerance", "1"], "line 3, column 2"),
    (["reckon", "{demo}", "XX-1", "--pin", "1V"], "There is no channel XX-1. The job has PT-201, PT-202"),
    (["reckon", "{demo}", "PT-201", "--quantity", "400kPa"], "400.00 kPa would need 6.911 V, but the pin takes"),
    (["reckon", "{demo}", "PT-201", "--quantity", "80°C"], "°C cannot be turned into kPa"),
    (["reckon", "{demo}", "WQ-212", "--pin", "1V"], "WQ-212 is a constant channel"),
    (["reckon", "{demo}", "PT-201"], "Expected one of --pin, --counts, --quantity, --output, --shown, found 0."),
    (["reckon", "{tmp}/broken.json", "PT-201", "--pin", "1V"], "broken.json is damaged"),
]


@pytest.mark.parametrize(("words", "message"), BAD)
def test_bad_input_is_refused_on_stderr_with_status_2(tmp_path, demo_file, words, message):
    for name, text in {
        "bad.csv": "a,b\n1,2\n2,x\n",
        "one.csv": "a,b\n1,2\n",
        "turn.csv": "1,1\n2,3\n3,2\n",
        "broken.json": '{"curve": 1, ',
        "other.json": "{}",
    }.items():
        (tmp_path / name).write_text(text)
    status, out, error = run(*[word.format(tmp=tmp_path, demo=demo_file) for word in words])
    assert (status, out) == (2, "")
    assert message in error
    assert "Traceback" not in error
