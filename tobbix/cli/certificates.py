"""A certificate for the local network, signed by itself.

X.509 (RFC 5280) by the cryptography package. Its key stays in the folder, readable by its owner only.
"""

import os
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

_DAYS = 365  # phones take no certificate that holds for much longer than a year
_NAME = "Tobbix of this house"


def certify(folder: Path, host: str, now: datetime | None = None) -> tuple[Path, Path, str]:
    """A certificate for an IP address or name, made anew if it is missing, for another host or about to end.

    Returns the files of certificate and key, and the SHA-256 fingerprint that a browser shows.
    """
    now = now or datetime.now(UTC)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    certificate, key = folder / "certificate.pem", folder / "key.pem"
    if not (certificate.exists() and key.exists() and _holds(certificate, host, now)):
        fresh = ec.generate_private_key(ec.SECP256R1())
        made = _make(fresh, host, now)
        _write(key, fresh.private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        ))  # fmt: skip
        _write(certificate, made.public_bytes(serialization.Encoding.PEM))
    digest = _load(certificate).fingerprint(hashes.SHA256()).hex().upper()
    return certificate, key, ":".join(digest[at : at + 2] for at in range(0, len(digest), 2))


def _names(host: str) -> x509.SubjectAlternativeName:
    try:
        return x509.SubjectAlternativeName([x509.IPAddress(ip_address(host))])
    except ValueError:
        return x509.SubjectAlternativeName([x509.DNSName(host)])


def _make(key: ec.EllipticCurvePrivateKey, host: str, now: datetime) -> x509.Certificate:
    """Signed by itself: it proves nothing to anybody who did not look at its fingerprint."""
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, _NAME)])
    return (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(days=_DAYS))
        .add_extension(_names(host), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(key, hashes.SHA256())
    )


def _load(file: Path) -> x509.Certificate:
    return x509.load_pem_x509_certificate(file.read_bytes())


def _holds(file: Path, host: str, now: datetime) -> bool:
    """Whether a certificate is for the host and holds for another week."""
    found = _load(file)
    named = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return named == _names(host) and found.not_valid_after_utc > now + timedelta(days=7)


def _write(file: Path, content: bytes) -> None:
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as target:
        target.write(content)
