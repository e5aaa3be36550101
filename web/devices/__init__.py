"""How readings come into the log without hands: a monitor's file, a device with a key, a controller that tells its turns.

A file is guessed from its first bytes, confirmed, and taken in by a job in pieces of 50 000 rows, each committed with how far it is, so that
a dead worker's successor goes on there. Devices post to ``/api`` with a key of which only the hash is kept; the same batch twice counts once.
"""
