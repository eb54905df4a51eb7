"""`python -m wheelometron.lan.prepare FOLDER [ADDRESS]`: certificates for this machine's addresses; says them as
JSON."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from wheelometron.lan.certificates import authority, fingerprint_of, make_server_certificate
from wheelometron.lan.network import host_name, is_local, local_addresses


def main(arguments: list[str]) -> int:
    """Addresses, name and fingerprint; 1 with a message where there is no local network."""
    folder, asked = Path(arguments[0]), arguments[1:]
    addresses = asked or local_addresses()
    if not all(is_local(address) for address in addresses):
        print("--lan takes a private address of this machine.", file=sys.stderr)
        return 1
    if not addresses:
        print("This machine is in no local network. Connect it, or start without --lan.", file=sys.stderr)
        return 1
    host = host_name()
    make_server_certificate(folder, host, addresses)
    fingerprint = fingerprint_of(authority(folder, host)[0])
    print(json.dumps({"addresses": addresses, "host": host, "fingerprint": fingerprint}))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
