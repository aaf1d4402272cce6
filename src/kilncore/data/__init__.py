"""Tables the core reads."""
