"""Tests of crossfalls."""
