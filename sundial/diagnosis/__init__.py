"""Why is it low? A rule base of causes, the evidence that tells them apart, and invented days to learn on.

The rule base is data: ``causes.json`` and ``questions.json`` by hand, ``likelihoods.json`` counted by ``scripts/fit_why.py`` from the played
faults of ``plant``, which know nothing of the rules. ``signs`` makes words of a curve, ``case`` evidence of a real build and its log,
``rules`` judges and asks. The trainer plays the same faults; a seed is all that is kept of a day.
"""
