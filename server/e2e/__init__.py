"""Journeys of a designer in a real browser."""
