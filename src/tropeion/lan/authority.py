"""The certificates of the listener in one's own network.

An authority is made at the first start, and can vouch for nothing but this machine's names and private addresses
(name constraints, RFC 5280, 4.2.1.10). Whoever installs it on a phone trusts it for no other page. Each start makes the
server's certificate anew, for the addresses of that day; its key is kept nowhere.
"""

from __future__ import annotations

import os
import ssl
import tempfile
import time
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Final

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from tropeion.core.frozen import frozen

from .addresses import PRIVATE, Address

FILE_NAME: Final = "authority.pem"
_AUTHORITY_DAYS: Final = 3650
# Phones refuse certificates that are good for much longer than a year.
SERVER_DAYS: Final = 300
# The clock of a phone may be slow.
_BEFORE: Final = timedelta(days=1)
_LEFT_S: Final = 60.0
# Leads nowhere, by RFC 2606.
_NO_NAME: Final = "invalid"


class AuthorityError(Exception):
    """The authority cannot be read or written, with the way on."""


@frozen
class Authority:
    """The authority of one collection's folder."""

    key: ec.EllipticCurvePrivateKey
    certificate: x509.Certificate

    @property
    def fingerprint(self) -> str:
        """SHA-256, in pairs, as phones show it."""
        return self.certificate.fingerprint(hashes.SHA256()).hex(":").upper()

    @property
    def der(self) -> bytes:
        """The certificate as a phone installs it."""
        return self.certificate.public_bytes(serialization.Encoding.DER)

    @property
    def names(self) -> tuple[str, ...]:
        """The names of machines that it can vouch for."""
        limits = self.certificate.extensions.get_extension_for_class(x509.NameConstraints).value
        permitted = limits.permitted_subtrees or ()
        return tuple(name.value for name in permitted if isinstance(name, x509.DNSName))


def authority_in(folder: Path, names: Sequence[str], now: datetime | None = None) -> tuple[Authority, bool]:
    """The authority kept in a folder, and whether it was made just now: at first, or where it had nearly run out.

    Raises AuthorityError where its file is damaged or cannot be written.
    """
    now = now or datetime.now(UTC)
    path = folder / FILE_NAME
    try:
        data = path.read_bytes()
    except FileNotFoundError:
        return _made(path, names, now), True
    except OSError as error:
        raise AuthorityError(f"cannot read {path}: {error.strerror}") from None
    try:
        key = serialization.load_pem_private_key(data, None)
        certificate = x509.load_pem_x509_certificate(data)
    except (ValueError, TypeError):
        raise AuthorityError(f"{path} is damaged: move it away, and install the new authority on each phone") from None
    if not isinstance(key, ec.EllipticCurvePrivateKey) or key.public_key() != certificate.public_key():
        raise AuthorityError(f"{path} holds another key than its certificate: move it away")
    if certificate.not_valid_after_utc < now + timedelta(days=SERVER_DAYS):
        return _made(path, names, now), True
    # Whoever copied the file may have opened it to others.
    path.chmod(0o600)
    return Authority(key, certificate), False


def _made(path: Path, names: Sequence[str], now: datetime) -> Authority:
    key = ec.generate_private_key(ec.SECP256R1())
    called = x509.Name(
        [x509.NameAttribute(NameOID.COMMON_NAME, f"Tropeion on {names[0] if names else 'this machine'}")]
    )
    # A kind of name of which none is permitted would not be limited at all.
    permitted = [*(x509.DNSName(name) for name in names or (_NO_NAME,)), *(x509.IPAddress(one) for one in PRIVATE)]
    certificate = (
        x509.CertificateBuilder()
        .subject_name(called)
        .issuer_name(called)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - _BEFORE)
        .not_valid_after(now + timedelta(days=_AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs_certificates=True), critical=True)
        .add_extension(x509.NameConstraints(permitted, None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(path, _pem(key) + certificate.public_bytes(serialization.Encoding.PEM))
    return Authority(key, certificate)


def _usage(*, signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=signs_certificates,
        crl_sign=False,
        encipher_only=False,
        decipher_only=False,
    )


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(path: Path, data: bytes) -> None:
    """Key and certificate in one file, there as a whole or not, and for nobody else to read."""
    try:
        # Made with 0600.
        number, part = tempfile.mkstemp(dir=path.parent, prefix=".authority-")
        try:
            with os.fdopen(number, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            Path(part).replace(path)
        except BaseException:
            Path(part).unlink(missing_ok=True)
            raise
    except OSError as error:
        raise AuthorityError(f"cannot write {path}: {error.strerror}") from None


def server_certificate(
    authority: Authority, addresses: Sequence[Address], names: Sequence[str], now: datetime | None = None
) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
    """A key and a certificate for these addresses, and those of the names that the authority may vouch for."""
    now = now or datetime.now(UTC)
    key = ec.generate_private_key(ec.SECP256R1())
    known = [name for name in names if name in authority.names]
    alternatives = [
        *(x509.DNSName(name) for name in known),
        # A zone is of this machine, not of the certificate.
        *(x509.IPAddress(type(address)(int(address))) for address in addresses),
    ]
    certificate = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Tropeion")]))
        .issuer_name(authority.certificate.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - _BEFORE)
        .not_valid_after(now - _BEFORE + timedelta(days=SERVER_DAYS))
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName(alternatives), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority.key.public_key()), critical=False)
        .sign(authority.key, hashes.SHA256())
    )
    return key, certificate


def _clear(folder: Path) -> None:
    """Keys that a killed program had just written; what another program writes now is younger."""
    for left in (*folder.glob(".server-*"), *folder.glob(".authority-*")):
        try:
            if time.time() - left.stat().st_mtime > _LEFT_S:
                left.unlink()
        except OSError:
            continue


def tls_context(key: ec.EllipticCurvePrivateKey, certificate: x509.Certificate, folder: Path) -> ssl.SSLContext:
    """How the listener speaks: TLS 1.2 at least. The library reads keys from files alone: one that is gone at once."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    context.set_alpn_protocols(["http/1.1"])
    _clear(folder)
    try:
        with tempfile.NamedTemporaryFile(dir=folder, prefix=".server-") as file:
            file.write(_pem(key) + certificate.public_bytes(serialization.Encoding.PEM))
            file.flush()
            context.load_cert_chain(file.name)
    except OSError as error:
        raise AuthorityError(f"cannot write into {folder}: {error.strerror}") from None
    return context
