"""Starting and stopping a rig, and waiting with an end: what the tests of the live bench share."""

import json
import subprocess
import sys
import time

from able_yardstick.bench.rig.layout import Places


def until(what, seconds=8.0, step=0.02):
    """Wait until something is so; gives what it gave."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found = what()
        if found:
            return found
        time.sleep(step)
    raise AssertionError(f"not so within {seconds} s: {what}")


def start_rig(*arguments):
    process = subprocess.Popen(
        [sys.executable, "-m", "able_yardstick", "rig", "--free-ports", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    line = process.stdout.readline()
    if not line:
        raise AssertionError(process.communicate(timeout=10)[1])
    return process, json.loads(line)


def stop_rig(process):
    process.terminate()
    process.communicate(timeout=10)


def places_of(told):
    return Places(
        told["modbus"]["port"], told["gauge"]["port"], told["meter"]["port"], told["knobs"]["port"],
        told["logger"]["device"],
    )  # fmt: skip
