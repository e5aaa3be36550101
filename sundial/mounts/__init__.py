"""Kinds of mounts: what holds the panels or moves them through the day and the year. Each is one file with its section of a brief and how it
faces.

:mod:`sundial.mounts.kind` says what every kind answers, :mod:`sundial.mounts.registry` which there are. Nothing here knows of plans, money or
places beyond what it is handed.
"""
