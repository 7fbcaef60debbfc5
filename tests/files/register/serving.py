"""A PostgreSQL of the tests' own on loopback: made in a folder, started, stopped in the middle, started again."""

import os
import pwd
import shutil
import socket
import subprocess
from pathlib import Path

import pytest


def programs() -> Path:
    """Where Debian keeps them. The test is left out where none is installed."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: float(path.parts[-3]))
    if not found:
        pytest.skip("PostgreSQL is not installed")
    return found[-1].parent


class Server:
    """A cluster in a folder. It refuses to run as root, so it runs as its own user then."""

    def __init__(self, folder: Path) -> None:
        self.bin, self.folder = programs(), folder / "cluster"
        folder.mkdir(parents=True, exist_ok=True)
        self._as = {}
        if os.geteuid() == 0:
            owner = pwd.getpwnam("postgres")
            self._as = {"user": owner.pw_uid, "group": owner.pw_gid, "extra_groups": []}
            os.chown(folder, owner.pw_uid, owner.pw_gid)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.log = folder / "log"
        self._run("initdb", "-D", self.folder, "-U", "bench", "--auth=trust", "-N", "--no-locale", "-E", "UTF8")
        self.start()

    def _run(self, program, *words):
        command = [str(self.bin / program), *map(str, words)]
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, cwd="/", **self._as)

    @property
    def url(self) -> str:
        return f"postgresql://bench@127.0.0.1:{self.port}/postgres"

    def start(self) -> None:
        options = f"-p {self.port} -h 127.0.0.1 -k {self.folder}"
        self._run("pg_ctl", "-D", self.folder, "-w", "-t", "60", "-l", self.log, "-o", options, "start")

    def stop(self) -> None:
        """As if it went away: no one is waited for."""
        self._run("pg_ctl", "-D", self.folder, "-m", "immediate", "-w", "stop")

    def remove(self) -> None:
        self.stop()
        shutil.rmtree(self.folder.parent, ignore_errors=True)
