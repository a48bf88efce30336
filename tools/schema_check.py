"""`make schema`: the API against its own description, by random requests of every endpoint.

Nothing may answer 5xx, and what is answered has the declared status, type and shape. It runs on a
throw-away copy of the demo, signed in as its owner.
"""

from __future__ import annotations

import os
import subprocess
import sys

from throwaway import ROOT, database, demo_server

#: What would end the session, or lock its own account.
LEFT_OUT = ("/api/session", "/api/accounts", "/api/password", "/api/account/erase")
CHECKS = (
    "not_a_server_error",
    "status_code_conformance",
    "content_type_conformance",
    "response_schema_conformance",
)


def main() -> int:
    """Run it; the number of examples for each endpoint may follow, and a regular expression that
    chooses some by their path."""
    examples = sys.argv[1] if len(sys.argv) > 1 else "2"
    chosen = sys.argv[2:3]
    with database(), demo_server() as address:
        from django.conf import settings
        from django.test import Client

        from jungoptic.web.accounts.models import User

        client = Client()
        client.force_login(User.objects.get(username="supervisor"))
        token = client.get("/api/session").cookies["csrftoken"].value
        session = client.cookies[settings.SESSION_COOKIE_NAME].value
        command = [
            *(os.path.join(os.path.dirname(sys.executable), "schemathesis"), "run"),
            f"{address}/api/openapi.json",
            *("-H", f"Cookie: sessionid={session}; csrftoken={token}"),
            *("-H", f"X-CSRFToken: {token}", "-H", f"Referer: {address}/"),
            *("--checks", ",".join(CHECKS), "--max-examples", examples, "--seed", "1"),
            *("--phases", "coverage,fuzzing", "--workers", "2", "--request-timeout", "30"),
        ]
        for some in chosen:
            command += ["--include-path-regex", some]
        for path in LEFT_OUT:
            command += ["--exclude-path", path]
        return subprocess.run(command, cwd=ROOT, check=False).returncode


if __name__ == "__main__":
    sys.exit(main())
