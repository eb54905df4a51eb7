"""The installation: the document that everything is worked out from."""
