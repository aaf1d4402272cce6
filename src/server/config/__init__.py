"""Settings and addresses; nothing imports these."""
