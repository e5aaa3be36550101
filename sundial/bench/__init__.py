"""The bench: a simulated controller drives a simulated mount under a sky of minutes, before a motor wears.

``minutes`` refines the weather year, ``axes`` is the mount, ``drive`` the controller: plain functions on scalars, as a board would run them,
compiled by numba for many days at once (``compiled``, in workers); a page's single day is played in plain Python. Events instead of minutes
would need a rule for every reason why nothing can change; arrays over settings cost 150 operations a minute and made a day three times
too slow.
"""
