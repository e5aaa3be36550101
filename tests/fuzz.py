"""A person who does anything at all: seeded requests to every address, with odd values, broken files and strange texts.

``Fuzzer`` makes them; ``tests/web/test_fuzz.py`` sends some thousands in every check, ``scripts/fuzz.py`` any number.
"""

from __future__ import annotations

import json
import random
import re
import string
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver

from sundial.brief.geojson import write_yard_geojson
from sundial.brief.read import brief_of
from tests.odd import ODD, spoiled
from web.accounts.demo import demo_brief
from web.builds import registry
from web.builds.briefs import brief_data, build_from_brief
from web.builds.models import Build
from web.shade.document import document_of

SLOWEST = 5.0  # seconds that one request may take
TEXTS = (
    "", " ", "0", "-1", "1", "2", "45", "91", "361", "1e9", "1e-300", "1e999", "nan", "inf", "-inf", "²", "٣", "½", "\x00", "a\x00b", "\ud800",
    "9" * 400, "9" * 5000, "1" + "0" * 400, "n " * 4000, "<b>x</b>", "'; drop table builds", "../../etc/passwd", "%00", "{{ 1 }}", "null", "true",
    "[]", "{}", "[" * 700, '{"a":' * 700, "12 November", "31 February", "2 ft 3 1/2 in", "5' 7 13/16\"", "10 to 60 by 5", "0 to 90 by 0.0001",
    "1, 2, 3", ",", ";;;", "−5", "42°54'N 6°06'W", "ｍａｒｅｎ", "zöe", "\u202e", "🙂", "a" * 9000, "on", "off", "year", "worst-month", "demand",
)  # fmt: skip
# In a cell of figures, or before a unit: a build may well be named "inf".
NO_NUMBER = re.compile(
    rb'class="n[^"]*"[^>]*>\s*(?:<[^>]*>\s*)*(?:-|\xe2\x88\x92)?(?:nan|inf)\b'
    rb"|\b(?:nan|inf)(?:\s|\xe2\x80\xaf)*(?:kWh|kW\b|%|\xc2\xb0|m\xc2\xb2|years)"
)
TYPED = re.compile(rb"<textarea.*?</textarea>", re.DOTALL)  # shows what was typed, whatever it was
NAMES = (
    "day", "page", "part", "again", "open", "back", "season", "within", "first", "last", "on", "name", "way", "height", "share", "next",
    "goal", "document", "version", "drop", "key", "bearing", "elevation", "kind", "stick", "distance", "angle", "stands", "row", "tilt",
)  # fmt: skip


@dataclass(frozen=True)
class Sent:
    """One request as it went: what was asked, its status (0 where no browser could send it), seconds of processor time, and what
    else is wrong with the answer."""

    what: str
    status: int
    seconds: float
    trouble: str = ""


