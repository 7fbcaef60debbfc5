"""Attacks the program at length: every reader, mutated jobs in the window, peers of chance, and kills; prints a table.

bin/attack [--minutes N] [--seed S] [--into FILE]. Each attack runs in a process of its own, two at a time; everything
follows from the seed but the moments of kills and what comes over wires.
"""

import argparse
import json
import logging
import os
import random
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from hostile.mutations import mutated, mutated_bytes
from hostile.tally import Tally

ROOT = Path(__file__).parents[2]
_MOST_GROWN_KB = 400_000
_KILLS_OF_ONE = 8  # of one kind, before the next
_MOST_LACKING_S = 1.5


def attack_readers(tally: Tally, folder: Path) -> None:
    """Bytes and trees with something wrong, to every reader in turn."""
    from able_yardstick.demo import demo_text
    from hostile.readers import READERS, read_in_words

    examples = {name: example or demo_text().encode() for name, (_, example) in READERS.items()}
    path = folder / "input.json"
    names = [name for name in READERS for _ in range(1 if name == "job" else 12)]
    for seed in tally.seeds():
        chance, name = random.Random(seed), names[seed % len(names)]
        example = examples[name]
        if example[:1] == b"{" and chance.random() < 0.6:
            data = json.dumps(mutated(json.loads(example), chance)[0]).encode()
        else:
            data = mutated_bytes(example, chance)
        path.write_bytes(data)
        with tally.attempt(lambda name=name, seed=seed: f"{name}, seed {seed}"):
            tally.refused += read_in_words(READERS[name][0], path) == "refused"


def attack_jobs(tally: Tally, folder: Path) -> None:
    """Jobs with something wrong: opened, all of it asked for, saved and opened again, without a window."""
    from able_yardstick.demo import demo_text
    from hostile.walks import walk_job

    tree, path = json.loads(demo_text()), folder / "job.yardstick.json"
    for seed in tally.seeds():
        made, told = mutated(tree, random.Random(seed))
        path.write_text(json.dumps(made))
        with tally.attempt(lambda told=told, seed=seed: f"seed {seed}, {told[:150]}"):
            tally.refused += walk_job(path) == "refused"


def attack_window(tally: Tally, folder: Path) -> None:
    """The same jobs in the window: every step of what was changed and of two channels more, an edit, a save."""
    from hostile.window import JobWalker

    walker = JobWalker(folder)
    for seed in tally.seeds():
        chance = random.Random(seed)
        made, told = mutated(walker.tree, chance)
        with tally.attempt(lambda told=told, seed=seed: f"seed {seed}, {told[:150]}"):
            tally.refused += walker.walk(made, told, chance) == "refused"
        for error in walker.caught:
            tally.note(error, f"seed {seed}, {told[:150]}")


def attack_peers(tally: Tally, _folder: Path) -> None:
    """Instruments and controllers of chance, and the faulty ones of the tests: named, ended, and cheap."""
    from able_yardstick.bench.link import Link
    from able_yardstick.core.document.sources import ModbusSource, QueryFeed, RegisterFeed, ScpiSource
    from hostile.peers import BEHAVIOURS, noisy, serving

    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    faulty = list(BEHAVIOURS.values())
    for seed in tally.seeds():
        chance = random.Random(seed)
        behaviour = chance.choice(faulty) if chance.random() < 0.2 else noisy(chance)
        with serving(behaviour) as port, tally.attempt(lambda seed=seed: f"seed {seed}"):
            source = (
                ScpiSource(id="s", name="S", port=port, rate_hz=200, feeds=(QueryFeed(name="x"),))
                if chance.random() < 0.5
                else ModbusSource(id="s", name="S", port=port, rate_hz=200, feeds=(RegisterFeed(name="x", address=7),))
            )
            link = Link(source)
            link.start()
            time.sleep(chance.uniform(0.05, 0.8))
            error, window = link.status.error, link.streams["x"].window()
            link.ask_to_stop()
            link.wait(5)
            tally.refused += bool(error)
            assert link.has_ended, "it never ended"
            assert "fault in the program" not in error, error
            assert not len(window) or window.times_s[-1] <= time.monotonic()
            grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
            assert grown < _MOST_GROWN_KB, f"{grown} kB more"


