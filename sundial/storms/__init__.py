"""What the wind takes from a year of a mount: the position it is laid down in, what caps cost, and how ways of holding the panels stand it.

Above the study: it asks for plans and years; :mod:`sundial.wind` below knows only frames and gusts.
"""
