"""How requests of one process take turns: whoever asks for much waits for himself, and nobody waits long for him."""

from __future__ import annotations

import os
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import pytest

from web.addresses import client_address, networks
from web.server import BESIDE, LONGEST_WAIT, MOST_UNKNOWN, MOST_WAITING, MUCH_MORE, Callers, FairTurns, OneProcess, Running


def at_work(turns: FairTurns) -> set[str]:
    return {one.who for one in turns._running}


def until(true: Callable[[], bool], seconds: float = 5.0) -> None:
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end
        time.sleep(0.005)


@pytest.fixture
def busy(monkeypatch: pytest.MonkeyPatch) -> None:
    """Whoever has a turn computes, as far as the turns can see: threads of these tests only hold theirs."""
    monkeypatch.setattr(Running, "stalled", lambda one, now: False)


def test_the_next_turn_goes_to_whoever_had_least(busy):
    turns = FairTurns()
    order: list[str] = []
    assert turns.take("busy")
    turns._used["greedy"] = (8.0, time.monotonic())

    def ask(who: str) -> None:
        assert turns.take(who)
        order.append(who)
        turns.give_back(who, 0.0)

    with ThreadPoolExecutor(6) as pool:
        for place, who in enumerate(["greedy", "greedy", "greedy", "modest"], 1):
            pool.submit(ask, who)
            until(lambda place=place: len(turns._waiting) == place)
        turns.give_back("busy", 0.0)
    assert order == ["modest", "greedy", "greedy", "greedy"], "first come, first served would be the other way round"


def test_one_that_asks_for_much_holds_up_others_only_for_a_moment(busy):
    turns = FairTurns()
    turns._used["greedy"] = (MUCH_MORE * 8, time.monotonic())
    assert turns.take("greedy")
    start = time.monotonic()
    assert turns.take("modest")
    assert BESIDE <= time.monotonic() - start < LONGEST_WAIT / 2
    second = threading.Thread(target=turns.take, args=("another",), daemon=True)
    second.start()
    time.sleep(BESIDE * 2)
    assert "another" not in at_work(turns), "one at a time goes beside: they would only share the core"
    turns.give_back("modest", 0.1)
    until(lambda: "another" in at_work(turns))


def test_equals_wait_for_each_other_and_nobody_for_ever(busy):
    turns = FairTurns()
    assert turns.take("one")
    start = time.monotonic()
    assert turns.take("two")
    assert LONGEST_WAIT <= time.monotonic() - start < LONGEST_WAIT + 1


def test_requests_of_one_person_wait_for_his_own_much_longer_and_there_is_an_end_to_them(busy):
    now = [100.0]
    turns = FairTurns(clock=lambda: now[0])
    assert turns.take("one")
    with ThreadPoolExecutor(MOST_WAITING) as pool:
        held = [pool.submit(turns.take, "one") for _ in range(MOST_WAITING)]
        until(lambda: len(turns._waiting) == MOST_WAITING)
        assert not turns.take("one"), "not taken, rather than kept waiting"
        now[0] += LONGEST_WAIT * 2
        time.sleep(0.2)
        assert not any(one.done() for one in held)
        for _ in held:
            until(lambda: bool(turns._running))
            turns.give_back("one", 0.0)
        assert all(one.result(5) for one in held)


def test_an_address_may_be_many_people_and_waits_for_its_own_no_longer_than_for_others(busy):
    turns = FairTurns()
    assert turns.take("address 192.0.2.7")
    start = time.monotonic()
    assert turns.take("address 192.0.2.7")
    assert LONGEST_WAIT <= time.monotonic() - start < LONGEST_WAIT + 1


def test_one_process_alone_computes_for_a_greedy_one_and_its_place_is_free_when_it_ends(busy):
    place = OneProcess()
    ready, over = os.pipe(), os.pipe()
    child = os.fork()
    if child == 0:  # holds the place until it is killed
        place.take()
        os.write(ready[1], b"x")
        os.read(over[0], 1)
        os._exit(0)
    assert os.read(ready[0], 1) == b"x"
    turns = FairTurns(greedy=place)
    turns._used |= {"greedy": (50.0, time.monotonic()), "modest": (0.5, time.monotonic()), "other": (0.4, time.monotonic())}
    assert turns.is_greedy("greedy") and not turns.is_greedy("modest")
    with ThreadPoolExecutor(2) as pool:
        held = pool.submit(turns.take, "greedy")
        until(lambda: len(turns._waiting) == 1)
        assert turns.take("modest"), "this process is free for others meanwhile"
        turns.give_back("modest", 0.1)
        time.sleep(0.2)
        assert not held.done()
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        assert held.result(5) and place.mine
    turns.give_back("greedy", 1.0)
    assert not place.mine
    for end in (*ready, *over):
        os.close(end)


