"""The tilt plan, and a short stay."""
