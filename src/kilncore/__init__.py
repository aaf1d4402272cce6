"""Rules and computation of green-wood turning; pure, no clock, no I/O beyond its own tables."""
