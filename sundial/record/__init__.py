"""What was read and what was done: series of a monitor, as they come in."""
