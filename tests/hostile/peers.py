"""Peers that do what no instrument should: each behaviour serves one connection on loopback until it is let go."""

import random
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress

Behaviour = Callable[[socket.socket, threading.Event], None]
_IDENTITY = b"KILN,GAUGE,7,1.0\n"


def _asked(link: socket.socket) -> bytes:
    """The next question, as far as one comes."""
    return link.recv(4096)


def endless(link: socket.socket, ended: threading.Event) -> None:
    """Bytes without the end of a line, as fast as they are taken."""
    _asked(link)
    while not ended.is_set():
        link.sendall(b"1.25" * 16384)


def trickle(link: socket.socket, ended: threading.Event) -> None:
    """A byte now and then, never the end of a line."""
    _asked(link)
    while not ended.wait(0.05):
        link.sendall(b"1")


def silent(link: socket.socket, ended: threading.Event) -> None:
    """Takes everything, answers nothing."""
    ended.wait()


def closing(link: socket.socket, ended: threading.Event) -> None:
    """Lets go in the middle of an answer."""
    _asked(link)
    link.sendall(b"KILN,GA")


def _answering(answer: Callable[[int], bytes]) -> Behaviour:
    """An instrument that says who it is and has no error, and answers anything else by number."""

    def act(link: socket.socket, ended: threading.Event) -> None:
        rest, count = b"", 0
        while not ended.is_set():
            data = _asked(link)
            if not data:
                return
            *questions, rest = (rest + data).split(b"\n")
            for question in questions:
                if question.startswith(b"*IDN"):
                    link.sendall(_IDENTITY)
                elif question.startswith(b"SYST"):
                    link.sendall(b'0,"No error"\n')
                else:
                    count += 1
                    link.sendall(answer(count))

    return act


two_lines = _answering(lambda count: f"{count}.0\n{count}.5\n".encode())
no_number = _answering(lambda _count: b"<b>hello</b>\n")
not_text = _answering(lambda _count: bytes(range(128, 256)) + b"\n")
far_too_large = _answering(lambda _count: b"9" * 400 + b"\n")
long_line = _answering(lambda _count: b"1" * 100_000 + b"\n")
BEHAVIOURS: dict[str, Behaviour] = {
    "endless": endless, "trickle": trickle, "silent": silent, "closing": closing, "two lines": two_lines,
    "no number": no_number, "not text": not_text, "far too large": far_too_large, "long line": long_line,
}  # fmt: skip


@contextmanager
def serving(behaviour: Behaviour) -> Iterator[int]:
    """The port on loopback at which a behaviour is served, to one connection after the other."""
    ended = threading.Event()
    door = socket.create_server(("127.0.0.1", 0))
    door.settimeout(0.1)

    def serve() -> None:
        while not ended.is_set():
            with suppress(TimeoutError):
                link, _ = door.accept()
                with link, suppress(OSError):
                    link.settimeout(0.5)
                    while not ended.is_set():
                        try:
                            behaviour(link, ended)
                            break
                        except TimeoutError:
                            continue

    thread = threading.Thread(target=serve, name="peer")
    thread.start()
    try:
        yield door.getsockname()[1]
    finally:
        ended.set()
        thread.join(5)
        door.close()


def until(condition: Callable[[], object], seconds: float = 6.0) -> bool:
    """Whether something comes true within so many seconds."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if condition():
            return True
        time.sleep(0.02)
    return False


def noisy(chance: random.Random) -> Behaviour:
    """A peer of chance: answers to questions cut, doubled, garbled, late, or of another kind, or lets go."""

    def act(link: socket.socket, ended: threading.Event) -> None:
        while not ended.is_set():
            data = _asked(link)
            if not data:
                return
            answer = _answer_by_chance(data, chance)
            if answer is None:
                return
            link.sendall(answer)

    return act


def _answer_by_chance(asked: bytes, chance: random.Random) -> bytes | None:
    """An answer to a query in text, or to a Modbus request: nearly right, or not at all."""
    way = chance.random()
    if way < 0.05:
        return None
    right = _right_answer(asked)
    if way < 0.5:
        return right
    if way < 0.65:
        return right[: chance.randrange(len(right) + 1)]
    if way < 0.75:
        return right * chance.choice((2, 3, 50))
    if way < 0.9:
        made = bytearray(right)
        for _ in range(chance.choice((1, 2, 8))):
            made[chance.randrange(len(made))] = chance.randrange(256)
        return bytes(made)
    return bytes(chance.randrange(256) for _ in range(chance.choice((1, 7, 300, 5000))))


def _right_answer(asked: bytes) -> bytes:
    if len(asked) >= 12 and asked[2:4] == b"\0\0":  # a Modbus request: its own number and device, then registers
        count = int.from_bytes(asked[10:12], "big") % 126
        body = asked[6:8] + bytes((2 * count,)) + bytes(2 * count)
        return asked[:4] + len(body).to_bytes(2, "big") + body
    return _IDENTITY if b"IDN" in asked else b'0,"No error"\n' if b"SYST" in asked else b"101.325\n"
