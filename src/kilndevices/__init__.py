"""Simulated workshop instruments, reached as a real one would be."""
