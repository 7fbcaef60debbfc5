"""Serves the plant: the controller over Modbus, two instruments over SCPI, a logger on a pty, and the plant's knobs.

Everything listens on loopback only.
"""

import asyncio
import json
import logging
import os
import signal
import stat
import termios
import time
import tty
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np

from ...core.words.errors import YardstickError
from ..errors import NoLink
from .knobs import obeyed
from .layout import DEVICE_ID, HOST, LOGGER_BAUD, LOGGER_DEVICE, REGISTERS, Places
from .plant import Plant
from .scpi import Instrument, gauge, meter

log = logging.getLogger(__name__)
_TICK_S = 0.02
_GARBAGE = 48
_BAUDS = {
    getattr(termios, f"B{baud}"): baud for baud in (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200, 230400)
}  # fmt: skip


class Rig:
    """Runs until it is cancelled; `places` tells where everything is once it serves."""

    def __init__(self, plant: Plant, wanted: Places, name: str = "Kiln 2") -> None:
        self.plant, self.name = plant, name
        self.places = wanted
        self.silent_until = 0.0  # monotonic: the controller does not answer before
        self.logger_baud = LOGGER_BAUD
        self._wanted = wanted
        self._modbus: Any = None
        self._servers: list[asyncio.Server] = []
        self._master = self._slave = -1
        self._link = Path(LOGGER_DEVICE)
        self.missing: list[str] = []  # what this machine does not let it serve, and why

    # -- starting ---------------------------------------------------------------------------------------------------

    async def start(self) -> None:
        """Take the wanted ports, or free ones where they are taken. Raises: NoLink."""
        modbus = await self._serve_modbus(self._wanted.modbus)
        ports = []
        for wanted, make in (
            (self._wanted.gauge, gauge), (self._wanted.meter, meter),
        ):  # fmt: skip
            ports.append(await self._serve(wanted, self._instrument(make(self.plant))))
        knobs = await self._serve(self._wanted.knobs, self._turn_knobs)
        self.places = Places(modbus, ports[0], ports[1], knobs, self._open_pty(modbus == self._wanted.modbus))

    async def _serve_modbus(self, wanted: int) -> int:
        from pymodbus.server import ModbusTcpServer
        from pymodbus.simulator import DataType, SimData, SimDevice

        logging.getLogger("pymodbus").setLevel(logging.CRITICAL)  # a client that goes is no news
        for port in (wanted, 0):
            data = SimData(0, count=REGISTERS, values=0, datatype=DataType.REGISTERS)
            device = SimDevice(id=DEVICE_ID, simdata=[data], action=self._answered)
            server = ModbusTcpServer(device, address=(HOST, port))
            with suppress(RuntimeError, OSError):
                await server.serve_forever(background=True)
                self._modbus = server
                return int(server.transport.sockets[0].getsockname()[1])  # type: ignore[attr-defined]
        raise NoLink(f"No port of {HOST} could be taken for the controller.")

    async def _answered(
        self,
        _function: int,
        start: int,
        address: int,
        count: int,
        registers: list[int],
        written: list[int] | list[bool] | None,
    ) -> None:
        """Before each answer: registers as the plant has them now; what is written goes into its packings."""
        while time.monotonic() < self.silent_until:
            await asyncio.sleep(0.05)
        image = self.plant.image
        if written is not None:
            self.plant.written(address, [int(word) for word in written[:count]])
            return
        registers[address - start : address - start + count] = image[address : address + count].tolist()

    async def _serve(self, wanted: int, talk: Callable[[str], str | None]) -> int:
        async def handle(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            with suppress(ConnectionError, asyncio.IncompleteReadError):
                while line := await reader.readline():
                    answer = talk(line.decode("utf-8", "replace").strip())
                    if answer is not None:
                        writer.write(answer.encode() + b"\n")
                        await writer.drain()
            writer.close()

        for port in (wanted, 0):
            with suppress(OSError):
                server = await asyncio.start_server(handle, HOST, port)
                self._servers.append(server)
                return int(server.sockets[0].getsockname()[1])
        raise NoLink(f"No port of {HOST} could be taken.")

    @staticmethod
    def _instrument(made: Instrument) -> Callable[[str], str | None]:
        return made.answer

    def _turn_knobs(self, line: str) -> str:
        try:
            return json.dumps(obeyed(self, json.loads(line)))
        except (YardstickError, ValueError, KeyError, TypeError) as error:
            return json.dumps({"error": str(error)})

    def _open_pty(self, lasting: bool) -> str:
        """A pty for the logger, empty where there is none to be had; the rig on its own ports has a link to it with a
        lasting name, if that is safe.
        """
        try:
            self._master, self._slave = os.openpty()
        except OSError as error:  # some containers have none
            self.missing.append(f"the small logger, as no pseudo-terminal can be had here ({error.strerror or error})")
            return ""
        tty.setraw(self._slave)
        settings = termios.tcgetattr(self._slave)
        settings[4] = settings[5] = termios.B115200
        termios.tcsetattr(self._slave, termios.TCSANOW, settings)
        os.set_blocking(self._master, False)
        device = os.ttyname(self._slave)
        if not lasting:
            return device
        with suppress(OSError):
            self._link.parent.mkdir(mode=0o700, exist_ok=True)
            about = self._link.parent.lstat()
            if about.st_uid == os.getuid() and stat.S_ISDIR(about.st_mode):
                self._link.unlink(missing_ok=True)
                self._link.symlink_to(device)
                return str(self._link)
        return device

    # -- running ----------------------------------------------------------------------------------------------------

    async def run(self) -> None:
        """Make scans as they fall due, until cancelled."""
        began = time.monotonic()
        try:
            while True:
                fast = self.plant.advance(time.monotonic() - began)
                self._log(fast)
                await asyncio.sleep(_TICK_S)
        finally:
            await self.stop()

    async def stop(self) -> None:
        """Let go of every port."""
        for server in self._servers:
            server.close()
        if self._modbus is not None:
            await self._modbus.shutdown()
            self._modbus = None
        if self._master >= 0:
            with suppress(OSError):
                if self._link.is_symlink() and os.readlink(self._link) == os.ttyname(self._slave):
                    self._link.unlink()
            os.close(self._master)
            os.close(self._slave)
            self._master = -1

    def _log(self, rows: list[tuple[int, int]]) -> None:
        """Lines of the logger; whoever listens at another speed gets garbage, as on a real line."""
        if not rows or self._master < 0:
            return
        if self._heard_at() != self.logger_baud:
            data = np.random.default_rng(rows[0][0]).integers(0, 256, _GARBAGE).astype(np.uint8).tobytes()
        else:
            tag = self.plant.logged
            data = "".join(f"n={number},{tag}={count}\n" for number, count in rows).encode()
        with suppress(BlockingIOError):
            os.write(self._master, data)

    def _heard_at(self) -> int:
        """The speed that the listener has set."""
        return _BAUDS.get(termios.tcgetattr(self._slave)[4], 0)


def serve(plant: Plant, wanted: Places, told: Callable[[dict[str, Any]], None], name: str) -> None:
    """Serve until interrupted; `told` gets the addresses once everything answers."""

    async def main() -> None:
        rig = Rig(plant, wanted, name)
        await rig.start()
        told(addresses(rig))
        running = asyncio.ensure_future(rig.run())
        asyncio.get_running_loop().add_signal_handler(signal.SIGTERM, running.cancel)
        await running

    with suppress(KeyboardInterrupt, asyncio.CancelledError):
        asyncio.run(main())


def addresses(rig: Rig) -> dict[str, Any]:
    """Where everything is, as plain data."""
    places = rig.places
    return {
        "rig": rig.name,
        "modbus": {"host": HOST, "port": places.modbus, "device_id": DEVICE_ID},
        "gauge": {"host": HOST, "port": places.gauge, "resource": f"TCPIP::{HOST}::{places.gauge}::SOCKET"},
        "meter": {"host": HOST, "port": places.meter, "resource": f"TCPIP::{HOST}::{places.meter}::SOCKET"},
        "logger": {"device": places.logger, "baud": rig.logger_baud},
        "knobs": {"host": HOST, "port": places.knobs},
        "missing": rig.missing,
        "speed": rig.plant.speed,
        "faults": {
            tag: one.fault.cause for tag, one in rig.plant.channels.items() if one.fault.cause != "healthy"
        },
    }  # fmt: skip
