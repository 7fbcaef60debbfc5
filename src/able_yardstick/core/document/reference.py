"""Instruments that are trusted more than the sensor: range, certificate with its corrections, due date, head."""

from datetime import date
from itertools import pairwise
from typing import Self

import numpy as np
from pydantic import Field, model_validator

from ..standards.natural import STANDARD_GRAVITY
from ..uncertainty.coverage import Contribution
from ..units.conversion import affine_gain
from ..units.quantity import Quantity
from ..words.numerals import significant
from ..words.record import Finite, Frozen, added_later

_DAYS_A_YEAR = 365.25


class Correction(Frozen):
    """A line of a certificate: what is added to a reading of the instrument, both in its unit."""

    reading: Finite
    correction: Finite


class Head(Frozen):
    """The fluid between two ports at different heights: how far the sensor's port lies above the reference's, in m.

    A column of density rho and height h weighs rho g h, so the sensor sees that much less.
    """

    height_m: Finite
    density_kg_m3: Finite = Field(gt=0)
    gravity_m_s2: Finite = Field(default=STANDARD_GRAVITY, gt=9.7, lt=9.9)

    @property
    def pressure_pa(self) -> float:
        """What is added to the reference's reading, in Pa."""
        return -self.density_kg_m3 * self.gravity_m_s2 * self.height_m


class Reference(Frozen):
    """An instrument trusted more than the sensor, with its expanded uncertainty (k = 2) in `unit`."""

    id: str
    name: str
    serial: str = ""
    quantity: Quantity | None = None
    unit: str = ""
    range_low: Finite | None = None
    range_high: Finite | None = None
    expanded_uncertainty: Finite | None = Field(default=None, ge=0)
    resolution: Finite | None = Field(default=None, gt=0)
    certificate: str = ""
    corrections: tuple[Correction, ...] = ()
    due: date | None = None
    head: Head | None = None
    stands_for: Finite | None = None  # the one value of what is no meter: an ice point, a mass
    calibrated: date | None = added_later(None)
    drift_per_year: Finite | None = added_later(None, ge=0)  # the most that it moves in a year, in `unit`

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        low, high = self.range_low, self.range_high
        if low is not None and high is not None and not low < high:
            raise ValueError(f"the reference's range must run upwards: found {low:g} to {high:g} {self.unit}")
        readings = [row.reading for row in self.corrections]
        if any(b <= a for a, b in pairwise(readings)):
            raise ValueError("the certificate's readings must rise from line to line. Sort them, and drop repeats")
        return self

    def correction_at(self, reading: float) -> float:
        """What the certificate adds to a reading: between its lines in proportion, beyond them as at the end."""
        if not self.corrections:
            return 0.0
        rows = self.corrections
        return float(np.interp(reading, [row.reading for row in rows], [row.correction for row in rows]))

    @property
    def head_correction(self) -> float:
        """What the head adds to every reading, in the reference's unit."""
        return 0.0 if self.head is None else self.head.pressure_pa * affine_gain("Pa", self.unit)

    def corrected(self, reading: float) -> float:
        """A reading with its certificate's correction and the head."""
        return reading + self.correction_at(reading) + self.head_correction

    def contributions(self, on: date, unit: str = "", gain: float = 1.0) -> tuple[Contribution, ...]:
        """What is not known of a reading on a day, row by row, in a unit of which `unit` (its own) makes `gain`.

        The certificate's U with k = 2; half a step of its display and what it may have drifted since it was calibrated,
        each as a limit either way (JCGM 100:2008, F.2.2.1). None where no U is stated.
        """
        if self.expanded_uncertainty is None:
            return ()
        own = unit or self.unit
        rows = [Contribution.stated("reference, certificate", self.expanded_uncertainty, 2.0, own, gain)]
        if self.drift_per_year and self.calibrated is not None:
            years = max((on - self.calibrated).days, 0) / _DAYS_A_YEAR
            rows.append(Contribution.limit("reference, drift since", self.drift_per_year * years, own, gain))
        if self.resolution is not None:
            rows.append(Contribution.limit("reference, display", self.resolution / 2, own, gain))
        return tuple(rows)

    def standard_on(self, on: date) -> float | None:
        """The standard uncertainty of a reading on a day, in `unit`; None where no U is stated."""
        rows = self.contributions(on)
        return float(np.sqrt(sum(row.standard**2 for row in rows))) if rows else None

    def overdue_words(self, on: date) -> str:
        """That it is overdue on a day; empty if it is not, or no date is known."""
        if self.due is None or on <= self.due:
            return ""
        days = (on - self.due).days
        return f"calibration of {self.name} was due {self.due:%Y-%m-%d}, {days} day{'s' if days > 1 else ''} ago"

    def refusal(self, value: float) -> str:
        """Why the instrument should not be taken to a value; empty if it may."""
        low, high = self.range_low, self.range_high
        if high is not None and value > high:
            return f"{significant(value)} {self.unit} is beyond the end of {self.name}, {significant(high)} {self.unit}"
        if low is not None and value < low:
            return f"{significant(value)} {self.unit} is below what {self.name} reads, {significant(low)} {self.unit}"
        return ""
