"""The core of Crooked Sundial: sun, sky, plane, tilt plans and worth, with no interface code."""

__version__ = "0.4.0"
