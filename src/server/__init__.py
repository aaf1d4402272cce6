"""The Django server around the core."""
