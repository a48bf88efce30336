"""A device that keeps passkeys, written from the standard alone: W3C Web Authentication, level 2,
sections 6.1 (authenticator data), 6.5 (attestation, format `none`) and 5.8.1 (client data); keys as
in RFC 9053 (COSE, ES256)."""

from __future__ import annotations

import base64
import hashlib
import json
import secrets
from typing import Any

import cbor2
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec

PRESENT, VERIFIED, NEW_KEY = 0x01, 0x04, 0x40


def text(data: bytes) -> str:
    return base64.urlsafe_b64encode(data).decode().rstrip("=")


class Device:
    """One key, at one site."""

    def __init__(self, origin: str = "http://testserver") -> None:
        self.origin = origin
        self.key = ec.generate_private_key(ec.SECP256R1())
        self.id = secrets.token_bytes(32)
        self.used = 0

    def makes(self, options: dict[str, Any]) -> dict[str, Any]:
        """The answer of `navigator.credentials.create`, as `toJSON` has it."""
        point = self.key.public_key().public_numbers()
        # COSE_Key: 1 kty EC2, 3 alg ES256, -1 curve P-256, -2 x, -3 y.
        at = {-2: point.x.to_bytes(32, "big"), -3: point.y.to_bytes(32, "big")}
        public = cbor2.dumps({1: 2, 3: -7, -1: 1, **at})
        data = self._data(options["rp"]["id"], PRESENT | VERIFIED | NEW_KEY)
        data += bytes(16) + len(self.id).to_bytes(2, "big") + self.id + public
        whole = cbor2.dumps({"fmt": "none", "attStmt": {}, "authData": data})
        told = self._told("webauthn.create", options["challenge"])
        return self._answer({"attestationObject": text(whole), "clientDataJSON": text(told)})

    def answers(self, options: dict[str, Any]) -> dict[str, Any]:
        """The answer of `navigator.credentials.get`."""
        self.used += 1
        data = self._data(options["rpId"], PRESENT | VERIFIED)
        told = self._told("webauthn.get", options["challenge"])
        signed = self.key.sign(data + hashlib.sha256(told).digest(), ec.ECDSA(hashes.SHA256()))
        return self._answer(
            {
                "authenticatorData": text(data),
                "clientDataJSON": text(told),
                "signature": text(signed),
            }
        )

    def _data(self, site: str, flags: int) -> bytes:
        return (
            hashlib.sha256(site.encode()).digest() + bytes([flags]) + self.used.to_bytes(4, "big")
        )

    def _told(self, kind: str, challenge: str) -> bytes:
        return json.dumps({"type": kind, "challenge": challenge, "origin": self.origin}).encode()

    def _answer(self, response: dict[str, str]) -> dict[str, Any]:
        return {
            "id": text(self.id),
            "rawId": text(self.id),
            "type": "public-key",
            "response": response,
            "clientExtensionResults": {},
        }
