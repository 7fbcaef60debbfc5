"""References found in nature, against published values."""

import numpy as np
import pytest

from able_yardstick.core.standards.natural import ambient_pressure, gravity, ice_point, steam_point, weight_of
from able_yardstick.core.words.errors import OutOfRange


@pytest.mark.parametrize(("mpa", "kelvin"), [(0.1, 372.755919), (1.0, 453.035632), (10.0, 584.149488)])
def test_steam_meets_the_check_values_of_its_release(mpa, kelvin):
    """IAPWS-IF97, table 36."""
    assert steam_point(1000 * mpa).value + 273.15 == pytest.approx(kelvin, abs=1e-6)


@pytest.mark.parametrize(("metres", "pascal"), [(0, 101325.0), (1000, 89874.6), (2000, 79495.2), (5000, 54019.9)])
def test_air_meets_the_standard_atmosphere(metres, pascal):
    """ISO 2533:1975, table 5."""
    assert 1000 * ambient_pressure(101.325, metres).value == pytest.approx(pascal, abs=3)


@pytest.mark.parametrize(("latitude", "value"), [(0, 9.7803267715), (45, 9.8061992), (90, 9.8321863685)])
def test_gravity_meets_the_ellipsoid(latitude, value):
    assert gravity(latitude).value == pytest.approx(value, abs=2e-7)


def test_height_makes_lighter():
    assert gravity(50, 1000).value == pytest.approx(gravity(50).value - 3.086e-3)


def test_the_doubt_of_the_weather_page_and_of_the_altitude_both_count():
    sure, unsure = ambient_pressure(101.3, 300, 0.0, 0.0), ambient_pressure(101.3, 300, 0.1, 50.0)
    steepness = (ambient_pressure(101.3, 301).value - ambient_pressure(101.3, 299).value) / 2
    added = np.hypot(0.1 * unsure.value / 101.3, 50 * steepness)
    assert unsure.standard_uncertainty == pytest.approx(np.hypot(sure.standard_uncertainty, added), rel=1e-3)


def test_a_mass_in_air_weighs_a_little_less():
    assert weight_of(10, 9.80665).value == pytest.approx(98.0665 * (1 - 1.2 / 8000))
    assert ice_point().value == 0.0


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: ambient_pressure(101.3, 20_000), "altitude from −500 to 11 000 m, found 20"),
        (lambda: gravity(95), "latitude from −90 to 90 degrees, found 95"),
        (lambda: steam_point(0.1), "absolute pressure from 0.7 to 22 000 kPa, found 0.1"),
    ],
)
def test_what_lies_outside_is_refused(make, words):
    with pytest.raises(OutOfRange, match=words):
        make()


@pytest.mark.parametrize("pressure_kpa", [0.7, 0.7001, 21_977, 21_979, 21_990, 22_000])
def test_the_steam_point_reaches_both_ends_of_its_equation(pressure_kpa):
    found = steam_point(pressure_kpa)
    assert found.standard_uncertainty > 0
    assert (found.value < 3) == (pressure_kpa < 1)
