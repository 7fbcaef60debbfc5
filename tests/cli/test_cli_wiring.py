"""Describe and Wire on the command line."""

import json

import pytest
from calling import run


def answer(*words):
    status, out, complaint = run(*words, "--json")
    assert (status, complaint) == (0, "")
    return json.loads(out)


def test_a_place_on_a_path_is_read_at_every_node_and_both_ways(demo_file):
    there = answer("path", demo_file, "PT-202", "--at", "quantity=-60Pa")["nodes"]
    assert there["output"]["value"] == pytest.approx(8.8)
    back = answer("path", demo_file, "pt-202", "--at", f"pin={there['pin']['value'] * 1000}mV")["nodes"]
    assert back["quantity"]["value"] == pytest.approx(-60)
    assert back["counts"]["value"] == 1801


def test_both_ends_and_the_budget(demo_file):
    found = answer("path", demo_file, "TT-203", "--ends", "--budget", "--at", "quantity=900degC")
    assert [row["quantity"]["value"] for row in found["ends"]] == pytest.approx([0, 1200])
    budget = found["budget"]
    assert budget["expanded"] == pytest.approx(budget["coverage_factor"] * budget["combined"])
    assert budget["expanded"] < budget["worst"]
    assert {row["name"] for row in found["budget"]["contributions"]} >= {"cold junction", "amplifier gain"}


def test_a_channel_alone_is_enough(demo_file, demo_job, tmp_path):
    path = tmp_path / "channel.json"
    path.write_text(demo_job.tagged("WT-206").model_dump_json(), encoding="utf-8")
    nodes = answer("path", path, "--at", "node 1=13.5mV")["nodes"]
    assert nodes["quantity"]["value"] == pytest.approx(1350)
    status, _, complaint = run("path", demo_file)
    assert status == 2
    assert "say which channel, by its tag" in complaint


@pytest.mark.parametrize(
    ("words", "signal"),
    [
        (("pt100", "--value", "100degC"), 138.5055), (("pt100", "--value", "212degF"), 138.5055),
        (("pt1000", "--value", "-200 °C"), 185.2008), (("tc-k", "--value", "1000degC"), 41.2756),
        (("tc-k", "--value", "100degC", "--cold-junction", "25degC"), 4.09623 - 1.00024),
        (("ntc", "--value", "25degC", "--r25", "5kohm"), 5000),
    ],
)  # fmt: skip
def test_a_standard_curve_from_temperature(words, signal):
    assert answer("curve", *words)["signal"] == pytest.approx(signal, rel=2e-5)


@pytest.mark.parametrize(
    ("words", "value"),
    [
        (("pt100", "--signal", "138.5055ohm"), 100), (("pt1000", "--signal", "1.385055kohm"), 100),
        (("tc-k", "--signal", "41.27561mV"), 1000), (("tc-t", "--signal", "-5602.96uV"), -200),
    ],
)  # fmt: skip
def test_a_standard_curve_from_its_signal(words, value):
    assert answer("curve", *words)["value"] == pytest.approx(value, abs=0.01)


def test_all_branches_are_given_where_there_are_several():
    assert answer("curve", "tc-b", "--signal", "0mV")["values"] == pytest.approx([0, 42.132], abs=0.001)
    status, _, complaint = run("curve", "tc-k", "--signal", "99mV")
    assert status == 2
    assert "beyond type K" in complaint


def test_dividers_and_shunts_are_solved_backwards():
    found = answer("divider", "--top", "60V", "--pin", "3.3V", "--impedance", "100kohm")
    assert found["pin_v"] == pytest.approx(3.2967, abs=1e-4)
    assert (found["top_ohm"], found["bottom_ohm"]) == (120_000, 7_500)
    loop = answer("shunt", "--loop", "4-20mA", "--pin", "5V", "--headroom", "10%")
    assert (loop["resistance_ohm"], loop["pin_high_v"]) == (226, 4.52)
    assert run("divider", "--top", "3V", "--pin", "5V")[0] == 2
    assert "Expected a loop such as 4-20mA" in run("shunt", "--loop", "abc", "--pin", "5V")[2]


def test_a_register_constant_as_integer_hexadecimal_and_words(tmp_path):
    path = tmp_path / "formula.json"
    inputs = [{"name": "a", "value": 3, "unit": "V"}, {"name": "b", "value": 2, "unit": "mV"}]
    path.write_text(json.dumps({"formula": "a / b * 1000", "inputs": inputs}), encoding="utf-8")
    assert answer("constant", path) == {
        "value": 1_500_000, "exact": pytest.approx(1.5e6), "hex": "0x0016E360", "words": [0x16, 0xE360],
        "rounding_error": pytest.approx(0, abs=1e-15), "fields": [],
    }  # fmt: skip
    path.write_text(json.dumps({"formula": "a / ", "inputs": inputs}), encoding="utf-8")
    assert "found the end" in run("constant", path)[2]


def test_the_wiring_list_in_all_its_forms(demo_file, tmp_path):
    status, out, _ = run("wiring", demo_file, "--csv", tmp_path / "w.csv", "--pdf", tmp_path / "w.pdf")
    assert (status, out.split()) == (0, [str(tmp_path / "w.csv"), str(tmp_path / "w.pdf")])
    assert (tmp_path / "w.csv").read_text("utf-8").startswith("Tag,Measures,Lead,Colour")
    assert (tmp_path / "w.pdf").read_bytes().startswith(b"%PDF")
    assert (tmp_path / "w.pdf").stat().st_size > 20_000
    assert "PT-202" in run("wiring", demo_file)[1]


def test_the_checks_answer_no_where_there_is_a_fault(demo_file):
    status, out, _ = run("check", demo_file, "PT-202")
    assert status == 1
    assert "Shunt open: 24 V on a pin that survives 6 V" in out
    assert run("check", demo_file, "PS-211")[0] == 0
    assert run("check", demo_file, "WQ-212")[0] == 2
