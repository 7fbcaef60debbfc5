"""Records that show any change: every byte of a small one, keys told apart, files of others refused in words."""

import copy
import json
import stat
from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.sign.contents import FORMAT, VERSION, Signing, contents_of
from able_yardstick.core.sign.fingerprints import leaves
from able_yardstick.core.words.errors import BadTable, NotApplicable
from able_yardstick.files.records.keys import TrustedKey, is_signed, make_key, read_key, trust, trusted_keys
from able_yardstick.files.records.signed import (
    Signer,
    canonical,
    countersigned,
    read_record,
    save_record,
    sealed,
    verified,
)

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)
ADA = Signer("Ada Tester", "technician", NOON.isoformat())
WHY = "accepted for the trial run"


@pytest.fixture(scope="module")
def key(tmp_path_factory):
    return make_key(tmp_path_factory.mktemp("keys"))


@pytest.fixture(scope="module")
def whole(key):
    """A whole record of the demo's pressure channel, sealed."""
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    job = Job.model_validate_json(demo_text())
    record = contents_of(job, job.continuous("pt-201"), Signing("Ada Tester", "technician", NOON, accepted=WHY), "1.0")
    return sealed(record, key, ADA)


def small(key):
    return sealed({"format": FORMAT, "version": VERSION, "a": [1.5, -0.0, "é", None], "b": {"c": True}}, key, ADA)


def test_a_record_that_nobody_touched_is_whole(whole, key, tmp_path):
    save_record(tmp_path / "record.json", whole)
    read = read_record(tmp_path / "record.json")
    found = verified(read, (TrustedKey("Ada", key.public),))
    assert found.is_whole
    assert found.sha256 == whole["sha256"]
    assert found.signatures[0].trusted_as == "Ada"
    assert verified(read).signatures[0].trusted_as == ""


def test_every_byte_of_a_small_record_matters(key):
    text = json.dumps(small(key), indent=1).encode()
    missed = []
    for at in range(len(text)):
        for other in (text[at] ^ 1, ord("0") if text[at] != ord("0") else ord("1")):
            changed = text[:at] + bytes([other]) + text[at + 1 :]
            if is_seen(changed, text):
                continue
            missed.append((at, text[max(at - 10, 0) : at + 10]))
    assert missed == []


def is_seen(changed, text):
    """Whether a change is refused or named; what reads as the very same data is none."""
    try:
        data = json.loads(changed)
    except ValueError:
        return True
    if data == json.loads(text):
        return True
    parts = ("record", "fingerprints", "sha256", "signatures")
    if not isinstance(data, dict) or not all(name in data for name in parts):
        return True
    try:
        return not verified(data).is_whole
    except (BadTable, TypeError, AttributeError):
        return True


def test_ten_thousand_changes_of_a_large_record_are_seen(whole):
    text = json.dumps(whole, indent=1).encode()
    draw = np.random.default_rng(4)
    tried = [int(at) for at in draw.integers(0, len(text), 400)]  # bin/attack tries ten thousand
    for at in tried:
        changed = text[:at] + bytes([int(draw.integers(32, 127))]) + text[at + 1 :]
        assert is_seen(changed, text), text[max(at - 20, 0) : at + 20]


def test_a_figure_that_was_altered_is_named(whole):
    altered = copy.deepcopy(whole)
    altered["record"]["readings"][3]["reference"] += 0.5
    altered["record"]["by"]["name"] = "Somebody Else"
    del altered["record"]["fit"]["fitted"]["curve"]
    altered["record"]["more"] = 1
    changes = verified(altered).changes
    assert "readings[3].reference was changed" in changes
    assert "by.name was changed" in changes
    assert "more was added" in changes
    assert any(one.startswith("fit.fitted.curve") and one.endswith("is gone") for one in changes)


def test_a_change_with_a_fitting_fingerprint_is_found_by_the_hash_and_by_the_signature(whole, key, tmp_path):
    altered = copy.deepcopy(whole)
    altered["record"]["by"]["name"] = "Somebody Else"
    forged = sealed(altered["record"], make_key(tmp_path / "thief"), ADA)
    assert verified(forged | {"sha256": whole["sha256"], "signatures": whole["signatures"]}).changes
    assert "a signature is not that of its key" in verified(forged | {"signatures": whole["signatures"]}).changes[0]
    assert not verified(forged | {"signatures": []}).is_whole  # signed by nobody
    other = make_key(tmp_path / "other")
    resigned = verified(sealed(altered["record"], other, ADA), (TrustedKey("Ada", key.public),))
    assert resigned.is_whole
    assert resigned.signatures[0].trusted_as == ""


