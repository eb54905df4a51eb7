"""`./start --lan`: certificates that OpenSSL and a path validator agree with, and the app over TLS as a phone meets
it."""

from __future__ import annotations

import http.client
import json
import re
import ssl
import stat
from datetime import UTC, datetime, timedelta
from http.cookies import SimpleCookie
from ipaddress import ip_address
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509 import verification

from devtools.cluster import Cluster
from tests.devtools.test_start import Started
from wheelometron.lan.certificates import AUTHORITY, AUTHORITY_KEY, SERVER, authority, make_server_certificate


class Certificates(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "tls"
        make_server_certificate(self.folder, "bench-pc", ["192.168.7.7"])

    def server(self) -> x509.Certificate:
        return x509.load_pem_x509_certificate((self.folder / SERVER).read_bytes())

    def verify(self, certificate: x509.Certificate, subject: x509.GeneralName) -> None:
        """By the path validation of the `cryptography` library (RFC 5280, and the rules of browsers)."""
        store = verification.Store([authority(self.folder, "bench-pc")[0]])
        verification.PolicyBuilder().store(store).build_server_verifier(subject).verify(certificate, [])  # type: ignore[arg-type]

    def test_it_holds_for_the_machines_names_and_addresses(self) -> None:
        for subject in (
            x509.IPAddress(ip_address("192.168.7.7")),
            x509.IPAddress(ip_address("127.0.0.1")),
            x509.DNSName("bench-pc.local"),
            x509.DNSName("localhost"),
        ):
            self.verify(self.server(), subject)
        with self.assertRaises(verification.VerificationError):
            self.verify(self.server(), x509.IPAddress(ip_address("192.168.7.8")))

    def test_the_authority_cannot_sign_for_the_internet(self) -> None:
        issuer, key = authority(self.folder, "bench-pc")
        now = datetime.now(UTC)
        forged = (
            x509.CertificateBuilder()
            .subject_name(x509.Name([]))
            .issuer_name(issuer.subject)
            .public_key(ec.generate_private_key(ec.SECP256R1()).public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now - timedelta(days=1))
            .not_valid_after(now + timedelta(days=30))
            .add_extension(x509.SubjectAlternativeName([x509.DNSName("bank.example")]), critical=True)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(key.public_key()), critical=False)
            .add_extension(x509.ExtendedKeyUsage([x509.ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .sign(key, hashes.SHA256())
        )
        with self.assertRaisesRegex(verification.VerificationError, "name constraint|permitted"):
            self.verify(forged, x509.DNSName("bank.example"))

    def test_the_authority_stays_and_keys_are_the_owners(self) -> None:
        before = (self.folder / AUTHORITY).read_bytes(), self.server().serial_number
        make_server_certificate(self.folder, "bench-pc", ["10.1.2.3"])
        self.assertEqual((self.folder / AUTHORITY).read_bytes(), before[0])
        self.assertNotEqual(self.server().serial_number, before[1])
        self.assertEqual(stat.S_IMODE((self.folder / AUTHORITY_KEY).stat().st_mode), 0o600)


class Phone:
    """What a phone does over the network: it keeps cookies, and trusts what it was told to."""

    def __init__(self, port: int, folder: Path) -> None:
        self.port, self.cookies = port, SimpleCookie()
        self.context = ssl.create_default_context(cafile=str(folder / AUTHORITY))

    def ask(self, method: str, path: str, body: object = None) -> tuple[int, str]:
        line = http.client.HTTPSConnection("127.0.0.1", self.port, context=self.context, timeout=30)
        headers = {"Cookie": "; ".join(f"{one.key}={one.value}" for one in self.cookies.values())}
        if body is not None:
            headers |= {"Content-Type": "application/json", "Origin": f"https://127.0.0.1:{self.port}"}
            headers["X-CSRFToken"] = self.cookies["__Host-csrftoken"].value
        line.request(method, path, None if body is None else json.dumps(body), headers)
        answer = line.getresponse()
        for value in answer.headers.get_all("Set-Cookie") or []:
            self.cookies.load(value)
            assert "Secure" in value
        text = answer.read().decode()
        line.close()
        return answer.status, text


def lan_port(running: Started) -> int:
    """The port of a `./start --lan`, as it says."""
    found = re.search(r"https://127\.0\.0\.1:(\d+)/", running.said())
    assert found is not None, running.said()
    return int(found[1])


class OverTls(TestCase):
    def test_a_phone_trusts_signs_in_by_the_link_and_works(self) -> None:
        with TemporaryDirectory() as folder:
            home = Path(folder) / "data"
            running = Started(home, "--lan", "127.0.0.1", "--lan-port", "0")
            self.addCleanup(lambda: running.process.poll() is None and running.end())
            running.up()
            try:
                self.as_a_phone(running, home, lan_port(running))
            finally:
                self.assertEqual(running.end(), 0)
                Cluster.at(home).remove()

    def as_a_phone(self, running: Started, home: Path, port: int) -> None:
        plain = http.client.HTTPConnection("127.0.0.1", port + 1, timeout=30)
        plain.request("GET", "/trust/")
        page = plain.getresponse().read().decode()
        shown = re.search(r"(?:[0-9A-F]{2}:){31}[0-9A-F]{2}", page)
        assert shown is not None
        self.assertIn(shown[0], running.said())  # the same on the page as in the terminal
        self.assertIn("█", running.said())  # QR codes
        plain.request("GET", "/trust/wheelometron.crt")
        loaded = x509.load_der_x509_certificate(plain.getresponse().read())
        self.assertEqual(loaded, x509.load_pem_x509_certificate((home / "tls" / AUTHORITY).read_bytes()))
        plain.request("GET", "/vehicle/1")
        sent = plain.getresponse()
        self.assertEqual((sent.status, sent.headers["Location"]), (301, f"https://127.0.0.1:{port}/vehicle/1"))
        sent.read()

        stranger = http.client.HTTPSConnection("127.0.0.1", port, timeout=30)
        with self.assertRaises(ssl.SSLCertVerificationError):
            stranger.request("GET", "/api/health")

        phone = Phone(port, home / "tls")
        session = json.loads(phone.ask("GET", "/api/session")[1])
        self.assertEqual((session["signed_in"], session["demo"]), (False, False))
        self.assertEqual(phone.ask("POST", "/api/session/demo", {})[0], 404)
        link = re.search(r"/pair/(\S+)", running.said())
        assert link is not None
        status, text = phone.ask("POST", "/api/session/pair", {"secret": link[1], "name": "Phone"})
        self.assertEqual(status, 200, text)
        self.assertEqual(json.loads(text)["workshop"], "Cormorant Spit Speed Week")
        self.assertEqual(len(json.loads(phone.ask("GET", "/api/vehicles")[1])["vehicles"]), 6)
        self.assertEqual(phone.ask("POST", "/api/session/pair", {"secret": link[1]})[0], 404)
        # a host that is not ours is refused, so that no page of the internet reaches in by a name of its own
        other = http.client.HTTPSConnection("127.0.0.1", port, context=phone.context, timeout=30)
        other.request("GET", "/api/health", headers={"Host": "bank.example"})
        self.assertEqual(other.getresponse().status, 400)

    def test_what_is_in_the_way_is_said(self) -> None:
        with TemporaryDirectory() as folder:
            home = Path(folder) / "data"
            for options, words in (
                (("--lan", "203.0.113.9"), "private address"),
                (("--lan", "10.255.255.1"), "Choose another"),
            ):
                refused = Started(home, "--empty", *options, "--lan-port", "0")
                self.assertEqual(refused.process.wait(180), 1)
                self.assertIn(words, refused.said())
            Cluster.at(home).remove()
