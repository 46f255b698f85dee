"""Tests of alignments."""
