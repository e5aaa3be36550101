"""The sections of a brief, one file a section, assembled in :mod:`sundial.brief.model`."""
