"""Signing, verifying and keys by command."""

import json

import pytest
from calling import run

from able_yardstick.core.job.precautions import put_precaution
from able_yardstick.files.jobfile import JobFile


@pytest.fixture
def keys(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    return run("key", "new")[1].strip()


def test_a_channel_is_signed_and_its_record_verified(demo_file, tmp_path, keys):
    record = tmp_path / "PT-201.json"
    sign = ("sign", demo_file, "PT-201", "--by", "Ada", "--json", record)
    status, out, error = run(*sign)
    assert (status, "has open points: Prove: All were taken going up" in error) == (2, True)
    sign = (*sign, "--accept", "no hysteresis in a diaphragm")
    status, out, _ = run(*sign)
    assert status == 0
    assert "is signed by Ada" in out
    status, out, _ = run("verify", record)
    assert (status, "trusted as nobody's" in out) == (0, True)
    run("key", "trust", "Ada", keys)
    assert "signed by trusted as Ada" in run("verify", record)[1]
    assert json.loads(run("key", "show", "--json")[1])["trusted"] == [{"name": "Ada", "key": keys, "role": ""}]
    assert "never written over" in run(*sign)[2]


def test_an_altered_figure_is_named_and_ends_with_status_1(demo_file, tmp_path, keys):
    record = tmp_path / "AT-208.json"
    run("sign", demo_file, "AT-208", "--by", "Ada", "--accept", "trial", "--json", record)
    data = json.loads(record.read_text())
    data["record"]["readings"][0]["raw"]["mean"] += 0.001
    record.write_text(json.dumps(data))
    status, out, _ = run("verify", record)
    assert status == 1
    assert "CHANGED: readings[0].raw.mean was changed" in out


def test_a_unit_has_a_chain_and_a_correction_says_why(demo_file, tmp_path, keys):
    first, second, third = (tmp_path / f"{n}.json" for n in (1, 2, 3))
    sign = ("sign", demo_file, "AT-208", "--by", "Ada", "--accept", "trial")
    run(*sign, "--json", first)
    run(*sign, "--json", second, "--previous", first)
    assert "Chain: the record before it is the one that it names." in run("verify", second, "--previous", first)[1]
    status, out, _ = run("verify", second, "--previous", second)
    assert (status, "Chain: broken" in out) == (1, True)
    assert "which was not given" in run("verify", second)[1]
    assert "give --why" in run(*sign, "--json", third, "--corrects", first)[2]
    assert run(*sign, "--json", third, "--corrects", first, "--why", "wrong serial")[0] == 0
    assert json.loads(third.read_text())["record"]["correction"] == "wrong serial"
    run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "trial", "--json", tmp_path / "4.json")
    assert "another channel" in run(*sign, "--json", tmp_path / "5.json", "--previous", tmp_path / "4.json")[2]
    assert "Expected new, show or trust" in run("key", "lose")[2]
    assert "Expected --scope" in run(*sign, "--json", tmp_path / "6.json", "--scope", "all")[2]


def test_a_record_asks_for_an_approver_with_a_key_of_their_own(demo_file, tmp_path, keys, monkeypatch):
    sign = ("sign", demo_file, "PT-201", "--accept", "trial")
    run(*sign, "--by", "Ada", "--ask-approver")
    record = next(demo_file.parent.glob("Kiln 2 records/PT-201 *.record.json"))
    assert "NOT signed yet by the approver" in run("verify", record)[1]
    assert "another person's" in run(*sign, "--by", "Ben", "--approve")[2]  # with the same key
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "ben"))
    assert "another person's" in run(*sign, "--by", "ada", "--approve")[2]
    status, out, _ = run(*sign, "--by", "Ben", "--approve", "--pdf", tmp_path / "PT-201.pdf")
    assert (status, "is approved by Ben" in out) == (0, True)
    assert "waits for a second signature" in run(*sign, "--by", "Ben", "--approve")[2]
    status, out, _ = run("verify", tmp_path / "PT-201.pdf")
    assert status == 0
    assert "as Ben, approver" in out
    assert "every word and figure of the record stands on the pages" in out


def test_the_next_record_follows_the_one_before_and_a_loop_must_be_restored(demo_file, keys):
    for _ in range(2):
        assert run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "trial", "--role", "t")[0] == 0
    first, second = sorted(demo_file.parent.glob("Kiln 2 records/*.json"), key=lambda path: path.stat().st_mtime_ns)
    record = json.loads(second.read_text())["record"]
    assert record["number"] == 2
    assert record["previous"] == json.loads(first.read_text())["sha256"]
    file, job = JobFile.open(demo_file)
    file.save(put_precaution(job, "Alarms bridged", "taken"))
    file.close()
    refusal = run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "whatever")[2]
    assert "cannot be signed yet: Pack: “Alarms bridged” was taken and is not put back" in refusal
