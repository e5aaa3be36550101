"""Gunicorn: two processes with threads enough for slow clients; requests of each take turns (web/server.py)."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # set before NumPy loads: processes and threads are enough for the cores

os.environ.setdefault("SUNDIAL_DB_SECONDS", "3")  # a hung database is answered with a page within five seconds

workers = 2
worker_class = "web.server.PatientWorker"
threads = 64  # most of them wait: for slow clients, or for their turn
preload_app = True
timeout = 90
graceful_timeout = 5
accesslog = None
loglevel = "warning"
max_requests, max_requests_jitter = 5000, 500  # never both processes at once


def pre_fork(server, worker):
    """Each process has a place of its own in what they share; one that ended leaves its place to the next."""
    from web.server import IN_HAND

    taken = {other.place for other in server.WORKERS.values()}
    worker.place = next(place for place in range(len(taken) + 1) if place not in taken)
    IN_HAND.clear(worker.place)
