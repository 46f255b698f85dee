"""Tests of the shared library."""