@dataclass
class Fuzzer:
    """Sends requests as one person who also knows the addresses of another's build."""

    seed: int
    rng: random.Random = field(init=False)
    client: Client = field(init=False)
    person: User = field(init=False)
    counted: Counter[str] = field(default_factory=Counter)

    def __post_init__(self) -> None:
        self.rng = random.Random(self.seed)
        self.routes = sorted(_routes(get_resolver().url_patterns))

    def settle(self) -> None:
        """Two people with small builds, and a signed-in client. Called anew after everything was rolled back."""
        name = f"fuzz{self.seed}"
        self.person = User.objects.create(username=name)
        stranger = User.objects.create(username=f"{name}-other")
        for owner, brief in ((self.person, "Honey house"), (self.person, "Lookout pole"), (stranger, "Kiln pergola")):
            build_from_brief(owner, brief_of(demo_brief(brief)))
        self._sign_in()

    def _sign_in(self) -> None:
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.person, backend="django.contrib.auth.backends.ModelBackend")

    def one(self) -> Sent:
        """One request, and how it went."""
        ways: tuple[tuple[int, Callable[[], tuple[str, str, dict[str, Any]]]], ...] = (
            (5, self._any_address), (5, self._station_form), (4, self._yard), (3, self._own_values), (2, self._upload), (1, self._account),
        )  # fmt: skip
        make = self.rng.choices([way for _, way in ways], [weight for weight, _ in ways])[0]
        method, path, data = make()
        headers = {"HX-Request": "true"} if self.rng.random() < 0.5 else {}
        if self.rng.random() < 0.02:
            headers["Accept-Encoding"] = self.rng.choice(["gzip", "br;q=2", "\u00ff", "*"])
        what, start, trouble, status = f"{method.upper()} {path} {_short(data)}", time.thread_time(), "", 0
        try:
            answer = getattr(self.client, method)(path, data, headers=headers)
            status = answer.status_code
            if answer.get("Content-Type", "").startswith("text/html") and NO_NUMBER.search(TYPED.sub(b"", answer.content)):
                trouble = "a figure that is no number"
        except (UnicodeEncodeError, ValueError) as error:  # the client itself cannot send it: no browser could
            trouble = "" if status == 0 else str(error)
        self.counted[f"{make.__name__.lstrip('_')} {status}"] += 1
        if self.client.session.get("_auth_user_id") != str(self.person.pk):
            self._sign_in()
        return Sent(what, status, time.thread_time() - start, trouble)

    def _build(self) -> Build:
        builds = Build.objects.of(self.person).order_by("pk")
        pks = list(builds.values_list("pk", flat=True))
        if not pks:
            return build_from_brief(self.person, brief_of(demo_brief("Honey house")))
        return builds.whole().get(pk=self.rng.choice(pks))

    def _pk(self) -> int:
        if self.rng.random() < 0.1:  # another's, or nobody's
            return self.rng.choice([*Build.objects.values_list("pk", flat=True), 0, 2**31, 2**63, 10**30])
        return self._build().pk

    def _text(self) -> str:
        if self.rng.random() < 0.15:
            return "".join(self.rng.choice(string.printable) for _ in range(self.rng.randint(1, 40)))
        return self.rng.choice(TEXTS)

    def _any_address(self) -> tuple[str, str, dict[str, Any]]:
        path = self.rng.choice(self.routes)
        path = path.replace("<int:pk>", str(self._pk())).replace("<int:row>", str(self.rng.choice([0, 1, 2, 10**30])))
        for place in ("<str:step>", "<str:token>", "<str:uidb64>", "<uidb64>", "<token>"):
            path = path.replace(place, self.rng.choice(["place", "panels", "angles", "x", "MQ", "set-password"]))
        method = "get" if self.rng.random() < 0.6 else "post"
        data = {name: self._text() for name in self.rng.sample(NAMES, self.rng.randint(0, 4))}
        if any(word in path for word in ("account/delete", "sign-out")):
            data.pop("word", None)
        return method, f"/{path}", data

    def _station_form(self) -> tuple[str, str, dict[str, Any]]:
        station, build = self.rng.choice(registry.stations()), self._build()
        steps = registry.steps()
        if self.rng.random() < 0.2:
            step = self.rng.choice(steps)
            form, path = step.form(build), f"/builds/{build.pk}/start/{step.key}/"
        else:
            form, path = station.form(build), f"/builds/{build.pk}/{station.key}/"
        data = {name: shown for name in form.fields if (shown := _shown(form, name)) is not None}
        for name in self.rng.sample(sorted(form.fields), min(self.rng.randint(1, 3), len(form.fields))):
            data[name] = self._choice(form.fields[name]) if self.rng.random() < 0.3 else self._text()
        data["version"] = build.version if self.rng.random() < 0.9 else self._text()
        return "post", path, data

    def _choice(self, asked: Any) -> Any:
        choices = [str(value) for value, _ in getattr(asked, "choices", ())]
        return self.rng.choice(choices) if choices else self._text()

    def _yard(self) -> tuple[str, str, dict[str, Any]]:
        build = self._build()
        document = spoiled(document_of(build), self.rng)
        text = json.dumps(document)
        if self.rng.random() < 0.2:
            text = self._spoil_text(text)
        data = {
            "document": text,
            "version": build.version,
            "name": "Walnut",
            "way": "gone",
            "height": self._text(),
            "share": self._text(),
        }
        address = self.rng.choice(["", "", "figures/", "what-if/"])
        return "post", f"/builds/{build.pk}/shade/{address}", data

    def _own_values(self) -> tuple[str, str, dict[str, Any]]:
        build = self._build()
        address, names = self.rng.choice(
            [("shade/measure/", ("way", "stick", "stick_shadow", "shadow", "slope", "paces", "pace", "distance", "angle", "eye_height", "foot_angle")),
             ("shade/field/", ("key", "bearing", "magnetic", "elevation", "kind", "drop")), ("day/", ("day",)), ("stands/", ("stands", "back")),
             ("rename/", ("name",)), ("open-sky/", ("open", "back")), ("worth/rows/", ("name", "kind", "tilts", "settings", "version")),
             ("copy/", ("creation_key",)), ("delete/", ()), ("undelete/", ()), ("place/take-over", ())]
        )  # fmt: skip
        plain = {"way": "stick", "version": build.version, "kind": "stepped", "key": uuid.uuid4(), "creation_key": uuid.uuid4()}
        return (
            "post",
            f"/builds/{build.pk}/{address}",
            {name: plain.get(name, "2") if self.rng.random() < 0.5 else self._text() for name in names},
        )

    def _upload(self) -> tuple[str, str, dict[str, Any]]:
        build = self._build()
        base = f"/builds/{build.pk}/"
        kind = self.rng.choice(["brief", "odd brief", "weather", "skyline", "geojson", "picture"])
        if kind in ("brief", "odd brief"):
            held = spoiled(brief_data(build), self.rng) if kind == "odd brief" else brief_data(build)
            text = json.dumps(held) if kind == "odd brief" else self._spoil_text(json.dumps(held))
            return "post", "/builds/import/", {"brief": _file("b.json", text), "creation_key": uuid.uuid4()}
        if kind == "weather":
            form = registry.station("place").form(build)
            data = {name: shown for name in form.fields if (shown := _shown(form, name)) is not None}
            upload = _file("w.csv", self._spoil_text(self.rng.choice(WEATHER)))
            return "post", f"{base}place/", {**data, "version": build.version, "sky_kind": "file", "weather_file": upload}
        if kind == "skyline":
            return (
                "post",
                f"{base}shade/skyline.csv",
                {"file": _file("s.csv", self._spoil_text("azimuth,elevation\n10,3\n200,12.5\n"))},
            )
        if kind == "geojson":
            made = spoiled(write_yard_geojson(build.yard.obstacles), self.rng)
            return "post", f"{base}shade/yard.geojson", {"file": _file("y.geojson", json.dumps(made))}
        return "post", f"{base}shade/picture/", {"file": SimpleUploadedFile("p.png", self._spoil_bytes(PNG))}

    def _account(self) -> tuple[str, str, dict[str, Any]]:
        path, names = self.rng.choice(
            [("sign-up/", ("username", "password1", "password2", "email")), ("sign-in/", ("username", "password", "next")),
             ("password/", ("old_password", "new_password1", "new_password2")), ("delete/", ("word",)), ("demo/", ())]
        )  # fmt: skip
        data = {name: self._text() for name in names if self.rng.random() < 0.9}
        if data.get("word", "").strip() == "delete":
            data["word"] = "no"
        return self.rng.choice(["get", "post"]), f"/account/{path}", data

    def _spoil_text(self, text: str) -> str:
        for _ in range(self.rng.randint(1, 3)):
            at = self.rng.randrange(len(text) + 1)
            upto = min(len(text), at + self.rng.choice([0, 1, 5, 40]))
            text = text[:at] + str(self.rng.choice([*TEXTS[:40], *map(str, ODD)])) + text[upto:]
        return text

    def _spoil_bytes(self, data: bytes) -> bytes:
        made = bytearray(data)
        for _ in range(self.rng.randint(0, 4)):
            made[self.rng.randrange(len(made))] = self.rng.randrange(256)
        return bytes(made[: self.rng.randint(0, len(made))] if self.rng.random() < 0.3 else made)


