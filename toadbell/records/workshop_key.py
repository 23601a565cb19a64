"""The workshop's own signing key, by which it vouches for the signatures that were given in it (Ed25519, RFC 8032).

It lies in the data folder, its owner's alone, and goes into no backup and no package: whoever has it can speak for the
workshop. Another program checks what it vouched for by the public key alone; docs/formats.md says how.
"""

import contextlib
import hashlib
import json
import os
from collections.abc import Mapping
from pathlib import Path

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey
from django.conf import settings

from toadbell.records.models import KnownKey

NAME = "signing-key.pem"


def own_key() -> Ed25519PrivateKey:
    """The key, made where there is none. Raises OSError where it cannot be read, ValueError where it is none."""
    path = Path(settings.DATA_DIR) / NAME
    with contextlib.suppress(FileNotFoundError):
        found = serialization.load_pem_private_key(path.read_bytes(), password=None)
        if not isinstance(found, Ed25519PrivateKey):
            raise ValueError(f"{path} holds another kind of key")
        return found
    made = Ed25519PrivateKey.generate()
    part = path.with_name(f"{NAME}-{os.getpid()}.part")
    pem = serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
        file.write(made.private_bytes(*pem))
        os.fsync(file.fileno())
    with contextlib.suppress(FileExistsError):
        os.link(part, path)  # whoever of two is first has made it
    part.unlink()
    return own_key()


def public_of(key: Ed25519PrivateKey) -> str:
    """Its public half, 64 hexadecimal digits."""
    return key.public_key().public_bytes(serialization.Encoding.Raw, serialization.PublicFormat.Raw).hex()


def own_public() -> str:
    """The public half of this workshop's key, which is known from now on as its own."""
    public = public_of(own_key())
    KnownKey.objects.get_or_create(public=public, defaults={"own": True, "title": "this workshop"})
    return public


def statement(row: Mapping[str, str]) -> bytes:
    """What is vouched for: a row of `signatures.csv` without its last two columns, as JSON, keys in order, UTF-8."""
    return json.dumps(dict(row), sort_keys=True, ensure_ascii=False, separators=(",", ":")).encode()


def vouch(row: Mapping[str, str]) -> tuple[str, str]:
    """Vouch for a row: the public key, and the signature, both hexadecimal."""
    return own_public(), own_key().sign(statement(row)).hex()


def vouched(row: Mapping[str, str], public: str, signature: str) -> bool:
    """Does a key vouch for a row just as it stands?"""
    try:
        Ed25519PublicKey.from_public_bytes(bytes.fromhex(public)).verify(bytes.fromhex(signature), statement(row))
    except (InvalidSignature, ValueError):
        return False
    return True


def fingerprint(public: str) -> str:
    """A key as two people can read it to each other: four groups of four digits of its SHA-256."""
    found = hashlib.sha256(bytes.fromhex(public)).hexdigest()
    return " ".join(found[n : n + 4] for n in range(0, 16, 4))
