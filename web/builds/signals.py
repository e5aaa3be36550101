"""What the frame of every station tells to whoever listens; it knows none of them."""

from django.dispatch import Signal

purging = Signal()  # once a day, in a worker: what nobody wants any more may go
stands_told = Signal()  # build, tilt, before: the person said at which tilt it stands now
