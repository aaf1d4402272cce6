"""Measurements: speed and the honesty of forecasts. Nothing here passes or fails."""
