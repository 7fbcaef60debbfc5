"""`prove` on the command line: rules, outcomes, what would be missed, and refusals."""

import json

import pytest
from calling import run

ROWS = "reference,shown,u,direction\n0,0.1,0.3,up\n100,100.3,0.3,up\n200,200.9,0.3,down\n"


@pytest.fixture
def checks(tmp_path):
    path = tmp_path / "checks.csv"
    path.write_text(ROWS, encoding="utf-8")
    return path


def judged(*words):
    status, out, _ = run("prove", *words, "--json")
    return status, json.loads(out)


def test_each_check_has_its_outcome_and_its_conformance(checks):
    status, found = judged(checks, "--tolerance", "1", "--rule", "guarded", "--range", "0,250")
    assert (status, found["verdict"]) == (1, "fail")
    assert [row["outcome"] for row in found["checks"]] == ["pass", "pass", "pass-in-doubt"]
    assert [row["u"] for row in found["checks"]] == [0.3, 0.3, 0.3]
    assert found["checks"][2]["conformance"] == pytest.approx(0.7475, abs=1e-3)  # normal: 0.1 / 0.15 from the limit
    assert found["gain_error"] == pytest.approx(0.004)
    missed = {row["shape"]: row for row in found["missed"]}
    assert set(missed) == {"zero shift", "gain", "bend", "hysteresis", "one segment", "outside the checks"}
    assert missed["gain"]["next_stop"] == 250
    assert missed["outside the checks"]["largest"] is None  # nothing stands in its way


def test_simple_acceptance_is_as_it_was_and_one_uncertainty_serves_all(checks, tmp_path):
    assert judged(checks, "--tolerance", "1")[1]["verdict"] == "pass"
    plain = tmp_path / "plain.csv"
    plain.write_text("reference,shown\n0,0.1\n100,100.3\n", encoding="utf-8")
    status, found = judged(plain, "--tolerance", "1")
    assert (status, found["checks"][0]["u"], found["missed"]) == (0, None, [])
    assert judged(plain, "--tolerance", "1", "--u", "0.3")[1]["checks"][1]["u"] == 0.3
    status, found = judged(checks, "--tolerance", "1", "--rule", "risk", "--risk", "0.3")
    assert (status, found["verdict"]) == (0, "pass")


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--rule", "guarded"), "needs the uncertainty of each check: give --u, or a column u"),
        (("--range", "5"), "Expected the ends of the range with a comma between them"),
        (("--range", "9,5"), "The range must run upwards"),
    ],
)
def test_what_cannot_be_judged_so_is_refused(tmp_path, words, says):
    path = tmp_path / "plain.csv"
    path.write_text("reference,shown\n0,0.1\n100,100.3\n", encoding="utf-8")
    status, _, errors = run("prove", path, "--tolerance", "1", *words)
    assert status == 2
    assert says in errors


def test_it_reads_well_without_json(checks):
    _, out, _ = run("prove", checks, "--tolerance", "1", "--rule", "guarded")
    assert "pass in doubt, not accepted" in out
    assert "would miss, zero shift: up to" in out


def test_weak_checks_are_named(tmp_path):
    path = tmp_path / "one.csv"
    path.write_text("reference,shown\n5,5.1\n", encoding="utf-8")
    assert judged(path, "--tolerance", "1", "--range", "0,250")[1]["weak"] == ["Checks near zero prove no span."]
    assert "Checks near zero prove no span." in run("prove", path, "--tolerance", "1", "--range", "0,250")[1]
