"""One contract for every kind of curve that can be fitted: a kind that forgets something fails here."""

import numpy as np
import pytest

from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.kinds import CAPTIONS, KINDS, MODEL_NAMES, TITLES
from able_yardstick.core.regression.models import MAKERS, fit
from able_yardstick.core.standards import platinum, thermistors
from able_yardstick.core.words.errors import NotApplicable

SIMULATED = 400
LAW = thermistors.SteinhartHart(1.1e-3, 2.4e-4, 8e-8)
FITTED = [name for name in MODEL_NAMES if name != "nominal"]
FORMULA = {"formula": "p*x/(q+x)+r", "start": (("p", 12.0), ("q", 3.0), ("r", 0.5))}


def readings_for(name):
    """Signals (n,), true values (n,) of a curve of the kind, and the scatter to draw with."""
    if name in ("steinhart-hart", "beta"):
        celsius = np.repeat(np.linspace(-20, 120, 8), 3)
        law = LAW if name == "steinhart-hart" else thermistors.SteinhartHart.from_beta(10_000.0, 25.0, 3950.0)
        return thermistors.resistance_ohm(law, celsius), celsius, 0.02
    if name == "platinum":
        celsius = np.repeat(np.linspace(0, 300, 8), 3)
        return platinum.resistance_ohm(celsius, 100.0), celsius, 0.05
    x = np.repeat(np.linspace(0.5, 4.5, 8), 3)
    if name == "formula":
        return x, 15 * x / (4 + x) + 0.7, 0.02
    bend = {"poly2": 2, "poly3": 3, "poly4": 4, "poly5": 5}.get(name, 1)
    truth = sum((n + 1) * (x / 2) ** n for n in range(bend + 1))
    return x, truth - (truth[0] if name == "through-zero" else 0.0), 0.05


def spec_of(name, x, truth):
    zero = (float(x[0]), float(truth[0])) if name == "through-zero" else (0.0, 0.0)
    return FitSpec(model=name, zero=zero, **(FORMULA if name == "formula" else {}))


def rising(x, truth):
    """Stop numbers by rising reference, as fits take them."""
    return np.unique(truth.round(9), return_inverse=True)[1]


def test_every_kind_has_its_words_and_its_maker():
    assert set(KINDS) == set(MAKERS) == set(MODEL_NAMES)
    assert all(TITLES[name] and CAPTIONS[name] for name in MODEL_NAMES)
    assert len(set(TITLES.values())) == len(set(CAPTIONS.values())) == len(MODEL_NAMES)
    with pytest.raises(NotApplicable, match="is not fitted"):
        fit(np.arange(3.0), np.arange(3.0), FitSpec(model="nominal"))


@pytest.mark.parametrize("name", FITTED)
class TestEveryKind:
    def test_it_counts_the_numbers_that_the_readings_give_it(self, name):
        """As many as there are ways in which moving readings moves the curve."""
        x, truth, scatter = readings_for(name)
        random = np.random.default_rng(1)
        y, stops = truth + random.normal(0, 1e-4 * scatter, len(x)), rising(x, truth)
        spec, places = spec_of(name, x, truth), np.linspace(x.min(), x.max(), 41)
        base = fit(x, y, spec, stops=stops)
        step = 1e-3 * scatter
        moved = [
            (fit(x, y + step * (np.arange(len(x)) == n), spec, stops=stops).curve.value(places)
             - base.curve.value(places)) / step
            for n in range(len(x))
        ]  # fmt: skip
        sizes = np.linalg.svd(np.array(moved), compute_uv=False)
        assert base.numbers == int(np.sum(sizes > 2e-3 * sizes[0]))

    def test_its_stated_spread_is_the_simulated_one(self, name):
        x, truth, scatter = readings_for(name)
        random, stops, spec = np.random.default_rng(2), rising(x, truth), spec_of(name, x, truth)
        places = np.array([np.quantile(x, share) for share in (0.02, 0.3, 0.55, 0.97)])
        found, stated = [], []
        for _ in range(SIMULATED):
            fitted = fit(x, truth + random.normal(0, scatter, len(x)), spec, stops=stops)
            found.append(fitted.curve.value(places))
            stated.append(np.square(fitted.curve_spread(places)))
        simulated, claimed = np.std(found, axis=0, ddof=1), np.sqrt(np.mean(stated, axis=0))
        close = np.abs(simulated - claimed) <= 0.15 * claimed + 1e-9 * scatter
        if name == "pchip":  # between its rows a cubic's spread is at most that of the chord: never less is stated
            close |= claimed >= simulated
        assert close.all(), (simulated, claimed)

    def test_its_errors_are_what_it_indicates_less_the_reference(self, name):
        x, truth, scatter = readings_for(name)
        y = truth + np.random.default_rng(3).normal(0, scatter, len(x))
        fitted = fit(x, y, spec_of(name, x, truth), stops=rising(x, truth))
        assert np.array(fitted.errors) == pytest.approx(fitted.curve.value(x) - y, abs=1e-9)
        assert type(fitted).model_validate_json(fitted.model_dump_json()) == fitted
