"""Tilt plans: which angle, when to move, how much slack."""