def attack_kills(tally: Tally, folder: Path) -> None:
    """Captures, edits, logs, signatures and writes into a controller, cut off at any moment."""
    from able_yardstick.bench.rig.layout import with_places
    from able_yardstick.bench.writer import Place
    from able_yardstick.core.results.loading import image_to_write, target_of
    from able_yardstick.demo import fresh_copy
    from able_yardstick.files.jobfile import read_job
    from hostile.kills import kill_captures, kill_edits, kill_writes
    from rigging import places_of, start_rig, stop_rig

    path = fresh_copy(folder)
    rig, told = start_rig("--seed", "7")
    try:
        job = read_job(path)
        job = job.with_(document=job.document.with_(sources=with_places(job, places_of(told))))
        channel = job.continuous("at-208")
        target, first = target_of(job, channel), image_to_write(job, channel)
        second = first.with_(values=tuple(value + 1.0 for value in first.values))
        source = target.source.with_(feeds=(), history=None, history_feeds=())
        place = Place(target.address, target.layout)
        acts: tuple[Callable[[random.Random, int], None], ...] = (
            lambda chance, seed: kill_captures(path, chance, f"c{seed}-"),
            lambda chance, seed: kill_edits(path, chance, f"e{seed}-"),
            lambda chance, _: kill_writes(source, place, (first, second), chance),
            lambda chance, seed: _cut_off(folder / f"{seed}.yardlog", chance),
            lambda chance, seed: _cut_off_signing(folder / f"signed {seed}", chance),
        )
        for seed in tally.seeds():
            act = acts[seed // _KILLS_OF_ONE % len(acts)]
            with tally.attempt(lambda seed=seed: f"seed {seed}"):
                act(random.Random(seed), seed)
    finally:
        stop_rig(rig)


def _cut_off(path: Path, chance: random.Random) -> None:
    """A log is killed: it lacks at most its last second, and a moment of a busy machine."""
    from hostile.kills import kill_log

    lacks = kill_log(path, chance)
    path.unlink()
    assert lacks < _MOST_LACKING_S, f"{lacks:.2f} s are missing"


def _cut_off_signing(folder: Path, chance: random.Random) -> None:
    """Signing is killed: every record is whole, and stands once in the register."""
    import shutil

    from able_yardstick.demo import fresh_copy
    from able_yardstick.files.records.keys import key_of_seed
    from hostile.kills import kill_signing

    kill_signing(fresh_copy(folder), key_of_seed(b"0" * 32), chance)
    shutil.rmtree(folder)


# each attack with its share of the time
ATTACKS: dict[str, tuple[Callable[[Tally, Path], None], float]] = {
    "readers": (attack_readers, 0.4),
    "window": (attack_window, 0.9),
    "jobs": (attack_jobs, 0.2),
    "kills": (attack_kills, 0.25),
    "peers": (attack_peers, 0.25),
}
_TITLES = {
    "readers": "Files, lines, numbers, units and formulas, mutated, to every reader",
    "jobs": "Mutated jobs: opened, all asked for, saved, opened again",
    "window": "Mutated jobs in the window: every step, an edit, a save",
    "peers": "Peers over TCP: of chance, and the faulty ones by name",
    "kills": "Kills while capturing, editing, logging, signing, and writing into a controller",
}


def run_one(name: str, seconds: float, seed: int) -> None:
    """One attack in this process; its tally is printed as JSON."""
    logging.disable(logging.WARNING)
    tally = Tally(name, seconds, seed)
    with tempfile.TemporaryDirectory() as folder:
        ATTACKS[name][0](tally, Path(folder))
    print(tally.told(), flush=True)
    os._exit(0)  # whatever threads a hostile peer still holds


def run_all(minutes: float, seed: int) -> list[dict[str, Any]]:
    """All attacks, two at a time."""

    def begun(name: str) -> dict[str, Any]:
        seconds = minutes * 60 * ATTACKS[name][1]
        words = ["--one", name, "--seconds", str(seconds), "--seed", str(seed)]
        command = [sys.executable, "-m", "hostile.attack", *words]
        run = subprocess.run(command, cwd=ROOT / "tests", stdout=subprocess.PIPE, text=True)
        told: dict[str, Any] = (
            json.loads(run.stdout.splitlines()[-1])
            if run.stdout
            else {"name": name, "tried": 0, "refused": 0, "wrong": 1, "examples": {"it ended": str(run.returncode)}}
        )
        return told

    with ThreadPoolExecutor(2) as pool:
        return list(pool.map(begun, ATTACKS))


def table(rows: list[dict[str, Any]], minutes: float, seed: int) -> str:
    """What was tried, refused in words, and wrong, as Markdown."""
    commit = subprocess.run(["git", "rev-parse", "--short", "HEAD"], cwd=ROOT, capture_output=True, text=True).stdout
    lines = [
        "# A hard world",
        "",
        f"`bin/attack --minutes {minutes:g} --seed {seed}` on {datetime.now(UTC):%Y-%m-%d}, commit {commit.strip()}.",
        "",
        "| Attack | tried | refused in words | wrong |",
        "|---|---:|---:|---:|",
    ]
    lines += [f"| {_TITLES[row['name']]} | {row['tried']:,} | {row['refused']:,} | {row['wrong']} |" for row in rows]
    wrong = [f"- {where}: {what}" for row in rows for where, what in row["examples"].items()]
    return "\n".join([*lines, *(["", "What went wrong:", "", *wrong] if wrong else []), ""])


def main() -> None:
    """Run as the command line says; exit status 1 if anything was wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=5.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--into", type=Path)
    parser.add_argument("--one", choices=ATTACKS, help=argparse.SUPPRESS)
    parser.add_argument("--seconds", type=float, help=argparse.SUPPRESS)
    wanted = parser.parse_args()
    if wanted.one:
        run_one(wanted.one, wanted.seconds, wanted.seed)
    rows = run_all(wanted.minutes, wanted.seed)
    text = table(rows, wanted.minutes, wanted.seed)
    print(text)
    if wanted.into:
        wanted.into.write_text(text, encoding="utf-8")
    sys.exit(any(row["wrong"] for row in rows))


if __name__ == "__main__":
    main()
