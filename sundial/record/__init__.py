"""What was read and what was done: series of a monitor, as they come in.

A series is a block a day (``blocks``: deflated times and float32 watts, half a kilobyte to two): merging is by time, so the same rows again
add nothing, a day's picture reads one row, and a million rows take two megabytes instead of fifty. ``entries`` are validated JSON.
"""
