"""Kinds of frames. Each is one class in one file: what a brief says of it, its geometry, its pieces and holes, its load path.

:mod:`sundial.frames.kind` says what every kind answers, :mod:`sundial.frames.registry` which there are. Nothing here knows of mounts,
plans or places.
"""
