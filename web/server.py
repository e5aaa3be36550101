"""How the web server keeps its threads from slow clients, spreads requests over its processes, and its cores from too many at once."""

from __future__ import annotations

import ctypes
import fcntl
import gc
import hashlib
import io
import mmap
import os
import socket
import statistics
import struct
import tempfile
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from gunicorn.util import close_graceful
from gunicorn.workers.gthread import ThreadWorker

from web.addresses import Network, client_address

SILENT = 10  # seconds without a byte, after which a client that has not finished its request is dropped
WHOLE = 10.0  # seconds for the head of a request, and again for its body, however its bytes come
SLOWEST = 20_000.0  # bytes a second that a longer body must come in at, on the average
READING = 40  # bodies that a process reads at once: the other threads stay free for what has arrived, and for health
DEAF = 60  # seconds without taking a byte of the answer
MOST_READ_AWAY = 1_000_000_000  # bytes of a body that is too large: so much is read, that its sender hears why
AT_ONCE = 1  # requests of one process that compute at the same time; the others wait their turn
BESIDE = 0.15  # seconds after which somebody who has used less computes beside the one that holds him up
LONGEST_WAIT = 1.5  # seconds for a turn; then a request computes beside others' that hold it up
MOST_BESIDE = 2  # requests that compute beside so; more would only share the core
LOOK, STALLED = (
    0.3,
    0.05,
)  # seconds between looks at a request that has its turn, and the share of them that one takes which computes
OWN_WAIT = 30.0  # seconds for a turn, while requests of the same person compute
# Whoever took more than these seconds of a processor lately, and so many times as much as most, computes in one process at a time.
GREEDY = (2.0, 3.0)
REST = 2.0  # times as long as such a request took, before the next of them: others need the cores
GREEDY_WEIGHT = (
    2  # requests that a process seems to have more in hand while it computes for such a one: new ones go to the others
)
MOST_WAITING = 30  # requests of one person that wait in one process
MOST_AT = 48  # and of one address, where many may sit that nobody is known of
HALVED = 10.0  # seconds in which what somebody has used counts half
MUCH_MORE = 0.5  # processor seconds between one who asks for much and one who does not
MOST_COUNTED = 100  # of whom it counts the seconds, however few they are by now
MOST_UNKNOWN = 100  # sessions and keys of one address that count for themselves before they are known
MOST_KNOWN = 20_000  # sessions and keys that a process remembers
LINGER = 0.5  # seconds for a client to close its side of a connection that is closed
PATIENCE = 0.05  # seconds for which a new connection is left to a process that has fewer requests in hand
PLACES = 64  # processes at most
# Bytes that a process holds; one that has grown over it finishes what it has in hand, and is replaced.
MOST_MEMORY = 1_000_000 * int(os.environ.get("SUNDIAL_WEB_MB", "450"))
ENOUGH = 0.95  # of it, after everything was forgotten that can be computed again; else the process is replaced
SHED: list[Callable[[], None]] = []  # what forgets it
LOOK_EVERY = 20  # requests between looks at its memory
APART = 10.0  # seconds between two processes that are replaced
ADDRESS = "address "  # what the name of a caller begins with whose session or key is not known
Application = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class InHand:
    """How many requests each process has in hand, in memory that all of them see: made before they part."""

    def __init__(self) -> None:
        self._counts = memoryview(mmap.mmap(-1, 4 * PLACES)).cast("i")
        self._last_left = memoryview(mmap.mmap(-1, 8)).cast("d")
        self._changing = threading.Lock()
        self.place = 0
        self.processes = 1

    def may_leave(self) -> bool:
        """Whether no process has left within ``APART``: they are not replaced all at once."""
        now = time.monotonic()
        if now - self._last_left[0] < APART:
            return False
        self._last_left[0] = now
        return True

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
    _handled = 0
    alive: bool
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
        self._handled += 1
        if (
            self._handled % LOOK_EVERY == 0
            and memory_held() > MOST_MEMORY
            and not shrunk()
            and self.alive
            and IN_HAND.may_leave()
        ):
            self.log.warning("process %s holds %d MB and is replaced", self.pid, memory_held() / 1e6)
            self.alive = False
            self.method_queue.defer(lambda: None)  # wakes the loop that accepts
        if not kept and not conn.is_http2:
            # Gunicorn waits in its only accepting thread for the client to close as well; here it costs no one else.
            conn.sock.setblocking(True)
            close_graceful(conn.sock, timeout=LINGER)
            conn.close = lambda graceful=False: None
        return kept


