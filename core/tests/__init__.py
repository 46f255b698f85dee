"""Tests of the core. They need no database and no Django."""
