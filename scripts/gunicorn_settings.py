"""Gunicorn: two processes with threads enough for slow clients; a few requests of each compute at once (web/server.py)."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # set before NumPy loads: processes and threads are enough for the cores

os.environ.setdefault("SUNDIAL_DB_SECONDS", "3")  # a hung database is answered with a page within five seconds

workers = 2
worker_class = "web.server.PatientWorker"
threads = 24
preload_app = True
timeout = 90
graceful_timeout = 5
accesslog = None
loglevel = "warning"
max_requests = 5000
