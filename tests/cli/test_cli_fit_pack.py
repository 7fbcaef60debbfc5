"""Every option of `fit` and `pack`, run as a person runs them; their figures against the same sums by hand."""

import json
import re

import numpy as np
import pytest
from calling import run
from openpyxl import Workbook
from scipy.optimize import curve_fit, least_squares

from able_yardstick.core.curves import Table
from able_yardstick.core.path.converter import Converter

BENT = [(x, 12 * x / (3 + x) + 0.5) for x in np.linspace(0, 5, 12).tolist()]


@pytest.fixture
def bent(tmp_path):
    """A saturating curve with its readings' own figures beside it."""
    path = tmp_path / "bent.csv"
    rows = [f"{x!r},{y + 0.01 * (-1) ** n!r},{0.02 + 0.01 * (n % 3)},{n % 4 + 1}" for n, (x, y) in enumerate(BENT)]
    path.write_text("signal,value,u,w\n" + "\n".join(rows) + "\n")
    return path


@pytest.fixture
def curve(tmp_path):
    """A bent table to pack."""
    path = tmp_path / "curve.csv"
    path.write_text("signal,value\n" + "\n".join(f"{x!r},{y!r}" for x, y in BENT) + "\n")
    return path


def told(*words, status=0):
    found, out, error = run(*words, "--json")
    assert found == status, error
    return json.loads(out)


def refused(*words):
    status, out, error = run(*words)
    assert (status, out) == (2, "")
    return error


def columns(path):
    return np.loadtxt(path, delimiter=",", skiprows=1).T


# -- fit ------------------------------------------------------------------------------------------------------------


def test_a_column_of_weights_weighs_each_reading(bent):
    x, y, _, w = columns(bent)
    found = told("fit", bent, "--model", "line", "--weights", "w")
    assert found["coefficients"] == pytest.approx(np.polyfit(x, y, 1, w=np.sqrt(w))[::-1], rel=1e-9)
    assert found["weights"] == pytest.approx(w / w.mean())


def test_uncertainties_are_a_number_or_a_column(bent):
    x, y, u, _ = columns(bent)
    found = told("fit", bent, "--model", "poly2", "--u-reference", "u")
    assert found["coefficients"] == pytest.approx(np.polyfit(x, y, 2, w=1 / u)[::-1], rel=1e-9)
    same = told("fit", bent, "--model", "poly2", "--u-reference", "0.03")
    assert same["coefficients"] == pytest.approx(np.polyfit(x, y, 2)[::-1], rel=1e-9)


def test_an_uncertain_signal_counts_by_the_curves_slope(bent):
    """At the answer the coefficients are those that are most likely together with the true signals."""
    x, y, u, _ = columns(bent)
    found = told("fit", bent, "--model", "poly2", "--u-reference", "u", "--u-signal", "0.05")

    def misses(numbers):
        (a, b, c), true = numbers[:3], numbers[3:]
        return np.concatenate([(true - x) / 0.05, (a + b * true + c * true**2 - y) / u])

    likely = least_squares(misses, [0, 1, 0, *x], xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale="jac").x
    assert found["coefficients"] == pytest.approx(likely[:3], rel=5e-3, abs=5e-3)


def test_a_robust_fit_names_the_lines_it_distrusts(bent):
    lines = bent.read_text().splitlines()
    cells = lines[6].split(",")
    lines[6] = ",".join([cells[0], str(float(cells[1]) + 2), *cells[2:]])
    bent.write_text("\n".join(lines) + "\n")
    found = told("fit", bent, "--model", "poly3", "--robust")
    assert found["distrusted_lines"] == [7]
    assert found["points"] == 12
    assert "distrusted       line 7: far off, kept, weighs less" in run("fit", bent, "--model", "poly3", "--robust")[1]


def test_a_formula_gives_its_parameters_by_name(bent):
    x, y, *_ = columns(bent)
    words = ["fit", bent, "--model", "formula", "--formula", "p*x/(q+x)+r", "--start", "p=10,q=2,r=0"]
    found = told(*words)
    wanted, covariance = curve_fit(lambda x, p, q, r: p * x / (q + x) + r, x, y, [10, 2, 0])
    assert list(found["coefficients"]) == ["p", "q", "r"]
    assert list(found["coefficients"].values()) == pytest.approx(wanted, rel=1e-6)
    assert list(found["standard_errors"].values()) == pytest.approx(np.sqrt(np.diag(covariance)), rel=1e-3)
    assert re.search(r"^p +11\.9\d+  ± ", run(*words)[1], re.MULTILINE)