def test_who_signed_in_which_role_and_when_is_signed_too(whole, tmp_path):
    approver = make_key(tmp_path / "ben")
    both = countersigned(whole, approver, Signer("Ben", "approver", NOON.isoformat()))
    found = verified(both)
    assert [one.signer.name for one in found.signatures] == ["Ada Tester", "Ben"]
    assert found.is_whole
    for name in ("name", "role", "at"):
        altered = copy.deepcopy(both)
        altered["signatures"][1][name] = "other"
        assert not verified(altered).is_whole
    added = copy.deepcopy(both)
    added["signatures"][1]["more"] = 1
    assert not verified(added).is_whole


def test_keys_are_for_their_owner_alone_and_locked_by_a_passphrase(tmp_path):
    made = make_key(tmp_path, "long enough")
    path = next(tmp_path.glob("*.pem"))
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    assert read_key(tmp_path, "long enough").public == made.public
    with pytest.raises(BadTable, match="cannot be unlocked"):
        read_key(tmp_path, "wrong")
    with pytest.raises(BadTable, match="never written over"):
        make_key(tmp_path)
    assert is_signed(made.public, made.signature(b"x"), b"x")
    assert not is_signed(made.public, made.signature(b"x"), b"y")
    assert not is_signed("no key", "no signature", b"x")
    signature = made.signature(b"x")
    spare = {letter: letter for letter in "AQgw"} | {"A": "B", "Q": "R", "g": "h", "w": "x"}
    assert not is_signed(made.public, signature[:-3] + spare[signature[-3]] + "==", b"x")  # the very same bytes


def test_whose_key_is_trusted_is_a_list_of_names(tmp_path):
    first, second = make_key(tmp_path / "a"), make_key(tmp_path / "b")
    trust(tmp_path, "Ada", first.public)
    trust(tmp_path, "Ben", second.public)
    assert [one.name for one in trusted_keys(tmp_path)] == ["Ada", "Ben"]
    with pytest.raises(BadTable, match="Another key is trusted as Ada"):
        trust(tmp_path, "Ada", second.public)
    with pytest.raises(BadTable, match="Expected a public key"):
        trust(tmp_path, "Cid", "abc")


def test_open_points_must_be_accepted_and_a_unit_never_stands_for_its_type(demo_job):
    gas, stack = demo_job.continuous("pt-201"), demo_job.continuous("at-209")
    with pytest.raises(NotApplicable, match="AT-209 has open points"):
        contents_of(demo_job, stack, Signing("Ada", "technician", NOON), "1.0")
    accepted = contents_of(demo_job, stack, Signing("Ada", "technician", NOON, accepted=WHY), "1.0")
    assert any(point.startswith("Prove:") for point in accepted["open points"])
    assert accepted["accepted because"] == WHY
    with pytest.raises(NotApplicable, match="measured on one unit"):
        contents_of(demo_job, gas, Signing("Ada", "t", NOON, "every unit of the type", WHY), "1.0")


def test_a_record_holds_all_that_a_check_needs(whole, demo_job):
    record = whole["record"]
    assert record["unit"]["serial"] == "K2-001"
    assert len(record["readings"]) == len([one for one in demo_job.readings if one.channel == "pt-201"])
    assert record["references"][0]["id"] == "RP-12"
    assert record["packings"][-1]["form"]["kind"] == "slope"
    assert record["proof"]["checks"]
    assert record["uncertainty"]["rows"][0]["expanded"] > 0
    assert record["budget"]["rows"][0]["name"] == "scatter about the curve"


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "no JSON"), ("[]", "expected record, fingerprints"), ('{"record": 1}', "expected record, fingerprints"),
     ('{"record": {}, "fingerprints": {}, "sha256": "", "signatures": []}', "of this program's version")],
)  # fmt: skip
def test_what_is_no_record_is_refused_in_words(tmp_path, text, says):
    path = tmp_path / "x.json"
    path.write_text(text)
    with pytest.raises(BadTable, match=says):
        read_record(path)


def test_numbers_have_one_form():
    """The examples of RFC 8785, 3.2.2 and appendix B."""
    numbers = [333333333.33333329, 1e30, 4.50, 2e-3, 0.000000000000000000000000001]
    assert canonical({"numbers": numbers, "a": -0.0, "€": "x"}) == (
        '{"a":0,"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"€":"x"}'.encode()
    )


JSON = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3), max_leaves=12,
)  # fmt: skip


@given(JSON)
def test_every_figure_has_its_path(data):
    found = [leaf for _path, leaf in leaves(data)]
    assert len(found) >= 1
    assert sum(not isinstance(leaf, dict | list) for leaf in found) == _count(data)


def _count(data):
    if isinstance(data, dict):
        return sum(map(_count, data.values()))
    return sum(map(_count, data)) if isinstance(data, list) else 1
