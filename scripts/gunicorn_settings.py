"""Gunicorn: two processes with a few threads each; the numeric work releases the interpreter lock."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # set before NumPy loads: processes and threads are enough for the cores

workers = 2
threads = 4
preload_app = True
timeout = 90
graceful_timeout = 5
accesslog = None
loglevel = "warning"
max_requests = 5000
