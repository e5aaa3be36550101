"""A facing's year with its losses."""
