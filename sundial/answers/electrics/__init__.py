"""Voltages, currents, cable and leads, and another wiring."""
