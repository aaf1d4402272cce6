"""What the yard asks for now."""
