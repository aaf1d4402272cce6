"""The log as it lies: its shape, what goes off first, and what to cut from it."""
