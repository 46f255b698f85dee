"""Tests of setting out."""
