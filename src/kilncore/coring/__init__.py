"""Taking bowls out of a bowl."""
