"""What is told: a package a topic, with the ``report`` that its screen shows and the ``command`` that the command line answers.

They stand above all rules and ask whichever they need; no rule asks them.
"""
