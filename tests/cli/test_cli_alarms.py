"""`alarms` on the command line."""

import json

from calling import run


def test_counts_values_and_breaks_are_told(job):
    status, out, error = run("alarms", job, "TE-205", "--json")
    assert status == 0, error
    found = json.loads(out)
    high = found["alarms"][0]
    assert (high["kind"], high["limit"]) == ("high", 85.0)
    assert high["trips"]["counts"] < high["clears"]["counts"]  # a thermistor falls as it warms
    assert next(one for one in found["breaks"] if one["name"] == "lead open")["cannot"] == ["high", "high high"]
    status, out, _ = run("alarms", job, "TE-205")
    assert "Lead open: " in out
    assert "no alarm comes; the high and the high high alarm cannot trip" in out


def test_a_channel_without_alarms_says_where_to_enter_them(job):
    status, _, error = run("alarms", job, "AT-208")
    assert status == 2
    assert "has no alarms. Enter them at Prove" in error
