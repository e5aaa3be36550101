"""What a build stands on, a class each: what holds it where nobody says, whether what carries it is somebody else's, and what it is
called. A new one is its file and a name in ``registry.MODULES``; ``kind.py`` says what each must answer."""
