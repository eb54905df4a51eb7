"""Reached from phones and tablets of the local network: addresses, certificates, a page that says how to trust them."""
