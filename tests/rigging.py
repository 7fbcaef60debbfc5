"""Starting and stopping a rig, and waiting with an end: what the tests of the live bench share."""

import json
import socket
import subprocess
import sys
import time

from able_yardstick.bench.rig.knobs import KnobRow
from able_yardstick.bench.rig.layout import HOST, Places


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


class RefusedKnob(Exception):
    """The plant refused, in its own words."""


class Knobs:
    """A person's hands on the plant: one line of JSON each way."""

    def __init__(self, port):
        self._port = port

    def turn(self, **wanted):
        """Do one thing and get the plant's state."""
        with socket.create_connection((HOST, self._port), 5) as link:
            link.sendall(json.dumps(wanted).encode() + b"\n")
            with link.makefile("rb") as answer:
                found = json.loads(answer.readline())
        if "error" in found:
            raise RefusedKnob(found["error"])
        return found

    def rows(self):
        """All knobs as they stand."""
        return [KnobRow(**row) for row in self.turn(do="state")["rows"]]


def asked(port, query):
    """An instrument's answer to one query."""
    with socket.create_connection((HOST, port), 5) as link:
        link.sendall(query.encode() + b"\n")
        with link.makefile("rb") as answer:
            return answer.readline().decode().strip()
