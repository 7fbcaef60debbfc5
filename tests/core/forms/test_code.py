"""Functions for controllers: compiled or interpreted, they agree with the program's own model at every count."""

import ctypes
import subprocess
from contextlib import contextmanager
from functools import cache
from tempfile import TemporaryDirectory

import numpy as np
import pytest

from able_yardstick.core.curves import Line, Table
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.pack.around import Around, Named
from able_yardstick.core.pack.make import pack_in_full
from able_yardstick.core.path.converter import Converter
from structured_text import Program

GAS = Line.through((0.5, 0.0), (4.5, 250.0), (0.5, 4.5))
FALLING = Line.through((0.5, 250.0), (4.5, -30.0), (0.5, 4.5))
BENT = Table.through(np.linspace(0.3, 4.8, 23), np.expm1(np.linspace(0, 1.2, 23)) * 9 - 3)
TWELVE = Converter()
FINE = Converter(bits=16, full_count=65535, low=-10.0, high=10.0)
KINDS = {
    "line": (GAS, {"code_of": "slope"}),
    "held line": (GAS, {"code_of": "slope", "clamp": True}),
    "table": (BENT, {"code_of": "knots", "signal_step": 0.05, "value_step": 0.01}),
    "held table": (BENT, {"code_of": "knots", "clamp": True, "knots": 5}),
    "polynomial": (BENT, {"code_of": "poly", "degree": 4}),
    "ratio to nearest": (GAS, {"code_of": "ratio", "value_step": 0.1}),
    "falling ratio to nearest": (FALLING, {"code_of": "ratio", "value_step": 0.1}),
    "ratio truncated": (FALLING, {"code_of": "ratio", "value_step": 0.1, "rounding": "truncate"}),
    "ratio towards below": (FALLING, {"code_of": "ratio", "value_step": 0.1, "rounding": "floor"}),
    "rising towards below": (GAS, {"code_of": "ratio", "rounding": "floor"}),
    "small ratio": (GAS, {"code_of": "ratio", "int_bits": 16}),
    "dividing first": (FALLING, {"code_of": "ratio", "order": "divide first"}),
    "fixed point": (FALLING, {"code_of": "fixed"}),
    "small fixed point": (GAS, {"code_of": "fixed", "int_bits": 16}),
}


@cache
def function(language, kind, converter):
    curve, settings = KINDS[kind]
    named = Named("PT-201", "PT-201: burner gas pressure", "kPa", "V")
    spec = PackSpec(form=language, decimals=6, **settings)
    return pack_in_full(curve, converter, spec, Around((0.0, 250.0), (), named)).form


def in_channels_unit(made, results):
    """What a function gives, in the channel's unit: integers are in steps."""
    if made.of.kind == "ratio":
        return np.round(np.array(results, dtype=float) * made.of.value_step, 9)
    return np.array(results, dtype=float) / (2.0**made.of.fraction_bits if made.of.kind == "fixed" else 1.0)


@contextmanager
def compiled(made):
    """The function as a C compiler makes it: gives a result and the fault flag for a count."""
    with TemporaryDirectory() as folder:
        source, library = f"{folder}/made.c", f"{folder}/made.so"
        with open(source, "w", encoding="utf-8") as file:
            file.write(made.text)
        command = ["gcc", "-std=c99", "-O2", "-Wall", "-Wextra", "-Werror", "-ffp-contract=off", "-shared", "-fPIC"]
        subprocess.run([*command, source, "-o", library], check=True)
        call = getattr(ctypes.CDLL(library), made.name)
        integers = {16: ctypes.c_int16, 32: ctypes.c_int32}
        call.restype = integers[made.of.int_bits] if made.is_integer else ctypes.c_float
        call.argtypes = [ctypes.c_uint32, ctypes.POINTER(ctypes.c_bool)]
        fault = ctypes.c_bool()
        yield lambda count: (call(count, ctypes.byref(fault)), fault.value)


def agrees(made, converter, run):
    """At every count, and beyond them the fault is set where it is tested, and no integer overflows."""
    counts = converter.every_count()
    results, faults = zip(*(run(count) for count in counts.tolist()), strict=True)
    assert np.array_equal(in_channels_unit(made, results), made.shown(counts, converter))
    assert list(faults) == [not made.first_good <= count <= made.last_good for count in counts.tolist()]
    beyond, fault = run(2**32 - 1)
    assert fault == (made.tests[1] is not None)  # what no converter makes is not tested
    assert beyond == results[-1] or not made.is_integer


@pytest.mark.parametrize("converter", [TWELVE, FINE], ids=["12 bit", "16 bit"])
@pytest.mark.parametrize("kind", KINDS)
def test_the_compiled_function_agrees_at_every_count(kind, converter):
    if converter is FINE and KINDS[kind][1].get("int_bits") == 16:
        pytest.skip("a 16-bit count does not fit a signed 16-bit integer")
    made = function("c", kind, converter)
    with compiled(made) as run:
        agrees(made, converter, run)


@pytest.mark.parametrize("kind", KINDS)
def test_the_structured_text_agrees_at_every_count(kind):
    made = function("st", kind, TWELVE)
    agrees(made, TWELVE, Program(made.text).run)


NAMES = ("PT-201", "2nd probe", "Öl */ int x; /*", "*) END_FUNCTION (*", "/*/", "a\nb")


@pytest.mark.parametrize("name", NAMES)
def test_what_a_person_typed_stays_within_the_comment(name):
    """Tags, names and units end no comment, begin none, and make a name that both languages take."""
    for language in ("c", "st"):
        for of in ("slope", "ratio"):
            named = Named(name, f"{name}: {name}", f"kPa{name}", f"V{name}")
            made = pack_in_full(GAS, TWELVE, PackSpec(form=language, code_of=of), Around((0.0, 250.0), (), named)).form
            if language == "st":
                agrees(made, TWELVE, Program(made.text).run)
            else:
                with compiled(made) as run:
                    agrees(made, TWELVE, run)


def test_small_numbers_have_a_point_in_structured_text():
    flat = Line.through((0.0, 0.0), (5.0, 1e-7), (0.0, 5.0))
    made = pack_in_full(flat, TWELVE, PackSpec(form="st", decimals=None)).form
    assert "2.0e-08 * signal + 0.0;" in made.text
    agrees(made, TWELVE, Program(made.text).run)


def test_the_function_says_what_it_does_and_when_not_to_use_it():
    text = function("c", "table", TWELVE).text
    assert "PT-201: burner gas pressure" in text
    assert "From the converter's count to the value in kPa, by a table of knots joined by straight lines." in text
    assert "the value is then not to be used" in text
    assert function("st", "ratio to nearest", TWELVE).text.splitlines()[5] == "FUNCTION PT_201_VALUE : DINT"
