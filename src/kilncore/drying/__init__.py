"""The drying engine and its forecast."""
