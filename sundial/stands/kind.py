"""What every kind of thing to stand on answers."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass


@dataclass(frozen=True)
class Stand(ABC):
    """What a build stands on. ``told``: the brief says so; else it follows from the frame."""

    told: bool = False

    @property
    @abstractmethod
    def on(self) -> str:
        """As a brief calls it."""

    @property
    @abstractmethod
    def carrier(self) -> str:
        """What takes the load, in a sentence after "the"."""

    @property
    def carrier_in_full(self) -> str:
        """The same where it is spoken of by itself."""
        return self.carrier

    @property
    @abstractmethod
    def foreign(self) -> bool:
        """Whether that is somebody else's structure, which only those can judge who know how it was built."""

    @property
    @abstractmethod
    def anchors(self) -> bool:
        """Whether what holds it there holds it against pulling too, where a brief does not say."""

    @property
    def rules(self) -> str:
        """By whose rules parts are counted and work is ordered: the ground's until a brief says what it stands on."""
        return self.on if self.told else "ground"
