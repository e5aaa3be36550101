"""Beams that carry panels: bending, stress, the longest span, and what heat does to their length. Planning estimates."""
