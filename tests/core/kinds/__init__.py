"""A throw-away kind of frame and one of mount: each plugs in by its file and a name in a registry."""
