"""Who asks: where a request comes from, and what is being answered just now."""

from __future__ import annotations

from contextvars import ContextVar, Token

from django.http import HttpRequest

from .config import CONFIG

_address: ContextVar[str] = ContextVar("address", default="")


def address_of(request: HttpRequest) -> str:
    """Where a request comes from. What a client says of itself does not count: behind
    `JUNGOPTIC_TRUSTED_PROXIES` proxies it is the address that the outermost of them wrote down."""
    direct = str(request.META.get("REMOTE_ADDR", ""))
    if CONFIG.trusted_proxies == 0:
        return direct
    told = str(request.META.get("HTTP_X_FORWARDED_FOR", "")).split(",")
    hops = [hop.strip() for hop in told if hop.strip()]
    return hops[-CONFIG.trusted_proxies] if len(hops) >= CONFIG.trusted_proxies else direct


def asked_from() -> str:
    """The address whose request is being answered; "" outside one."""
    return _address.get()


def begin(request: HttpRequest) -> Token[str]:
    """Remember where this request comes from, until `end`."""
    return _address.set(address_of(request)[:64])


def end(token: Token[str]) -> None:
    """The request is answered."""
    _address.reset(token)
