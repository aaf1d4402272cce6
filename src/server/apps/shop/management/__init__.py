"""Commands of this room."""
