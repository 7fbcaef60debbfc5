"""Read an unknown controller from pairs of a signal and what it shows."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .output import AsJson, print_json
from .points import checked

if TYPE_CHECKING:
    from ..core.path.converter import Converter
    from ..core.prove.recovery.candidates import Recovered
    from ..core.prove.recovery.pairs import SeenPairs

_ANY = 0.5


def recover(
    pairs: Annotated[Path, typer.Argument(help="CSV with the columns count (or signal) and shown.")],
    bits: Annotated[int, typer.Option(help="Bits of the converter.", min=1, max=24)] = 12,
    full_count: Annotated[
        int | None, typer.Option(help="Its full count, such as 27648; else 2^bits - 1.", min=1, max=2**24 - 1)
    ] = None,
    over: Annotated[str, typer.Option("--range", help="Signals at its ends, LO,HI.")] = "0,5",
    decimals: Annotated[
        int | None, typer.Option(help="Decimals of the display; else the most that any value has.", min=0, max=9)
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Which arithmetic makes every shown value to its last digit, and the next signal to try."""
    from ..core.prove.recovery.candidates import recovered
    from ..core.prove.recovery.next_signal import next_count
    from ..core.prove.recovery.pairs import TYPED_SLACK, seen_pairs

    converter = _converter(bits, full_count, over)
    counts, shown, by_count = _columns(pairs, converter)
    seen = seen_pairs(counts, shown, decimals, 0.0 if by_count else TYPED_SLACK)
    found = recovered(seen)
    count = next_count(seen, found, converter.full_count)
    following = None if count is None else (count if by_count else float(converter.inverse(count)))
    if as_json:
        forms = [_form(one, seen, converter) for one in found]
        print_json({"forms": forms, "next_signal": following, "unit": "counts" if by_count else converter.unit})
    else:
        _print(found, seen, converter, following, "counts" if by_count else converter.unit)


def _converter(bits: int, full_count: int | None, over: str) -> "Converter":
    from ..core.path.converter import Converter
    from .prove import range_of

    top = 2**bits - 1 if full_count is None else full_count
    low, high = range_of(over)
    made: Converter = checked(Converter, bits=max(bits, top.bit_length()), full_count=top, low=low, high=high)
    return made


def _columns(path: Path, converter: "Converter") -> tuple[list[float], list[float], bool]:
    """Counts, shown values, and whether counts were written. Raises: BadTable, OutOfRange."""
    import numpy as np

    from ..core.words.errors import OutOfRange
    from ..files.tables import parse_grid, read_text
    from .points import two_columns

    grid = parse_grid(read_text(path))
    names = [heading.name.casefold() for heading in grid.headings]
    first = next((name for name in ("count", "counts", "signal") if name in names), None)
    _, (seen, shown) = two_columns(path, *((first, "shown") if first and "shown" in names else (None, None)))
    by_count = first is None or first.startswith("count")
    if not by_count:
        return converter.forward(np.array(seen)).tolist(), shown, False
    odd = next((one for one in seen if not (0 <= one <= converter.full_count and one == int(one))), None)
    if odd is not None:
        raise OutOfRange(
            f"Expected whole counts from 0 to {converter.full_count}, found {odd:g}. Say the converter's bits, or name "
            "the column “signal”.",
            found=odd,
        )
    return seen, shown, True


def _form(one: "Recovered", pairs: "SeenPairs", converter: "Converter") -> dict[str, Any]:
    from ..core.prove.recovery.notation import in_signal

    rows = [*one.numbers, *in_signal(one, pairs, converter)]
    return {
        "name": one.kind,
        "numbers": {row.name: row.value for row in rows},
        "open": {row.name: [row.low, row.high] for row in rows},
        "rounding": one.rounding,
        "special_case_of": one.special_of,
        "chance": one.chance if one.special_of else None,
        "reproduces": _reproduces(one, pairs),
    }


def _reproduces(one: "Recovered", pairs: "SeenPairs") -> bool:
    """Whether a law of those left makes every pair: the middle of what is open may lie on an edge."""
    return bool((one.laws(pairs.counts) == pairs.steps).all(axis=1).any())


def _print(
    found: "tuple[Recovered, ...]", pairs: "SeenPairs", converter: "Converter", following: float | None, unit: str
) -> None:
    from ..core.prove.recovery.notation import in_signal
    from ..core.words.numerals import significant

    print(f"{len(pairs.counts)} pairs, shown in steps of {pairs.step:g}:")
    for one in found:
        print(f"{one.kind}{_special_words(one)}")
        for row in (*one.numbers, *in_signal(one, pairs, converter)):
            between = f"{significant(row.low, 7)} to {significant(row.high, 7)}"
            print(f"  {row.name:<18} {significant(row.value, 7):>14}   {between}")
    if following is None:
        print("Every signal is known to show what it would: nothing more to try.")
    else:
        print(f"Next: {significant(following, 6)} {unit} decides most.")


def _special_words(one: "Recovered") -> str:
    if one.special_of is None:
        return ""
    share = "any line may look like" if one.chance > _ANY else f"{100 * one.chance:.1g} % of lines look like by chance"
    return f", a case of {one.special_of} that {share}"
