"""Cutting: pieces of a frame, the boards they are cut from, parts, and the order of work."""
