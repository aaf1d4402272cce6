"""Drying runs, places, weights and stored forecasts."""
