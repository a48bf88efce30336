"""A passkey beside the password, by the browser's own authenticator, and the password once more."""

from __future__ import annotations

import time
from typing import Any

from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from playwright.sync_api import Page, expect

from jungoptic.web.accounts.api import DEMO_PASSWORD
from jungoptic.web.accounts.sure import HOLDS_S, SURE

from .accessible import no_barriers

PASSWORD = "a-long-tide-table"


def with_device(page: Page) -> None:
    """A device that keeps passkeys, as the browser itself pretends one."""
    spoken = page.context.new_cdp_session(page)
    spoken.send("WebAuthn.enable")
    told = {"protocol": "ctap2", "transport": "internal", "hasUserVerification": True}
    told |= {"isUserVerified": True, "automaticPresenceSimulation": True}
    spoken.send("WebAuthn.addVirtualAuthenticator", {"options": told})


def sign_in(page: Page) -> None:
    page.get_by_label("User name").fill("ansa")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()


def test_a_passkey_is_made_shown_and_stood_in_for(page: Page, live_server: Any):
    with_device(page)
    page.goto(live_server.url)
    page.get_by_role("button", name="Make an account").click()
    page.get_by_label("User name").fill("ansa")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Make the account").click()
    page.get_by_role("button", name="Your account").click()
    page.get_by_label("What it is on").fill("this desk")
    page.get_by_role("button", name="Make a passkey").click()
    expect(page.get_by_role("list", name="Your passkeys")).to_contain_text("this desk")
    codes = page.get_by_role("list", name="Spare codes").get_by_role("listitem")
    expect(codes).to_have_count(10)
    code = codes.first.inner_text()
    no_barriers(page)
    # The same device once more is told, and nothing is lost.
    page.get_by_label("What it is on").fill("this desk again")
    page.get_by_role("button", name="Make a passkey").click()
    expect(page.get_by_text("This device has a passkey here already.")).to_be_visible()
    page.get_by_role("button", name="I have them").click()
    expect(codes).to_have_count(0)
    page.get_by_role("button", name="Close").click()

    page.get_by_role("button", name="Sign out").click()
    sign_in(page)
    page.get_by_role("button", name="Show the passkey").click()
    expect(page.get_by_role("button", name="Your account")).to_be_visible()

    page.get_by_role("button", name="Sign out").click()
    sign_in(page)
    page.get_by_label("Or one of your spare codes").fill("aaaa-bbbb-cccc-dddd")
    page.get_by_role("button", name="Sign in by the code").click()
    expect(page.get_by_role("alert")).to_contain_text("does not hold")
    page.get_by_label("Or one of your spare codes").fill(code.upper())
    page.get_by_role("button", name="Sign in by the code").click()
    page.get_by_role("button", name="Your account").click()
    expect(page.get_by_text("9 spare codes left.")).to_be_visible()
    page.get_by_role("button", name="Take away").click()
    expect(page.get_by_role("button", name="Take away")).to_have_count(0)


def grow_old() -> None:
    """Every proof of who somebody is was given long ago."""
    for row in Session.objects.all():
        store = SessionStore(row.session_key)
        store[SURE] = time.time() - HOLDS_S - 1
        store.save()


def test_an_old_proof_is_renewed_over_what_is_there(desk: Page):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_role("link", name="People").click()
    desk.get_by_label("For whom").fill("Ilse")
    grow_old()
    desk.get_by_role("button", name="Make a link").click()
    asked = desk.get_by_role("dialog", name="Is it still you?")
    asked.get_by_role("button", name="Leave it").click()
    expect(desk.get_by_role("alert")).to_contain_text("To be sure that it is you")
    desk.get_by_role("button", name="Make a link").click()
    asked.get_by_label("Your password").fill("wrong")
    asked.get_by_role("button", name="Go on").click()
    expect(asked.get_by_role("alert")).to_have_text("This is not your password.")
    asked.get_by_label("Your password").fill(DEMO_PASSWORD)
    asked.get_by_role("button", name="Go on").click()
    expect(asked).to_have_count(0)
    expect(desk.get_by_role("listitem", name="invitation as crew, Ilse")).to_be_visible()
