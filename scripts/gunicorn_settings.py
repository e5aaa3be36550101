"""Gunicorn: two processes with a few threads each; the numeric work releases the interpreter lock."""

workers = 2
threads = 4
preload_app = True
timeout = 90
graceful_timeout = 5
accesslog = None
loglevel = "warning"
max_requests = 5000
