"""Turned solids: volume and surface from a profile."""
