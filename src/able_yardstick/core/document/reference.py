"""Instruments that are trusted more than the sensor: range, certificate with its corrections, due date, head."""

from datetime import date
from itertools import pairwise
from typing import Self

import numpy as np
from pydantic import Field, model_validator

from ..standards.natural import STANDARD_GRAVITY
from ..units.conversion import affine_gain
from ..units.quantity import Quantity
from ..words.numerals import significant
from ..words.record import Finite, Frozen


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

    @property
    def standard_uncertainty(self) -> float | None:
        """In `unit`: the certificate's, and half a step of its display as a rectangular limit (JCGM 100, F.2.2.1)."""
        if self.expanded_uncertainty is None:
            return None
        step = 0.0 if self.resolution is None else self.resolution / 2 / np.sqrt(3)
        return float(np.hypot(self.expanded_uncertainty / 2, step))

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