def test_a_formula_that_does_not_settle_ends_with_status_2(bent):
    error = refused(
        "fit", bent, "--model", "formula", "--formula", "p*x + q*x + r", "--start", "p=1,q=1,r=0"
    )  # fmt: skip
    assert "do not tell the parameters p, q, r apart, so the fit does not converge" in error
    assert "Give a formula of x" in refused("fit", bent, "--model", "formula")
    assert "No start is given for r" in refused(
        "fit", bent, "--model", "formula", "--formula", "p*x+r", "--start", "p=1"
    )  # fmt: skip
    assert "Expected starts such as p=12, q=3" in refused(
        "fit", bent, "--model", "formula", "--formula", "p*x", "--start", "p"
    )  # fmt: skip


@pytest.mark.parametrize(("model", "degree"), [("poly3", 3), ("poly4", 4), ("poly5", 5)])
def test_higher_orders_come_with_standard_errors_and_their_covariance(bent, model, degree):
    x, y, *_ = columns(bent)
    found = told("fit", bent, "--model", model)
    coefficients, covariance = np.polyfit(x, y, degree, cov=True)
    assert found["coefficients"] == pytest.approx(coefficients[::-1], rel=1e-7)
    assert np.array(found["covariance"]) == pytest.approx(covariance[::-1, ::-1], rel=1e-6)
    assert found["standard_errors"] == pytest.approx(np.sqrt(np.diag(covariance))[::-1], rel=1e-6)
    assert found["cross_validated"] > 0


def test_a_monotone_cubic_and_an_elements_law_are_fitted_too(bent, tmp_path):
    assert told("fit", bent, "--model", "pchip")["curve"]["kind"] == "cubic"
    path = tmp_path / "ntc.csv"
    path.write_text("ohm,degC\n32650,0\n19900,10\n10000,25\n5327,40\n2488,60\n1258,80\n")
    found = told("fit", path, "--model", "steinhart-hart")
    assert list(found["coefficients"]) == ["a", "b", "c"]
    assert found["largest_error"] < 0.02


def test_columns_that_are_not_there_are_named(bent):
    assert "Expected a column “weight”" in refused("fit", bent, "--model", "line", "--weights", "weight")


# -- pack -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "words",
    [
        ["slope", "--decimals", "2"], ["slope", "--significant", "3"], ["ends", "--value-step", "0.1"], ["span"],
        ["ratio", "--int-bits", "16", "--value-step", "0.01"], ["knots", "--knots", "6"],
        ["divisor", "--decimals", "3"], ["poly", "--degree", "4"], ["fixed", "--int-bits", "16"],
        ["words", "--number-type", "s16"], ["formula", "--name", "flue"], ["st", "--name", "flue"],
        ["c", "--code-of", "ratio", "--int-bits", "32"],
    ],
)  # fmt: skip
def test_the_worst_error_of_each_form_is_that_of_what_it_shows(curve, tmp_path, words):
    """Every count emulated, set beside the truth."""
    converter = Converter(bits=10, full_count=1023, low=0.0, high=5.0)
    counts = tmp_path / "counts.csv"
    counts.write_text("count\n" + "\n".join(map(str, range(1024))) + "\n")
    common = ["pack", curve, "--bits", "10", "--form", *words]
    found = told(*common)
    shown = np.array([row["shown"] for row in told(*common, "--emulate", counts)])
    truth = Table.through(*np.array(BENT).T).value(converter.inverse(np.arange(1024)))
    errors = np.abs(shown - truth)
    assert found["worst_error"] == pytest.approx(errors.max(), rel=1e-9)
    assert found["worst_at"] == pytest.approx(5 * int(errors.argmax()) / 1023, abs=0.02)
    assert found["shown_at_ends"] == [shown[0], shown[-1]]


def test_a_polynomial_says_what_single_precision_costs(curve):
    words = ["pack", curve, "--form", "poly", "--degree", "4"]
    found = told(*words)
    assert 0 < found["horner_error"] < 1e-4 < found["worst_error"]
    assert "Rounding at each step of Horner's rule costs up to" in run(*words)[1]


def test_tables_have_their_proven_bound_beside_them(curve):
    found = told("pack", curve, "--form", "knots", "--knots", "6", "--grid", "0.05", "--value-step", "0.01")
    assert found["free_bound"] <= found["lower_bound"] <= found["worst_error"] <= 1.01 * found["lower_bound"]
    assert found["even_error"] > found["worst_error"]
    signals = np.array(found["numbers"]["signals"])
    assert signals / 0.05 == pytest.approx(np.round(signals / 0.05))


def test_the_fewest_knots_within_an_error(curve):
    few = told("pack", curve, "--form", "knots", "--max-error", "0.05")
    assert few["worst_error"] <= 0.05
    fewer = len(few["numbers"]["signals"]) - 1
    assert told("pack", curve, "--form", "knots", "--knots", str(fewer))["worst_error"] > 0.05


