"""The stations of a build. Each plugs in by a module ``station`` in its own app, found by name and registered by itself.

Nothing in ``web.builds`` names a station: rail, addresses, styles, the guided start, copies, briefs in and out, the demo,
shortcuts, and the lists of tests and scripts all loop over what is registered here.
"""

from __future__ import annotations

import hashlib
import inspect
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from django.utils.module_loading import autodiscover_modules

from sundial.progress import Report

if TYPE_CHECKING:
    from web.builds.editing import StationForm
    from web.builds.models import Build
    from web.builds.part import Keeper, Part, Progress
    from web.builds.results import Results

Group = Literal["plan", "build", "use"]
GROUPS: tuple[Group, ...] = ("plan", "build", "use")


@dataclass(frozen=True)
class Codec:
    """How a result is stored: to bytes and back; ``shape`` tells the type that reads it, where bytes of another type would be read wrong."""

    pack: Callable[[Any], bytes]
    unpack: Callable[[bytes], Any]
    shape: str = ""


@dataclass(frozen=True)
class Result:
    """Something that follows from a build and is stored once computed.

    ``inputs``: the keys of the brief it follows from, a part of a section after a dot (``plan.goal``), or ``build.currency``;
    its digest is made of these alone. ``compute`` takes the results of the build (others are asked for by name), the
    parameters of the question, and a function to report progress to. ``dear``: worked out by a worker, not in a
    request (or whether it is, for this build).
    """

    name: str
    inputs: tuple[str, ...]
    compute: Callable[[Results, Mapping[str, str], Report], Any]
    codec: Codec
    dear: bool | Callable[[Results], bool] = False
    seconds: int = 120  # budget of time of a dear one
    kept: int = 4  # of each build, when there are more than twice as many
    asked: bool = False  # computed for the parameters of a question only

    @cached_property
    def version(self) -> str:
        """Digest of the modules that compute and that read it, and of the type that it is read as: another of these, another result."""
        modules = {inspect.getmodule(one) for one in (self.compute, self.codec.pack, self.codec.unpack)}
        files = sorted(str(module.__file__) for module in modules if module is not None and "web" in module.__name__.split("."))
        text = b"".join(Path(file).read_bytes() for file in files) + self.codec.shape.encode()
        return hashlib.sha256(text).hexdigest()


@dataclass(frozen=True)
class Export:
    """A file that a station makes of a build, under ``path`` of the station; ``ending`` names it after the build.

    ``make`` gives its content; or ``result`` names a dear result that holds it, asked with ``params``, to which the address of the
    page named ``live`` is added where it is printed on the sheet.
    """

    name: str
    path: str
    ending: str
    content_type: str
    make: Callable[[Build, Results], bytes | str] | None = None
    result: str | None = None
    params: Callable[[Build], Mapping[str, str]] | None = None
    live: str = ""


@dataclass(frozen=True)
class Chapter:
    """What a station brings to the build book: the HTML of a sheet that holds everything it needs; "" or BriefError where there is nothing to tell
    yet, which ``empty`` says."""

    title: str
    order: int
    make: Callable[[Results, Mapping[str, str]], str]
    empty: str = "nothing is told of it yet"
    drawing: Callable[[Build, Results], str] | None = None  # SVG that may stand on the cover


@dataclass(frozen=True)
class Step:
    """One of the short steps of the guided start: what it asks, and where it stands among them."""

    key: str
    title: str
    order: int
    form: type[StationForm]
    question: str
    hint: str
    wide: tuple[str, ...] = ()
    when: Mapping[str, str] = field(default_factory=dict)  # field: the answer it depends on
    template: str = ""  # that lays its questions out; empty: one after the other


