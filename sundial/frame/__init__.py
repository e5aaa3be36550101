"""Frames: panels, arrays, and the ways a mount can face."""
