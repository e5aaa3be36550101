"""How the panels of an array are joined, as far as a meter at its leads can tell."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.scene import Scene


@dataclass(frozen=True)
class Wired:
    """``panels`` and ``blocks`` (bypass blocks) of one string, ``strings`` side by side; ``name``: what one of them is called."""

    panels: int
    blocks: int
    strings: int
    name: str = "string"

    @property
    def count(self) -> str:
        """How many strings, as a word up to nine."""
        words = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
        return words[self.strings] if self.strings < len(words) else str(self.strings)

    @property
    def all_panels(self) -> int:
        return self.panels * self.strings

    @property
    def all_blocks(self) -> int:
        return self.blocks * self.strings


def wired(scene: Scene) -> Wired:
    """The strings of a build: told ones by the longest, panels side by side each a string of one, else all panels in one."""
    panels, wiring = scene.array.wired, scene.brief.wiring
    if wiring.kind == "own":
        each = 1
    elif wiring.strings:
        each = max(len(string) for string in wiring.strings)
    elif wiring.kind == "parallel":
        each = 1
    else:
        each = panels
    return Wired(each, each * scene.brief.panel.blocks, max(1, panels // each), "panel" if wiring.kind == "own" else "string")
