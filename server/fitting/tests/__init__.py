"""Tests of fitting."""
