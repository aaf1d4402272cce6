"""The rooms, low to high: shop, yard, pieces, drying, bench, today, demo."""
