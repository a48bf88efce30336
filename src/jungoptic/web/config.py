"""Settings from the environment, parsed once into a typed object that says what is wrong."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

#: Django's own measure of a secret that cannot be guessed.
SHORTEST_SECRET = 50
ROOT = Path(__file__).resolve().parents[3]


@dataclass(frozen=True)
class Config:
    """Everything that differs between machines. Each field is one `JUNGOPTIC_` variable."""

    secret_key: str
    debug: bool
    demo: bool
    allowed_hosts: tuple[str, ...]
    trusted_origins: tuple[str, ...]
    behind_https: bool
    trusted_proxies: int
    open_sign_up: bool
    database_host: str
    database_port: int
    database_name: str
    database_user: str
    database_password: str
    database_pool: int
    data_dir: Path
    frontend_dist: Path
    collected_static: bool
    vite_dev_port: int
    s3_bucket: str
    s3_endpoint: str
    quota_gb: int
    person_gb: int
    productions_each: int
    log_level: str

    @staticmethod
    def from_env(env: Mapping[str, str]) -> Config:
        """Read `env`; raises ValueError naming the variable that is missing or malformed."""

        def text(name: str, default: str = "") -> str:
            return env.get(f"JUNGOPTIC_{name}", default)

        def flag(name: str) -> bool:
            value = text(name, "0").lower()
            if value not in {"0", "1", "true", "false", "yes", "no"}:
                raise ValueError(f"JUNGOPTIC_{name} must be 0 or 1, not {value!r}.")
            return value in {"1", "true", "yes"}

        def number(name: str, default: int) -> int:
            value = text(name, str(default))
            if not value.isdigit():
                raise ValueError(f"JUNGOPTIC_{name} must be a whole number, not {value!r}.")
            return int(value)

        def one_of(name: str, default: str, known: tuple[str, ...]) -> str:
            value = text(name, default).upper()
            if value not in known:
                raise ValueError(f"JUNGOPTIC_{name} must be one of {', '.join(known)}.")
            return value

        def words(name: str, default: str) -> tuple[str, ...]:
            return tuple(word for word in text(name, default).replace(",", " ").split() if word)

        demo, debug = flag("DEMO"), flag("DEBUG")
        secret = text("SECRET_KEY")
        if not secret:
            if not (demo or debug):
                raise ValueError(
                    "JUNGOPTIC_SECRET_KEY is not set. Give it a long random text; "
                    "see the README, 'A real server'."
                )
            secret = "only-for-demo-and-development-on-loopback-never-for-a-real-server"
        if len(secret) < SHORTEST_SECRET:
            raise ValueError(
                f"JUNGOPTIC_SECRET_KEY has {len(secret)} characters; give it at least "
                f"{SHORTEST_SECRET}, at random: whoever guesses it can sign in as anybody."
            )
        return Config(
            secret_key=secret,
            debug=debug,
            demo=demo,
            allowed_hosts=words("ALLOWED_HOSTS", "127.0.0.1 localhost [::1]"),
            trusted_origins=words("TRUSTED_ORIGINS", ""),
            behind_https=flag("BEHIND_HTTPS"),
            trusted_proxies=number("TRUSTED_PROXIES", 0),
            open_sign_up=flag("OPEN_SIGN_UP") or demo,
            database_host=text("DB_HOST", "127.0.0.1"),
            database_port=number("DB_PORT", 5432),
            database_name=text("DB_NAME", "jungoptic"),
            database_user=text("DB_USER", "jungoptic"),
            database_password=text("DB_PASSWORD"),
            database_pool=number("DB_POOL", 0),
            data_dir=Path(text("DATA_DIR", str(ROOT / ".local" / "data"))),
            frontend_dist=Path(text("FRONTEND_DIST", str(ROOT / "frontend" / "dist"))),
            collected_static=flag("COLLECTED_STATIC"),
            vite_dev_port=number("VITE_DEV_PORT", 0),
            s3_bucket=text("S3_BUCKET"),
            s3_endpoint=text("S3_ENDPOINT"),
            quota_gb=number("QUOTA_GB", 200),
            person_gb=number("PERSON_GB", 500),
            productions_each=number("PRODUCTIONS_EACH", 100),
            log_level=one_of("LOG_LEVEL", "WARNING", ("DEBUG", "INFO", "WARNING", "ERROR")),
        )


CONFIG = Config.from_env(os.environ)
