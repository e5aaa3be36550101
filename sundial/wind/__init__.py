"""What the wind does to a tilted panel field: forces, what gives way first, how high it may stand in each month.

``pressure`` and ``standing`` know nothing of briefs; ``site`` makes a rig and its air of a scene; ``members`` hands wind and weight to the
frame, which carries them to its feet (:mod:`sundial.frames`); ``held`` knows what a foot can take, and ``caps`` looks from nought upward
for the lowest gust at which any of it gives way: all that the study asks of the wind. What the caution costs stands above the study, in
:mod:`sundial.storms`. The footing's answer asks the same functions at every gust up to the strongest, so the two cannot disagree.
"""
