"""How to aim the build: bearing, inclinometer, solar noon, and the glass by its shadow pin."""
