"""What the frame of every station tells to whoever listens; it knows none of them."""

from django.dispatch import Signal

stands_told = Signal()  # build, tilt, before: the person said at which tilt it stands now
