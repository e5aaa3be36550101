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
    def beneath(self) -> bool:
        """Whether its surface lies right under the panels: the roof, not the ground, throws light at their backs."""
        return False

    @property
    def upright(self) -> bool:
        """Whether its two lines of fixings lie one over the other, as on a wall, and not side by side."""
        return False

    @property
    def drives(self) -> bool:
        """Whether it takes the panels along a road."""
        return False

    @property
    def caution(self) -> str:
        """What must be said beside its loads; empty: nothing."""
        return ""

    @property
    def not_there(self) -> frozenset[str]:
        """What is never looked at here: on somebody else's structure no foot sinks and nothing grows, and nothing is sealed on the ground."""
        if not self.told:
            return frozenset()
        return frozenset({"level", "growth"} if self.foreign else {"sealant"})

    @property
    def rules(self) -> str:
        """By whose rules parts are counted and work is ordered: the ground's until a brief says that it is somebody else's."""
        return self.on if self.told and self.foreign else "ground"
