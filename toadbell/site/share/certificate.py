"""A certificate of the workshop's own: made on this machine, and worth nothing elsewhere."""

import datetime
import ipaddress
import os
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from toadbell.site.share.addresses import local_name

TEN_YEARS = datetime.timedelta(days=3650)
A_YEAR = datetime.timedelta(days=390)
"""Phones take no certificate of a server that is good for longer than 398 days."""
SOON = datetime.timedelta(days=30)
_NETWORKS = (
    "10.0.0.0/8",
    "172.16.0.0/12",
    "192.168.0.0/16",
    "169.254.0.0/16",
    "100.64.0.0/10",
    "127.0.0.0/8",
    "fc00::/7",
    "fe80::/10",
)
"""The only addresses that the workshop's certificate can vouch for, with names under .local: who stole its key could
stand for no site of the internet.
"""


@dataclass(frozen=True)
class Certificate:
    """Files of the certificate that the second door shows, its key, and the workshop's own that vouches for it."""

    chain: Path
    key: Path
    workshop: Path
    fingerprint: str


def certificate_for(folder: Path, address: str) -> Certificate:
    """The certificate for an address, made where there is none yet or it soon ends.

    folder   where keys and certificates are kept, their owner's alone
    address  the address that phones come to
    Source: RFC 5280 (name constraints: 4.2.1.10); what phones ask of a server's certificate: SHA-256, a name beside the
    subject, server authentication, 398 days at the most.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    workshop, workshop_key = _workshop(folder)
    chain, key = folder / f"door-{address.replace(':', '-')}.pem", folder / f"door-{address.replace(':', '-')}.key"
    if not _serves(chain, key, workshop):
        made = ec.generate_private_key(ec.SECP256R1())
        now = datetime.datetime.now(datetime.UTC)
        names: list[x509.GeneralName] = [x509.IPAddress(ipaddress.ip_address(address))]
        if local_name():
            names.append(x509.DNSName(local_name()))
        leaf = (
            x509.CertificateBuilder()
            .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Toad Bell at {address}")]))
            .issuer_name(workshop.subject)
            .public_key(made.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now - datetime.timedelta(days=1))
            .not_valid_after(min(now + A_YEAR, workshop.not_valid_after_utc))
            .add_extension(x509.SubjectAlternativeName(names), critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(
                x509.AuthorityKeyIdentifier.from_issuer_public_key(workshop_key.public_key()), critical=False
            )
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(made.public_key()), critical=False)
            .sign(workshop_key, hashes.SHA256())
        )
        _keep(key, _key_bytes(made))
        _keep(chain, _pem(leaf) + _pem(workshop))
    leaf = x509.load_pem_x509_certificate(chain.read_bytes())
    return Certificate(chain, key, folder / "workshop.pem", _read_out(leaf.fingerprint(hashes.SHA256())))


def _workshop(folder: Path) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    path, key_path = folder / "workshop.pem", folder / "workshop.key"
    if path.exists() and key_path.exists():
        kept = x509.load_pem_x509_certificate(path.read_bytes())
        key = serialization.load_pem_private_key(key_path.read_bytes(), None)
        if isinstance(key, ec.EllipticCurvePrivateKey) and kept.public_key() == key.public_key() and _lasts(kept):
            return kept, key
    key = ec.generate_private_key(ec.SECP256R1())
    now = datetime.datetime.now(datetime.UTC)
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Toad Bell workshop, {now:%Y-%m-%d}")])
    allowed: list[x509.GeneralName] = [x509.IPAddress(ipaddress.ip_network(one)) for one in _NETWORKS]
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - datetime.timedelta(days=1))
        .not_valid_after(now + TEN_YEARS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints([*allowed, x509.DNSName("local")], None), critical=True)
        .add_extension(
            x509.KeyUsage(
                digital_signature=False,
                content_commitment=False,
                key_encipherment=False,
                data_encipherment=False,
                key_agreement=False,
                key_cert_sign=True,
                crl_sign=True,
                encipher_only=False,
                decipher_only=False,
            ),
            critical=True,
        )
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _keep(key_path, _key_bytes(key))
    _keep(path, _pem(made))
    return made, key


def _serves(chain: Path, key: Path, workshop: x509.Certificate) -> bool:
    if not (chain.exists() and key.exists()):
        return False
    leaf = x509.load_pem_x509_certificate(chain.read_bytes())
    try:
        leaf.verify_directly_issued_by(workshop)
    except Exception:  # another workshop's, or not signed at all: made anew
        return False
    names = leaf.extensions.get_extension_for_class(x509.SubjectAlternativeName).value.get_values_for_type(x509.DNSName)
    return _lasts(leaf) and names == ([local_name()] if local_name() else [])


def _lasts(one: x509.Certificate) -> bool:
    return one.not_valid_after_utc > datetime.datetime.now(datetime.UTC) + SOON


def _pem(one: x509.Certificate) -> bytes:
    return one.public_bytes(serialization.Encoding.PEM)


def _key_bytes(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _keep(path: Path, data: bytes) -> None:
    part = path.with_suffix(".part")
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
        file.write(data)
    part.replace(path)


def _read_out(print_: bytes) -> str:
    return " ".join(print_.hex().upper()[at : at + 4] for at in range(0, 64, 4))
