"""How the web server keeps its threads from slow clients, spreads requests over its processes, and its cores from too many at once."""

from __future__ import annotations

import io
import mmap
import socket
import struct
import threading
import time
from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import Any

from gunicorn.util import close_graceful
from gunicorn.workers.gthread import ThreadWorker

SILENT = 10  # seconds without a byte, after which a client that has not finished its request is dropped
WHOLE = 10.0  # seconds for the head of a request, and again for its body, however its bytes come
SLOWEST = 20_000.0  # bytes a second that a longer body must come in at, on the average
READING = 40  # bodies that a process reads at once: the other threads stay free for what has arrived, and for health
DEAF = 60  # seconds without taking a byte of the answer
AT_ONCE = 1  # requests of one process that compute at the same time; the others wait their turn
LONGEST_WAIT = 1.5  # seconds for a turn; then a request computes beside those that hold it up
LINGER = 0.5  # seconds for a client to close its side of a connection that is closed
PATIENCE = 0.05  # seconds for which a new connection is left to a process that has fewer requests in hand
PLACES = 64  # processes at most
Application = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class InHand:
    """How many requests each process has in hand, in memory that all of them see: made before they part."""

    def __init__(self) -> None:
        self._counts = memoryview(mmap.mmap(-1, 4 * PLACES)).cast("i")
        self._changing = threading.Lock()
        self.place = 0
        self.processes = 1

    def add(self, number: int) -> None:
        with self._changing:
            self._counts[self.place] += number

    def clear(self, place: int) -> None:
        self._counts[place] = 0

    def another_has_fewer(self) -> bool:
        return min(self._counts[: self.processes]) < self._counts[self.place]


IN_HAND = InHand()


class Deadline:
    """Ends the reading of a socket at a time, whatever drips in: what waits for more then finds its end."""

    def __init__(self, sock: socket.socket, seconds: float) -> None:
        self._timer = threading.Timer(seconds, self._end, (sock,))
        self._timer.daemon = True
        self._timer.start()

    @staticmethod
    def _end(sock: socket.socket) -> None:
        with suppress(OSError):  # it is closed already
            sock.shutdown(socket.SHUT_RD)

    def met(self) -> None:
        self._timer.cancel()


HEADS: dict[int, Deadline] = {}  # by the number of the socket, while the head of its request comes


class PatientWorker(ThreadWorker):
    """Gunicorn's worker with threads, whose sockets do not wait for ever, and which leaves new connections to an idler process."""

    place = 0  # among the processes; given before the fork (scripts/gunicorn_settings.py)
    _left = _left_last = 0.0  # when the connection that waits was first, and last, left to others

    def init_process(self) -> None:
        IN_HAND.place, IN_HAND.processes = self.place, min(self.cfg.workers, PLACES)
        self.log.error_log.addFilter(lambda record: not (record.exc_info and isinstance(record.exc_info[1], BlockingIOError)))
        super().init_process()

    def accept(self, listener: Any) -> None:
        now = time.monotonic()
        if IN_HAND.another_has_fewer():
            if now - self._left_last > PATIENCE:
                self._left = now
            if now - self._left < PATIENCE:
                self._left_last = now
                time.sleep(0.002)
                return
        super().accept(listener)

    def handle(self, conn: Any) -> Any:
        for option, seconds in ((socket.SO_RCVTIMEO, SILENT), (socket.SO_SNDTIMEO, DEAF)):
            conn.sock.setsockopt(socket.SOL_SOCKET, option, struct.pack("ll", seconds, 0))
        number = conn.sock.fileno()
        HEADS[number] = Deadline(conn.sock, WHOLE)
        try:
            kept = super().handle(conn)
        finally:
            head_is_here(number)
        if not kept and not conn.is_http2:
            # Gunicorn waits in its only accepting thread for the client to close as well; here it costs no one else.
            conn.sock.setblocking(True)
            close_graceful(conn.sock, timeout=LINGER)
            conn.close = lambda graceful=False: None
        return kept


def head_is_here(number: int) -> None:
    """The head of a request has come, or never will."""
    waiting = HEADS.pop(number, None)
    if waiting is not None:
        waiting.met()


class Turns:
    """A WSGI application whose requests take turns: those of one process would only share its core. A body is read before its
    turn comes, so that whoever sends it slowly holds up a thread and nobody else; nobody waits longer than
    ``LONGEST_WAIT`` for one that computes long or for a database that does not answer."""

    def __init__(self, application: Application, largest: int, at_once: int = AT_ONCE) -> None:
        self._application, self._largest = application, largest
        self._turns = threading.BoundedSemaphore(at_once)
        self._reading = threading.BoundedSemaphore(READING)

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        sock = environ.get("gunicorn.socket")
        if sock is not None:
            head_is_here(sock.fileno())
        if environ.get("PATH_INFO") == "/healthz":  # alive, however many wait
            return self._application(environ, start_response)
        try:
            length = int(environ.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if 0 < length <= self._largest:
            if not self._reading.acquire(timeout=LONGEST_WAIT):
                start_response(
                    "503 Service Unavailable", [("Content-Type", "text/plain"), ("Connection", "close"), ("Retry-After", "5")]
                )
                return [b"Too many send slowly just now: try again in a moment.\n"]
            try:
                body = _whole_body(environ, length, sock)
            finally:
                self._reading.release()
            if body is None:
                start_response("408 Request Timeout", [("Content-Type", "text/plain"), ("Connection", "close")])
                return [b"The rest of the request did not come.\n"]
            environ["wsgi.input"] = io.BytesIO(body)
        IN_HAND.add(1)
        mine = self._turns.acquire(timeout=LONGEST_WAIT)
        try:
            return self._application(environ, start_response)
        finally:
            IN_HAND.add(-1)
            if mine:
                self._turns.release()


def _whole_body(environ: dict[str, Any], length: int, sock: socket.socket | None) -> bytes | None:
    """The body, or None where it did not come in time."""
    deadline = Deadline(sock, WHOLE + length / SLOWEST) if sock is not None else None
    try:
        body: bytes = environ["wsgi.input"].read(length)
    except OSError:  # silent for too long
        return None
    finally:
        if deadline is not None:
            deadline.met()
    return body if len(body) == length else None
