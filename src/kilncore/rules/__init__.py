"""The rules of the trade, one file per question."""
