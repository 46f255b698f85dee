"""Tests of long work."""
