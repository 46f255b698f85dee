"""Tests of guides."""
