"""The balance of every hour: what is used at once, stored, sold, bought, thrown away or missing.

``needs`` makes of a brief what production meets; ``flows`` sends every hour of any number of ways through it at once; ``store`` is the
battery as clips that compose, so a year needs no loop over its hours; ``skies`` takes all resampled years in one pass, in single
precision. ``empty_days`` judges plans and stands under :mod:`sundial.plan`; :mod:`sundial.money.tariff` prices the sums.
"""