WEATHER = (
    "time,ghi,temp_air\n" + "\n".join(f"2023-01-01T{hour:02}:00:00-07:00,{hour * 20},5" for hour in range(24)),
    "LOCATION,Somewhere,,,,,42.9,-6.1,1.0,870\n" + "x\n" * 7 + "1999,1,1,1,0,?,3.0" + ",0" * 28,
    "1,NAME,ST,-5.0,40,-80,10\nDate (MM/DD/YYYY),Time (HH:MM),GHI (W/m^2)\n01/01/2000,01:00,0\n",
)
PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d4948445200000001000000010806000000"
    "1f15c4890000000d49444154789c6360606060000000050001a5f645400000000049454e44ae426082"
)


def _file(name: str, text: str) -> SimpleUploadedFile:
    return SimpleUploadedFile(name, text.encode("utf-8", "surrogatepass"))


def _shown(form: Any, name: str) -> Any:
    """What a form's page holds in a field, None for an unchecked box and a file."""
    value, asked = form[name].value(), form.fields[name]
    shown = asked.prepare_value(value)
    return "on" if shown is True else None if shown is False else shown


def _short(data: dict[str, Any]) -> str:
    return str({name: str(value)[:60] for name, value in data.items()})[:300]


def _routes(patterns: list[URLPattern | URLResolver], before: str = "") -> Iterator[str]:
    for pattern in patterns:
        path = before + str(pattern.pattern)
        if isinstance(pattern, URLResolver):
            yield from _routes(pattern.url_patterns, path)
        else:
            yield path