def test_nobody_is_greedy_alone_nor_among_equals():
    turns = FairTurns()
    turns._used = {"one": (40.0, time.monotonic())}
    assert not turns.is_greedy("one")
    turns._used = {f"person {n}": (8.0 + n, time.monotonic()) for n in range(20)}
    assert not any(turns.is_greedy(who) for who in turns._used)


def test_one_that_waits_for_a_database_holds_up_nobody():
    """A turn is for the core: whoever does not use it lends it, to everybody who comes."""
    turns = FairTurns()
    assert turns.take("hangs")
    start = time.monotonic()
    assert turns.take("one")
    assert time.monotonic() - start < LONGEST_WAIT / 2
    for who in ("two", "three", "four"):
        assert turns.take(who)
    assert time.monotonic() - start < 4 * LONGEST_WAIT / 2


def test_of_two_turns_of_one_person_the_one_that_ends_is_given_back():
    turns, over = FairTurns(), threading.Event()
    thread = threading.Thread(target=lambda: (turns.take("one"), over.wait(10)))
    thread.start()
    until(lambda: len(turns._running) == 1)
    assert turns.take("one")  # the first only waits
    turns.give_back("one", 0.0)
    assert [one.thread for one in turns._running] == [thread.ident]
    over.set()
    thread.join()


def test_one_that_computes_keeps_its_turn():
    turns = FairTurns()
    over = threading.Event()

    def compute() -> None:
        turns.take("computes")
        while not over.is_set():
            sum(range(2000))

    thread = threading.Thread(target=compute)
    thread.start()
    until(lambda: at_work(turns) == {"computes"})
    start = time.monotonic()
    assert turns.take("one")
    over.set()
    thread.join()
    assert time.monotonic() - start >= LONGEST_WAIT


def test_what_somebody_used_fades():
    now = [0.0]
    turns = FairTurns(clock=lambda: now[0])
    assert turns.take("one")
    turns.give_back("one", 4.0)
    assert turns.used("one") == pytest.approx(4.0)
    now[0] = 20.0
    assert turns.used("one") == pytest.approx(1.0)
    assert turns.used("nobody") == 0.0


def test_a_caller_is_a_person_a_device_or_an_address():
    callers = Callers("sessionid", networks(["10.0.0.0/8"]))
    browser = {
        "REMOTE_ADDR": "10.0.0.1",
        "HTTP_X_FORWARDED_FOR": "9.9.9.9, 192.0.2.7",
        "HTTP_COOKIE": "csrftoken=x; sessionid=abc",
    }
    assert callers.who({**browser, "HTTP_COOKIE": "csrftoken=x"}) == "address 192.0.2.7"
    assert callers.who(browser).startswith("session "), "not known yet, and not to be taken for its neighbours"
    callers.remember(browser, "person 7")
    assert callers.who(browser) == "person 7"
    invented = {callers.who(browser | {"HTTP_COOKIE": f"sessionid={n}"}) for n in range(MOST_UNKNOWN + 50)}
    assert len(invented) == MOST_UNKNOWN + 1 and "address 192.0.2.7" in invented, "who invents sessions is one address in the end"
    assert callers.who(browser) == "person 7"
    device = {"REMOTE_ADDR": "203.0.113.9", "HTTP_AUTHORIZATION": "Bearer k"}
    callers.remember(device, "device 3")
    assert callers.who(device) == "device 3" and callers.who({"REMOTE_ADDR": "203.0.113.9"}) == "address 203.0.113.9"


def test_an_address_is_believed_from_a_trusted_proxy_alone():
    told = {"REMOTE_ADDR": "192.0.2.1", "HTTP_X_FORWARDED_FOR": "198.51.100.4"}
    assert client_address(told, networks(["127.0.0.1"])) == "192.0.2.1"
    assert client_address(told, networks(["192.0.2.1"])) == "198.51.100.4"
    assert client_address(told | {"HTTP_X_FORWARDED_FOR": "rubbish"}, networks(["192.0.2.1"])) == "192.0.2.1"
