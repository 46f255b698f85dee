"""Tests of the web's own rules, without a browser: the plain functions are bundled once and asked through one Node process."""
