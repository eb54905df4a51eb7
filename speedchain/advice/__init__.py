"""Rules about the whole installation, the next measurement, and procedures."""
