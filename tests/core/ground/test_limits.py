"""The limits that a field states hold beside the bounds of all numbers."""

import annotated_types
import pytest

import able_yardstick.core.job.job  # every record is loaded by it
from able_yardstick.core.words.record import Frozen

WORDS = {
    annotated_types.Ge: ("ge", "minimum"), annotated_types.Gt: ("gt", "exclusiveMinimum"),
    annotated_types.Le: ("le", "maximum"), annotated_types.Lt: ("lt", "exclusiveMaximum"),
}  # fmt: skip


def every_record(kind=Frozen):
    for one in kind.__subclasses__():
        yield one
        yield from every_record(one)


def stated_limits():
    for record in set(every_record()):
        for name, field in record.model_fields.items():
            for limit in field.metadata:
                if type(limit) in WORDS:
                    yield record, name, limit


def test_every_record_is_looked_at():
    assert able_yardstick.core.job.job.Job in set(every_record())
    assert len(list(stated_limits())) > 60


def test_each_stated_limit_is_the_one_that_holds():
    wrong = []
    for record, name, limit in stated_limits():
        attribute, word = WORDS[type(limit)]
        shown = record.model_json_schema()["properties"][name]
        every = [shown, *shown.get("anyOf", ())]
        if getattr(limit, attribute) not in [one.get(word) for one in every]:
            wrong.append((record.__name__, name, limit))
    assert wrong == []


@pytest.mark.parametrize("value", [1e31, -1e31, float("inf"), float("nan")])
def test_no_number_is_beyond_all_bounds(demo_job, value):
    channel = demo_job.continuous("pt-201")
    with pytest.raises(ValueError, match=r"at most|finite"):
        channel.with_(transducer=channel.transducer.with_(range_high=value))
