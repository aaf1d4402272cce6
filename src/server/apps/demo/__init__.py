"""The invented yard that ships with the app."""
