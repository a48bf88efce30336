"""Somebody at a browser: signs in, asks and writes, and knows when nobody answered."""

from __future__ import annotations

import http.client
import json
import time
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

NAME, PASSWORD = "supervisor", "heron-at-the-lock"


class Away(Exception):
    """Nobody answered: what was asked may have been done or not."""


@dataclass
class Answer:
    """What came back, and how long it took."""

    status: int
    body: Any
    seconds: float
    raw: bytes = b""


@dataclass
class Person:
    """One browser with its cookies."""

    address: str
    patience_s: float = 30.0
    cookies: dict[str, str] = field(default_factory=dict)
    _line: http.client.HTTPConnection | None = None

    def ask(self, method: str, path: str, body: Any = None, raw: bytes | None = None) -> Answer:
        """One request. Raises Away where no answer came."""
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items())}
        data = raw
        if body is not None:
            data = json.dumps(body).encode()
        if data is not None:
            headers["Content-Type"] = "application/json"
        if method != "GET":
            headers["X-CSRFToken"] = self.cookies.get("csrftoken", "")
            headers["Referer"] = self.address
        began = time.monotonic()
        try:
            if self._line is None:
                where = urlsplit(self.address)
                self._line = http.client.HTTPConnection(
                    where.hostname or "", where.port, timeout=self.patience_s
                )
            self._line.request(method, path, data, headers)
            response = self._line.getresponse()
            found = response.read()
        except (OSError, http.client.HTTPException) as error:
            self.hang_up()
            raise Away(str(error)) from error
        for name, value in response.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.partition(";")[0]
        try:
            told = json.loads(found) if found else None
        except ValueError:
            told = None
        return Answer(response.status, told, time.monotonic() - began, found)

    def hang_up(self) -> None:
        """Call anew next time."""
        if self._line is not None:
            self._line.close()
        self._line = None

    def insist(self, method: str, path: str, body: Any = None, seconds: float = 120.0) -> Answer:
        """The same again until somebody answers and is not away for a while (503). Raises Away when
        that takes too long."""
        until = time.monotonic() + seconds
        while True:
            try:
                answer = self.ask(method, path, body)
                if answer.status != 503:
                    return answer
            except Away:
                pass
            if time.monotonic() > until:
                raise Away(f"{method} {path} was not answered for {seconds:g} s")
            time.sleep(0.1)

    def sign_in(self, name: str = NAME, password: str = PASSWORD) -> None:
        """Come in. Raises RuntimeError where that is refused."""
        self.insist("GET", "/api/session")
        answer = self.insist("POST", "/api/session", {"username": name, "password": password})
        if answer.status != 200:
            raise RuntimeError(f"{name} cannot sign in: {answer.status} {answer.body}")
