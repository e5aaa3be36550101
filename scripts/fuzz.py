#!/usr/bin/env python
"""Send any number of strange, seeded requests to every address: ``scripts/fuzz.py --requests 20000 --seed 3``.

They go to a test database of its own, and every hundred are rolled back, so nothing of yours is touched. Prints each request
that ended in a server error or took over five seconds of processor time, and how the rest went. Exit 1 where there was one.
"""

from __future__ import annotations

import argparse
import json
import os
import re
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
A_ROUND = 100  # requests between two clean databases


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--requests", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    if "SUNDIAL_SECRET_KEY" not in os.environ:  # the private database first
        command = f'. scripts/prepare.sh; start_database; start_broker; trap stop_services EXIT; "$PY" scripts/fuzz.py --requests {options.requests} --seed {options.seed}'
        return subprocess.call(["bash", "-c", command], cwd=ROOT)
    return run(options.requests, options.seed)


def run(requests: int, seed: int) -> int:
    sys.path.insert(0, str(ROOT))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
    os.environ["SUNDIAL_CACHE_DB"] = "15"
    os.environ["SUNDIAL_TEST_DB"] = f"test_sundial_fuzz_{seed}"
    import django

    django.setup()
    from django.conf import settings
    from django.db import connection, transaction
    from django.test.utils import setup_test_environment, teardown_test_environment

    from tests.fuzz import SLOWEST, Fuzzer
    from web.jobs import queue

    queue.send = lambda pk: None  # long work waits for a worker, as it does in earnest
    settings.PERSON_SECONDS = 1e9
    for limit in ("FAILED_SIGN_INS_AN_HOUR", "SIGN_UPS_AN_HOUR", "VISITORS_AN_HOUR", "CODES_AN_HOUR"):
        setattr(settings, limit, 10**9)
    settings.CELERY_TASK_ALWAYS_EAGER = True
    setup_test_environment()
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    fuzzer, bad, slow, done, start, slowest = Fuzzer(seed), 0, 0, 0, time.monotonic(), 0.0
    try:
        while done < requests:
            with transaction.atomic():
                fuzzer.settle()
                for _ in range(min(A_ROUND, requests - done)):
                    sent = fuzzer.one()
                    done += 1
                    slowest = max(slowest, sent.seconds)
                    if sent.status >= 500 or sent.trouble or sent.seconds > SLOWEST:
                        bad, slow = bad + bool(sent.status >= 500 or sent.trouble), slow + (sent.seconds > SLOWEST)
                        print(f"{done}: {sent.status} in {sent.seconds:.1f} s: {sent.what} {sent.trouble}", flush=True)
                        _keep_build(seed, done, sent.what)
                transaction.set_rollback(True)
    finally:
        connection.creation.destroy_test_db(settings.DATABASES["default"]["NAME"], verbosity=0)
        teardown_test_environment()
    for what, count in sorted(fuzzer.counted.items()):
        print(f"{count:7} {what}")
    rate = done / (time.monotonic() - start)
    print(
        f"{done} requests of seed {seed}, {rate:.0f} a second: {bad} server errors, {slow} over {SLOWEST:.0f} s, slowest {slowest:.1f} s"
    )
    return 1 if bad or slow else 0


def _keep_build(seed: int, number: int, what: str) -> None:
    """Keep the brief of the build that a bad request was about, as it stands then."""
    from web.builds.briefs import export_data
    from web.builds.models import Build

    found = re.search(r"/builds/(\d{1,9})/", what)
    build = Build.objects.whole().filter(pk=found[1]).first() if found else None
    if build is not None:
        file = ROOT / "var" / f"fuzz-{seed}-{number}.json"
        file.write_text(json.dumps(export_data(build)))
        print(f"    its brief: {file.relative_to(ROOT)}", flush=True)


if __name__ == "__main__":
    sys.exit(main())
