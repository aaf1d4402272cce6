"""Work cards and the reckoner."""
