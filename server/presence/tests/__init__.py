"""Tests of presence."""
