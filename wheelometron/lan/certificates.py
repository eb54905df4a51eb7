"""A certificate authority of this data folder, and the server's certificate signed by it.

The authority may sign for private addresses and local names alone (RFC 5280, 4.2.1.10): a phone that trusts it is in no
danger elsewhere, even if its key is stolen.
"""

from __future__ import annotations

import os
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from wheelometron.lan.network import NETWORKS

AUTHORITY, AUTHORITY_KEY = "authority.pem", "authority-key.pem"
SERVER, SERVER_KEY = "server.pem", "server-key.pem"
AUTHORITY_DAYS = 3650
SERVER_DAYS = 390
"""Phones refuse certificates of servers that last longer than some 13 months."""
EARLIER = timedelta(days=1)
"""A phone's clock may be behind."""


def authority(folder: Path, host: str) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    """The authority of a folder, made there when it has none."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    if (folder / AUTHORITY).exists() and (folder / AUTHORITY_KEY).exists():
        key = serialization.load_pem_private_key((folder / AUTHORITY_KEY).read_bytes(), None)
        assert isinstance(key, ec.EllipticCurvePrivateKey)
        return x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes()), key
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Wheelometron on {host}"[:64])])
    allowed: list[x509.GeneralName] = [x509.IPAddress(network) for network in NETWORKS]
    allowed += [x509.DNSName(item) for item in ("local", "localhost", host)]
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - EARLIER)
        .not_valid_after(now + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs_certificates=True), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=allowed, excluded_subtrees=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(folder / AUTHORITY_KEY, _pem_of_key(key))
    _write(folder / AUTHORITY, made.public_bytes(serialization.Encoding.PEM))
    return made, key


def make_server_certificate(folder: Path, host: str, addresses: list[str]) -> None:
    """A new certificate for this machine's names and addresses, in the folder, signed by its authority."""
    issuer, signing = authority(folder, host)
    key = ec.generate_private_key(ec.SECP256R1())
    names: list[x509.GeneralName] = [x509.DNSName(name) for name in dict.fromkeys(("localhost", host, f"{host}.local"))]
    names += [x509.IPAddress(ip_address(address)) for address in dict.fromkeys((*addresses, "127.0.0.1"))]
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, host[:64])]))
        .issuer_name(issuer.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - EARLIER)
        .not_valid_after(now + timedelta(days=SERVER_DAYS))
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()), critical=False)
        .sign(signing, hashes.SHA256())
    )
    _write(folder / SERVER_KEY, _pem_of_key(key))
    _write(folder / SERVER, made.public_bytes(serialization.Encoding.PEM))


def fingerprint_of(certificate: x509.Certificate) -> str:
    """The SHA-256 of a certificate as phones show it: AB:CD:…"""
    return certificate.fingerprint(hashes.SHA256()).hex(":").upper()


def _usage(*, signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates,
        key_cert_sign=signs_certificates,
        crl_sign=signs_certificates,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _pem_of_key(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(file: Path, content: bytes) -> None:
    """Write a file that its owner alone can read."""
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as opened:
        opened.write(content)
