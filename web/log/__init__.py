"""The log: what was done and read.

Entries of the time line are one table of JSON; ``client_id`` makes an entry sent twice one, from a phone's queue (``js/log.js``, IndexedDB) or a
device. One writer of a source at a time. What judgements follow from is a *state* of the part (``Part.states``), not a key of the brief: a
reading makes the judgement stale and no plan. Files and devices, trials and diagnosis are apps of their own that bring their pages to it.
"""
