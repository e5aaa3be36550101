"""From sky to plane to power."""
