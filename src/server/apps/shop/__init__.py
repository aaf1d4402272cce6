"""The workshop: people, lathes, jaws, places, house way."""
