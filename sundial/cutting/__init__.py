"""Cutting: pieces of a frame, the boards they are cut from, parts, and the order of work.

``cut_list`` letters the pieces of the frame, ``patterns`` solves one section in whole tenths of a millimetre and knows nothing of briefs,
``cut_plan`` names what comes off which board; parts and order of work are rules in ``data/``. A request gives the solver 0.06 s; what is
not proved by then is stored as it is, and a worker looks on. Ticks are in no digest and no version: a tick that a phone sends a day late
changes no figure and collides with nothing.
"""
