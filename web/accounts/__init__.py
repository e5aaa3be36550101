"""People, and the demo.

Django's users with an ``Account`` beside each: the key of the name (NFKC, case folded: look-alikes are one person, accents tell people apart), the
hash of the recovery code, failed tries. Guessing is slowed by counters in the cache, by name and address together and by address alone. *My data*
writes a zip, and a worker reads one, all of it or nothing: builds are known again by the mark they were written with, so a zip taken in twice doubles
none; a part adds what no brief carries (``Part.keepsakes``). A visitor of the demo gets a copy of an original that nobody signs in to.
"""
