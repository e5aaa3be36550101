"""Electrics: strings within the input's limits, the cable to it, the panels' leads, and plugging an old row anew."""