def test_knots_at_positions_of_a_file(curve, tmp_path):
    places = tmp_path / "places.csv"
    places.write_text("0\n0.5\n1.5\n3\n5\n")
    found = told("pack", curve, "--form", "knots", "--positions", places)
    assert found["numbers"]["signals"] == [0, 0.5, 1.5, 3, 5]


def test_limits_left_over_from_elsewhere_are_refused_with_the_first_count(curve):
    error = refused("pack", curve, "--form", "knots", "--limits", "0,5")
    assert "upper limit of 5 flattens the curve: from count 1476 on" in error
    assert "Expected two limits" in refused("pack", curve, "--form", "knots", "--limits", "5")


@pytest.mark.parametrize(("rounding", "order"), [("nearest", []), ("truncate", []), ("floor", ["--divide-first"])])
def test_a_ratio_is_emulated_with_the_controllers_own_division(curve, tmp_path, rounding, order):
    counts = tmp_path / "counts.csv"
    counts.write_text("0\n1000\n2048\n4095\n")
    words = ["pack", curve, "--form", "ratio", "--int-bits", "32", "--value-step", "0.01", "--round", rounding, *order]
    numbers = told(*words)["numbers"]
    a, b, c = (numbers[name] for name in ("multiplier", "divisor", "constant"))
    shown = [row["shown"] for row in told(*words, "--emulate", counts)]
    for count, value in zip((0, 1000, 2048, 4095), shown, strict=True):
        if order:
            wanted = a * (count // b) + c
        else:
            exact = a * count / b
            wanted = {"nearest": np.floor(exact + 0.5), "truncate": np.trunc(exact)}[rounding] + c
        assert value == pytest.approx(wanted * 0.01)


def test_counts_that_cannot_be_are_refused(curve, tmp_path):
    counts = tmp_path / "counts.csv"
    counts.write_text("5000\n")
    error = refused("pack", curve, "--emulate", counts)
    assert "expected whole counts from 0 to 4095, found 5000" in error


def test_inverse_packing_gives_the_count_for_a_wanted_signal(curve):
    found = told("pack", curve, "--form", "inverse")
    assert found["worst_error"] >= 0
    assert run("pack", curve, "--form", "inverse")[0] == 0


def test_generated_code_is_printed_whole(curve):
    text = run("pack", curve, "--form", "c", "--name", "flue")[1]
    assert "flue" in text
    assert text.count("{") == text.count("}")
    assert "Worst error" in text
    assert "END_FUNCTION" in run("pack", curve, "--form", "st")[1]


def test_counts_stand_for_themselves_and_are_not_stretched_over_another_converter(tmp_path):
    """605 of 4095 counts is 15: on ten bits the file is refused, on a full count of 27648 it stays 605."""
    path = tmp_path / "counts.csv"
    path.write_text("counts,value\n0,0\n605,15\n4095,100\n")
    assert told("pack", path, "--form", "knots", "--knots", 3)["numbers"]["signals"] == [0.0, 605.0, 4095.0]
    assert "counts from 0 to 4095, but the converter ends at 1023" in refused("pack", path, "--bits", 10)
    seen = tmp_path / "seen.csv"
    seen.write_text("605\n")
    found = told("pack", path, "--form", "knots", "--knots", 3, "--full-count", 27648, "--emulate", seen)
    assert found[0]["shown"] == pytest.approx(15.0, abs=1e-3)
    fitted = tmp_path / "fit.json"
    fitted.write_text(json.dumps(told("fit", path, "--model", "line")))
    assert "the converter ends at 1023" in refused("pack", fitted, "--bits", 10)


def test_integers_with_an_implied_decimal(curve):
    found = told("pack", curve, "--form", "integers", "--implied-decimals", 1, "--round", "truncate")
    assert found["numbers"]["implied_decimals"] == 1
    assert found["numbers"]["rounding"] == "truncate"


def test_a_workbook_says_which_sheet_is_read_and_takes_another_by_name(tmp_path):
    book = Workbook()
    for sheet, gain in ((book.active, 2.0), (book.create_sheet("June"), 3.0)):
        for x in range(4):
            sheet.append([x, gain * x])
    book.save(tmp_path / "two.xlsx")
    status, out, error = run("fit", tmp_path / "two.xlsx", "--model", "line", "--json")
    assert (status, "two.xlsx#June" in error) == (0, True)
    assert json.loads(out)["coefficients"] == pytest.approx([0.0, 2.0], abs=1e-9)
    status, out, error = run("fit", tmp_path / "two.xlsx#June", "--model", "line", "--json")
    assert (status, error) == (0, "")
    assert json.loads(out)["coefficients"] == pytest.approx([0.0, 3.0], abs=1e-9)
