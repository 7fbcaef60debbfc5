"""A search tells how far it is, and is stopped by whoever watches it."""

import pytest

from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.pack.make import pack_in_full
from able_yardstick.core.words import pace


def order(demo_job, form):
    channel = demo_job.continuous("te-205")
    spec = channel.pack_spec.with_(form=form, spacing="best")
    return nominal_curve(channel), channel.path.converter.nominal, spec


@pytest.mark.parametrize("form", ["knots", "ratio", "fixed", "slope", "c"])
def test_every_search_is_stopped_by_its_watch(demo_job, form):
    def watch(_bound, _best):
        raise pace.Stopped

    with pytest.raises(pace.Stopped), pace.watched_by(watch):
        pack_in_full(*order(demo_job, form))


@pytest.mark.parametrize("form", ["knots", "ratio"])
def test_what_is_proven_never_passes_what_is_found(demo_job, form):
    seen = []
    with pace.watched_by(lambda bound, best: seen.append((bound, best))):
        made = pack_in_full(*order(demo_job, form))
    known = [(bound, best) for bound, best in seen if bound is not None and best is not None]
    assert known
    assert all(bound <= best * (1 + 1e-9) for bound, best in known)
    assert made.bound <= min(best for _, best in known) * (1 + 1e-9)
