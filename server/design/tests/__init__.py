"""Tests of this app."""
