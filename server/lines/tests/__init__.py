"""Tests of section lines."""
