"""Tests of levels."""
