"""What this sun should give: at one moment, and through a series that was read.

``health`` judges a series whole: clock, then throttling, then missed shade, then dirt, steps, ageing, each cleared of what the ones before
explain.
"""
