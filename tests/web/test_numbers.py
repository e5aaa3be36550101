"""Numbers out of requests: bounded before they are numbers."""

from __future__ import annotations

import pytest

from web.numbers import whole


@pytest.mark.parametrize(
    ("text", "number"),
    [("0", 0), ("017", 17), ("9" * 18, 10**18 - 1), ("9" * 19, None), ("9" * 5000, None), ("", None), (None, None),
     ("-1", None), ("1.5", None), ("٣", None), ("²", None), (" 1", None)],
)  # fmt: skip
def test_plain_digits_alone_are_a_whole_number(text, number):
    assert whole(text) == number


@pytest.mark.django_db
def test_numbers_of_thousands_of_digits_are_answered_by_every_door(site, build):
    long = "9" * 5000
    for path in (f"log/?before={long}", f"log/?source={long}", f"log/trainer/?level={long}"):
        assert site.get(f"/builds/{build.pk}/{path}").status_code == 200, path
    posted = {
        "log/trainer/": {"row": long, "check": "meter"},
        "bench/take/": {"number": long},
        "log/file/": {"size": long},
    }
    for path, data in posted.items():
        assert site.post(f"/builds/{build.pk}/{path}", data).status_code in (302, 404, 422), path
