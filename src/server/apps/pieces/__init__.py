"""Pieces, their routes and what was noted at each stage."""
