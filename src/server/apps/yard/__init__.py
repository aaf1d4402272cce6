"""Logs as they came in."""