def shrunk() -> bool:
    """Forget what can be computed again, and whether that was enough."""
    for forget in SHED:
        forget()
    gc.collect()
    with suppress(OSError, AttributeError):  # another C library gives back by itself
        ctypes.CDLL("libc.so.6").malloc_trim(0)
    return memory_held() < ENOUGH * MOST_MEMORY


def memory_held() -> int:
    """Bytes of memory that this process holds (Linux's resident set)."""
    with open("/proc/self/statm", encoding="ascii") as told:
        return int(told.read().split()[1]) * mmap.PAGESIZE


def head_is_here(number: int) -> None:
    """The head of a request has come, or never will."""
    waiting = HEADS.pop(number, None)
    if waiting is not None:
        waiting.met()


@dataclass(eq=False)
class Waiting:
    """One request that waits for its turn: whose it is, and since when."""

    who: str
    since: float


class Running:
    """One request that has its turn. It is stalled while it takes next to no processor time: it waits for a database, not for a core."""

    def __init__(self, who: str, now: float) -> None:
        self.who, self.thread = who, threading.get_ident()
        self._clock = time.pthread_getcpuclockid(self.thread)
        self._seen, self._spent, self._stalled = now, self._cpu(), False

    def _cpu(self) -> float:
        try:
            return time.clock_gettime(self._clock)
        except OSError:  # its thread has ended
            return float("inf")

    def stalled(self, now: float) -> bool:
        """Looked at every ``LOOK`` seconds."""
        if now - self._seen >= LOOK:
            spent = self._cpu()
            self._stalled = spent - self._spent < STALLED * (now - self._seen)
            self._seen, self._spent = now, spent
        return self._stalled


