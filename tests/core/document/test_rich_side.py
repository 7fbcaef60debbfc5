"""Air-fuel ratio and lambda on both sides of stoichiometry; percent oxygen on the lean side only."""

import numpy as np
import pytest

from able_yardstick.core.document.channel import ContinuousChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.sensor.rating import TwoPoints
from able_yardstick.core.sensor.transducer import Transducer
from able_yardstick.core.words.errors import OutOfRange


def test_a_channel_that_crosses_one_is_trusted_over_all_of_it():
    """A wide-band probe of lambda 0.7 to 1.3 over 0 to 5 V, worked in the air-fuel ratio of methane, 17.237."""
    rating = TwoPoints(signals=(0.0, 5.0), values=(0.7, 1.3))
    probe = Transducer(quantity="oxygen", unit="lambda", range_low=0.7, range_high=1.3, rating=rating)
    channel = ContinuousChannel(id="a", device="d", tag="AE-1", unit="AFR", transducer=probe)
    curve = nominal_curve(channel)
    assert curve.domain == (0.0, 5.0)
    assert curve.value(np.array([0.0, 2.5, 5.0])) == pytest.approx(17.23713 * np.array([0.7, 1.0, 1.3]), rel=1e-6)
    assert float(curve.signal(17.23713 * 0.9)) == pytest.approx(5 * 0.2 / 0.6, rel=1e-5)
    with pytest.raises(OutOfRange, match=r"lambda 0\.7 is rich: percent O2 tells nothing below lambda 1"):
        _ = channel.with_(unit="% O2").range
