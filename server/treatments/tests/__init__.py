"""Tests of treatments."""