class OneProcess:
    """A place that one process at a time has, with a rest after each time, and that is free again when the process ends, however it ends: a
    lock on a file without a name, made before the processes part."""

    def __init__(self) -> None:
        self._file = tempfile.TemporaryFile()  # noqa: SIM115  (it lives as long as the process)
        self._free_from = memoryview(mmap.mmap(-1, 8)).cast("d")
        self._since = 0.0
        self.mine = False

    def take(self) -> bool:
        if not self.mine and time.monotonic() >= self._free_from[0]:
            with suppress(OSError):
                fcntl.lockf(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                self.mine, self._since = True, time.monotonic()
        return self.mine

    def leave(self) -> None:
        if self.mine:
            self.mine = False
            now = time.monotonic()
            self._free_from[0] = now + REST * (now - self._since)
            fcntl.lockf(self._file, fcntl.LOCK_UN)


class FairTurns:
    """Turns at the core of one process. The next one goes to whoever has had least of it lately, so that somebody who asks for much at once
    waits for himself and for nobody else; and he computes in one process at a time, with a rest after each time, so that the cores stay free. While others' requests
    compute long, whoever has used less goes beside them after ``BESIDE``, one at a time; nobody waits longer than ``LONGEST_WAIT`` for others, nor
    than ``OWN_WAIT`` for requests of his own."""

    def __init__(
        self, at_once: int = AT_ONCE, clock: Callable[[], float] = time.monotonic, greedy: OneProcess | None = None
    ) -> None:
        self._at_once, self._clock, self._greedy = at_once, clock, greedy
        self._changed = threading.Condition()
        self._waiting: list[Waiting] = []
        self._running: list[Running] = []
        self._used: dict[str, tuple[float, float]] = {}  # by whom: processor seconds, and when they were counted
        self._for: str | None = None  # the greedy one who computes here

    def used(self, who: str) -> float:
        """Processor seconds that somebody's requests took lately: halved every ``HALVED`` seconds."""
        seconds, when = self._used.get(who, (0.0, 0.0))
        return seconds * 0.5 ** ((self._clock() - when) / HALVED) if seconds else 0.0

    def is_greedy(self, who: str) -> bool:
        """Whether somebody took much lately, and many times as much as most of those who are here."""
        mine = self.used(who)
        if mine <= GREEDY[0]:
            return False
        everyone = [used for one in self._used if (used := self.used(one)) > 0.02]
        return len(everyone) > 1 and mine > GREEDY[1] * statistics.median_low(everyone)

    def take(self, who: str) -> bool:
        """Wait for a turn; False where so many of this person's requests wait that this one is not taken, or where
        it waited for ``OWN_WAIT`` behind them."""
        with self._changed:
            if sum(one.who == who for one in self._waiting) >= (MOST_AT if _is_many(who) else MOST_WAITING):
                return False
            mine = Waiting(who, self._clock())
            self._waiting.append(mine)
            while not self._may(mine):
                self._changed.wait(0.05)
                if self._clock() - mine.since > OWN_WAIT and self._greedy is not None and self.is_greedy(who):
                    self._waiting.remove(mine)
                    return False
            self._waiting.remove(mine)
            self._running.append(Running(who, self._clock()))
            if self._greedy is not None and self._greedy.mine and self._for is None:
                self._for = who
                IN_HAND.add(GREEDY_WEIGHT)
            self._changed.notify_all()
            return True

    def give_back(self, who: str, seconds: float) -> None:
        """A turn is over; it took so many processor seconds."""
        with self._changed:
            his = [one for one in self._running if one.who == who]
            self._running.remove(next((one for one in his if one.thread == threading.get_ident()), his[0]))
            self._used[who] = (self.used(who) + seconds, self._clock())
            if self._for == who and self._greedy is not None:
                self._for = None
                IN_HAND.add(-GREEDY_WEIGHT)
                self._greedy.leave()
            if len(self._used) > MOST_COUNTED:
                self._used = {one: kept for one, kept in self._used.items() if self.used(one) > 0.01}
            self._changed.notify_all()

    def _may(self, mine: Waiting) -> bool:
        now = self._clock()
        waited = now - mine.since
        running = [one for one in self._running if not one.stalled(now)]
        his_own = any(one.who == mine.who for one in running)
        if self._greedy is not None and self.is_greedy(mine.who):
            return not his_own and len(running) < self._at_once and self._is_next(mine) and self._greedy.take()
        if waited > OWN_WAIT:
            return True
        if len(running) < self._at_once:
            return self._is_next(mine)
        if (his_own and not _is_many(mine.who)) or not self._is_next(mine):
            return False
        if waited > LONGEST_WAIT:
            return len(running) < self._at_once + MOST_BESIDE
        greedier = all(self.used(one.who) > self.used(mine.who) + MUCH_MORE for one in running)
        return waited > BESIDE and len(running) <= self._at_once and greedier

    def _is_next(self, mine: Waiting) -> bool:
        """Whether, of those that wait and have none computing, this one is of whoever has used least."""
        at_work = {one.who for one in self._running}
        others = [one for one in self._waiting if one.who not in at_work]
        return min(others or self._waiting, key=lambda one: (self.used(one.who), one.since)) is mine


def _is_many(who: str) -> bool:
    """Whether this may be many people: an address that nobody is known at."""
    return who.startswith(ADDRESS)


class Callers:
    """Whose a request is, before anything is asked of a database: by what a process remembers of sessions and keys; else by the session or key
    itself, of so many an address as a school has; else by the address, so that invented sessions are nobody's."""

    def __init__(self, cookie: str = "sessionid", trusted: Sequence[Network] = ()) -> None:
        self._cookie, self._trusted = f"{cookie}=", trusted
        self._known: OrderedDict[str, str] = OrderedDict()
        self._unknown: OrderedDict[str, set[str]] = OrderedDict()  # by address: sessions and keys that nobody has vouched for yet
        self._changing = threading.Lock()

    def who(self, environ: dict[str, Any]) -> str:
        mark, address = self._mark(environ), client_address(environ, self._trusted)
        with self._changing:
            known = self._known.get(mark) if mark else None
            if known is not None:
                self._known.move_to_end(mark)
                return known
            unknown = self._unknown.setdefault(address, set())
            self._unknown.move_to_end(address)
            while len(self._unknown) > MOST_KNOWN:
                self._unknown.popitem(last=False)
            if mark and (mark in unknown or len(unknown) < MOST_UNKNOWN):
                unknown.add(mark)
                return f"session {mark}"
        return f"{ADDRESS}{address}"

    def remember(self, environ: dict[str, Any], who: str) -> None:
        """What carries this request's session or key is that person's, or that device's."""
        mark = self._mark(environ)
        if mark:
            with self._changing:
                self._known[mark] = who
                self._unknown.get(client_address(environ, self._trusted), set()).discard(mark)
                self._known.move_to_end(mark)
                while len(self._known) > MOST_KNOWN:
                    self._known.popitem(last=False)

    def _mark(self, environ: dict[str, Any]) -> str:
        key = str(environ.get("HTTP_AUTHORIZATION") or "")
        if not key:
            parts = str(environ.get("HTTP_COOKIE") or "").split(";")
            key = next((part.strip() for part in parts if part.strip().startswith(self._cookie)), "")
        return hashlib.blake2b(key.encode("utf-8", "replace"), digest_size=16).hexdigest() if key else ""


class Turns:
    """A WSGI application whose requests take turns: those of one process would only share its core. A body is read before its
    turn comes, so that whoever sends it slowly holds up a thread and nobody else; one over ``largest`` is read away, so that
    its sender hears the refusal. Files of the page take no turn."""

    def __init__(self, application: Application, largest: int, at_once: int = AT_ONCE, callers: Callers | None = None) -> None:
        self._application, self._largest = application, largest
        self._turns = FairTurns(at_once, greedy=OneProcess())
        self._callers = callers or Callers()
        self._reading = threading.BoundedSemaphore(READING)

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        sock = environ.get("gunicorn.socket")
        if sock is not None:
            head_is_here(sock.fileno())
        path = environ.get("PATH_INFO") or ""
        if path == "/healthz":  # alive, however many wait
            return self._application(environ, start_response)
        try:
            length = int(environ.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if length > 0:
            if not self._reading.acquire(timeout=LONGEST_WAIT):
                return _refused(
                    start_response, "503 Service Unavailable", "Too many send slowly just now: try again in a moment."
                )
            try:
                body = _whole_body(environ, length, sock, self._largest)
            finally:
                self._reading.release()
            if body is None:
                return _refused(start_response, "408 Request Timeout", "The rest of the request did not come.")
            environ["wsgi.input"] = io.BytesIO(body)
        if path.startswith("/static/"):
            return self._application(environ, start_response)
        who = self._callers.who(environ)
        IN_HAND.add(1)
        try:
            if not self._turns.take(who):
                return _refused(
                    start_response, "429 Too Many Requests", "So much at once is too much: wait until some of it is answered."
                )
            begun = time.thread_time()
            try:
                return self._application(environ, start_response)
            finally:
                self._turns.give_back(who, time.thread_time() - begun)
        finally:
            IN_HAND.add(-1)


def _refused(start_response: Callable[..., Any], status: str, words: str) -> list[bytes]:
    start_response(status, [("Content-Type", "text/plain; charset=utf-8"), ("Connection", "close"), ("Retry-After", "5")])
    return [f"{words}\n".encode()]


def _whole_body(environ: dict[str, Any], length: int, sock: socket.socket | None, largest: int) -> bytes | None:
    """The body, or None where it did not come in time; empty where it is over ``largest``, and read away so far as it came."""
    deadline = Deadline(sock, WHOLE + min(length, largest) / SLOWEST) if sock is not None else None
    try:
        if length > largest:
            left = min(length, MOST_READ_AWAY)
            while left > 0 and (part := environ["wsgi.input"].read(min(left, 1 << 20))):
                left -= len(part)
            return b""
        body: bytes = environ["wsgi.input"].read(length)
    except OSError:  # silent for too long
        return b"" if length > largest else None
    finally:
        if deadline is not None:
            deadline.met()
    return body if len(body) == length else None
