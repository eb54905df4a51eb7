"""Several installations of a vehicle together, and a change of tyre."""