@dataclass(frozen=True)
class Station:
    """One stop of the work on a build."""

    key: str
    title: str
    question: str
    order: int
    group: Group
    urls: str
    form: type[StationForm]
    parts: tuple[type[Part], ...] = ()
    results: tuple[Result, ...] = ()
    exports: tuple[Export, ...] = ()
    chapters: tuple[Chapter, ...] = ()
    styles: tuple[str, ...] = ()
    scripts: tuple[str, ...] = ()
    steps: tuple[Step, ...] = ()
    demo: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)  # demo build: sections of its brief
    keys: tuple[tuple[str, str], ...] = ()  # further keyboard shortcuts: keys, what they do
    progress: Callable[[Build], Progress] | None = None
    titled: Callable[[Build], str] | None = None  # where its title depends on the build
    play: Callable[[Build], None] | None = (
        None  # what happened to a demo build since it stands; nothing where it is there already
    )
    showpiece: Callable[[], Mapping[str, Any]] | None = None  # for the front page: what ``<key>/_showpiece.html`` shows

    def title_for(self, build: Build) -> str:
        """What it is called on the rail of a build."""
        return self.titled(build) if self.titled else self.title

    def progress_of(self, build: Build) -> Progress:
        """The least of its parts, unless it says otherwise."""
        if self.progress:
            return self.progress(build)
        order: tuple[Progress, ...] = ("empty", "enough", "complete")
        return min((part.of(build).complete() for part in self.parts), key=order.index, default="enough")


@dataclass(frozen=True)
class Link:
    """A page that a station leads to: the name of its address, its title, and the longer one on the station's own page."""

    url: str
    title: str
    invites: str = ""


@dataclass(frozen=True)
class Pages:
    """Pages of a station that an app of their own brings: their addresses stand under the station's, in the namespace ``key``.

    ``shown``: what ``<key>/_on_<station>.html`` tells on the station's own page, of a build. ``keeper``: what is the person's of what
    the app stores of a build, where no part does.
    """

    key: str
    station: str
    order: int
    urls: str
    links: tuple[Link, ...] = ()
    shown: Callable[[Build], Mapping[str, Any]] | None = None
    keeper: type[Keeper] | None = None
    play: Callable[[Build], None] | None = None  # as a station's

    @property
    def template(self) -> str:
        """Of its piece on the station's own page; empty where it has none."""
        return f"{self.key}/_on_{self.station}.html" if self.shown else ""


_stations: dict[str, Station] = {}
_pages: dict[str, Pages] = {}


def register(station: Station) -> Station:
    """Add a station; its key and the names of its results must be new."""
    if station.key in _stations:
        raise ValueError(f"there is a station {station.key!r} already")
    taken = {result.name for other in _stations.values() for result in other.results}
    for result in station.results:
        if result.name in taken:
            raise ValueError(f"there is a result {result.name!r} already")
    _stations[station.key] = station
    return station


def register_pages(pages: Pages) -> Pages:
    """Add pages to a station; their key must be new."""
    if pages.key in _pages or pages.key in _stations:
        raise ValueError(f"there is {pages.key!r} already")
    _pages[pages.key] = pages
    return pages


def pages_of(station: str | None = None) -> list[Pages]:
    """What apps of their own bring to a station (None: to any), in order."""
    return sorted((one for one in _pages.values() if station in (None, one.station)), key=lambda one: one.order)


def autodiscover() -> None:
    """Import the module ``station`` of every installed app that has one."""
    autodiscover_modules("station")


def stations() -> list[Station]:
    """All stations in the order people work."""
    return sorted(_stations.values(), key=lambda station: (GROUPS.index(station.group), station.order))


def station(key: str) -> Station:
    """A station by its key; KeyError where there is none."""
    return _stations[key]


def parts() -> list[type[Part]]:
    """The parts of all stations."""
    return [part for one in stations() for part in one.parts]


def keepers() -> list[type[Part] | type[Keeper]]:
    """The parts, and what else keeps something of a person's for a build."""
    return [*parts(), *(one.keeper for one in pages_of() if one.keeper is not None)]


def result_named(name: str) -> Result | None:
    """A station's result by name."""
    return next((result for one in _stations.values() for result in one.results if result.name == name), None)


def chapters() -> list[Chapter]:
    """The chapters of the build book in their order."""
    return sorted((one for station in stations() for one in station.chapters), key=lambda one: one.order)


def steps() -> list[Step]:
    """The steps of the guided start in their order."""
    return sorted((step for one in stations() for step in one.steps), key=lambda step: step.order)


def demo_builds() -> dict[str, dict[str, Any]]:
    """The briefs of the demo builds, put together from what each station brings."""
    found: dict[str, dict[str, Any]] = {}
    for one in stations():
        for build, sections in one.demo.items():
            found.setdefault(build, {}).update(sections)
    return found
