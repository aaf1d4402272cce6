"""Wood and water: species, moisture, density, shrinkage."""
