"""The log: what was done and read.

Entries of the time line are one table of JSON; ``client_id`` makes an entry sent twice one, from a phone's queue (``js/log.js``, IndexedDB) or a
device. One writer of a source at a time. A file is guessed from its first bytes, confirmed, and taken in by a job in pieces of 50 000 rows, each
committed with how far it is, so that a dead worker's successor goes on there. What judgements follow from is a *state* of the part
(``Part.states``), not a key of the brief: a reading makes the judgement stale and no plan. A trial's result is computed when it is shown.
"""
