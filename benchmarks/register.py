"""The register: what searching, the due list and a unit's history cost in a shop of many units.

    python benchmarks/register.py [thousands of records]        or --smallest

Ten records a unit, their text that of a whole record, on SQLite. Figures are ratios to what is wanted, below 1 where it
is met. Search is what one types letter by letter, the slowest of them.
"""

import sys
import tempfile
import time
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from sqlalchemy import insert

MOST_SEARCH_MS, MOST_DUE_MS, MOST_HISTORY_MS = 50.0, 200.0, 100.0
TYPED = (
    "p",
    "pt",
    "pt-7",
    "pt-77",
    "k-004",
    "k-00417",
    "2026-0",
    "fail",
    "kiln 7",
    "ada",
    "ada fail kiln",
    "pt-9 ben",
    "zz",
)
REPEATS = 9


def main() -> None:
    from able_yardstick.files.register.store import Register, url_of_file

    asked = sys.argv[1] if len(sys.argv) > 1 else "100"
    records = 200 if asked == "--smallest" else round(float(asked) * 1000)
    with tempfile.TemporaryDirectory(prefix="able-yardstick-bench-") as folder:
        path = Path(folder) / "register.sqlite"
        with Register(url_of_file(path)) as register:
            fill(register, records)
            print(f"{records // 10} units, {records} records, {path.stat().st_size / 1e6:.0f} MB")
            measure(register, records // 10)


def fill(register, records: int) -> None:
    """Put made-up units and records in, past verification: what is measured is asking."""
    from able_yardstick.files.register.schema import DUES, RECORDS, UNITS, WORDS
    from able_yardstick.files.register.take import packed, split_words

    body = packed(sealed_once())
    start, units = datetime(2020, 1, 1, tzinfo=UTC), records // 10
    with register.transaction() as connection:
        connection.execute(insert(UNITS), [unit_row(n) for n in range(units)])
        connection.execute(insert(DUES), [due_row(n) for n in range(units)])
        for at in range(0, records, 2000):
            rows = [
                record_row(n, n // 10, body, start + timedelta(hours=n * 0.6))
                for n in range(at, min(at + 2000, records))
            ]
            connection.execute(insert(RECORDS), rows)
            words = []
            for row in rows:
                texts = (row["tag"], f"K-{row['unit'][2:]}", row["title"], row["person"], f"{row['signed']:%Y-%m-%d}",
                         row["left"], f"found-{row['found']}", f"left-{row['left']}")  # fmt: skip
                found = {word for text in texts for word in split_words(text)}
                words += [{"word": word, "record": row["sha256"]} for word in found]
            connection.execute(insert(WORDS), words)


def sealed_once() -> dict:
    """A whole record of the demo."""
    from able_yardstick.demo.visits import earlier_records

    return next(record for _name, record in earlier_records())


def unit_row(n: int) -> dict:
    return {"key": f"K-{n:05d}", "maker": "", "model": "", "serial": f"K-{n:05d}", "name": "Pressure",
            "tag": f"PT-{n % 1000}", "place": f"Kiln {n % 40}", "quantity": "gauge pressure"}  # fmt: skip


def due_row(n: int) -> dict:
    return {"unit": f"K-{n:05d}", "due": date(2026, 1, 1) + timedelta(days=n % 700), "months": 12, "rule": "staircase",
            "reason": "", "person": "", "in_use": True}  # fmt: skip


def record_row(n: int, unit: int, body: str, at: datetime) -> dict:
    return {"sha256": f"{n:064x}", "unit": f"K-{unit:05d}", "tag": f"PT-{unit % 1000}", "job": "bench",
            "title": f"Kiln {unit % 40}", "signed": at, "person": ("Ada", "Ben", "Cid")[n % 3], "number": n % 10 + 1,
            "found": "fail" if n % 7 == 0 else "pass", "left": "pass", "previous": "", "corrects": "",
            "signatures": 1, "body": body}  # fmt: skip


def best_ms(act) -> float:
    """The median time of an act, in ms."""
    spent = []
    for _ in range(REPEATS):
        began = time.perf_counter()
        act()
        spent.append((time.perf_counter() - began) * 1e3)
    return sorted(spent)[len(spent) // 2]


def measure(register, units: int) -> None:
    """Print what each question costs."""
    from able_yardstick.files.register.find import due_units, find, history
    from able_yardstick.files.register.visits import visits_in

    slowest = max((best_ms(lambda typed=typed: find(register, typed)), typed) for typed in TYPED)
    print(f"search, slowest “{slowest[1]}”: {slowest[0]:6.1f} ms, {slowest[0] / MOST_SEARCH_MS:.2f} of what is wanted")
    soon = best_ms(lambda: due_units(register, date(2026, 3, 1)))
    print(f"due by a day:           {soon:6.1f} ms, {soon / MOST_DUE_MS:.2f} of what is wanted")
    everything = best_ms(lambda: due_units(register))
    print(f"due, every unit:        {everything:6.1f} ms, {everything / MOST_DUE_MS:.2f} of what is wanted")
    key = f"K-{units // 2:05d}"
    opened = best_ms(lambda: visits_in(history(register, key)))
    print(f"a unit's history:       {opened:6.1f} ms, {opened / MOST_HISTORY_MS:.2f} of what is wanted")


if __name__ == "__main__":
    main()
