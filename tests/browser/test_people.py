"""People as they come and go: asked in by a link, handed a card without an account, let go."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from jungoptic.web.productions.models import Invitation
from jungoptic.web.takes.models import CrewLink, Take

from .accessible import no_barriers

PASSWORD = "a-long-tide-table"
Another = Callable[..., Page]


@pytest.fixture
def another(browser: Browser, live_server: Any) -> Iterator[Another]:
    """Opens a page on a device of its own; fails the test when one of them throws or is answered
    by a server error."""
    contexts, wrong = [], []

    def make(**size: int) -> Page:
        viewport = size or {"width": 1280, "height": 800}
        contexts.append(browser.new_context(viewport=viewport))
        page = contexts[-1].new_page()
        page.set_default_timeout(30_000)
        page.on("pageerror", lambda error: wrong.append(str(error)))
        page.on(
            "response",
            lambda r: wrong.append(f"{r.status} {r.url}") if r.status >= 500 else None,
        )
        return page

    yield make
    for context in contexts:
        context.close()
    assert wrong == []


def sign_up(page: Page, name: str) -> None:
    """Fill in the form for a new account."""
    page.get_by_label("User name").fill(name)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Make the account").click()


def address(page: Page, name: str) -> str:
    """What a link's field holds."""
    return page.get_by_role("textbox", name=re.compile(f"^Address: {name}")).input_value()


def test_from_an_empty_production_somebody_is_asked_in_and_let_go(
    page: Page, live_server: Any, another: Another
):
    page.goto(live_server.url)
    page.get_by_role("button", name="Make an account").click()
    sign_up(page, "ansa")
    page.get_by_placeholder("its name").fill("The Ferry")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("link", name="People", exact=True).click()
    members = page.get_by_role("region", name="Members")
    expect(members.get_by_role("listitem")).to_have_count(1)
    # The only owner stays.
    members.get_by_role("button", name="Leave").click()
    page.get_by_role("dialog").get_by_role("button", name="Leave").click()
    expect(members.get_by_role("alert")).to_contain_text("make somebody else one first")
    expect(page.get_by_text("No plate has a filming date yet")).to_be_visible()

    page.get_by_label("For whom").fill("Per, camera")
    page.get_by_role("button", name="Make a link").click()
    link = address(page, "invitation as crew, Per, camera")
    expect(page.get_by_text("work on this machine only").first).to_be_visible()
    no_barriers(page)

    guest = another()
    guest.goto(link)
    expect(guest.get_by_role("heading", name="The Ferry")).to_be_visible()
    expect(guest.get_by_text("ansa asks you in as crew")).to_be_visible()
    no_barriers(guest)
    sign_up(guest, "per")
    guest.wait_for_url("**/productions/*")
    guest.get_by_role("link", name="People", exact=True).click()
    expect(guest.get_by_role("region", name="Members").get_by_role("listitem")).to_have_count(2)
    # Crew hands out cards; only owners ask people in and read who did what.
    expect(guest.get_by_role("region", name="Crew links")).to_be_visible()
    expect(guest.get_by_role("region", name="Invitations")).to_have_count(0)
    expect(guest.get_by_role("region", name="Who did what")).to_have_count(0)

    late = another()
    late.goto(link)
    expect(late.get_by_text("has been used already")).to_be_visible()

    page.reload()
    per = members.get_by_role("listitem", name="per")
    page.get_by_text("Used or ended: 1").click()
    expect(page.get_by_text("per came in by it")).to_be_visible()
    per.get_by_role("button", name="Password link").click()
    reset = address(page, "new password of per")
    page.get_by_role("button", name="Done").click()
    late.goto(reset)
    late.reload()
    late.get_by_label("New password").fill("short")
    late.get_by_role("button", name="Set it").click()
    expect(late.get_by_role("alert")).to_contain_text("too short")
    no_barriers(late)
    late.get_by_label("New password").fill("another-tide-table")
    late.get_by_role("button", name="Set it").click()
    late.get_by_role("link", name="The Ferry").wait_for()
    # The first device is signed out by it, and says so without losing its page.
    guest.get_by_role("link", name="Board").click()
    expect(guest.get_by_role("dialog", name="Sign in again")).to_be_visible()

    per.get_by_role("combobox").select_option("viewer")
    expect(page.get_by_text("made per viewer")).to_be_visible()
    per.get_by_role("button", name="Remove").click()
    page.get_by_role("dialog").get_by_role("button", name="Remove").click()
    expect(members.get_by_role("listitem")).to_have_count(1)
    expect(page.get_by_text("removed per from the production")).to_be_visible()
    late.reload()
    late.get_by_text("You belong to no production yet").wait_for()


def test_devices_are_seen_and_signed_out(page: Page, live_server: Any, another: Another):
    page.goto(live_server.url)
    page.get_by_role("button", name="Make an account").click()
    sign_up(page, "ansa")
    page.get_by_text("You belong to no production yet").wait_for()
    phone = another(width=400, height=860)
    phone.goto(live_server.url)
    phone.get_by_label("User name").fill("ansa")
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Sign in", exact=True).click()
    phone.get_by_text("You belong to no production yet").wait_for()
    page.get_by_role("button", name="Your account").click()
    account = page.get_by_role("dialog", name="Your account")
    expect(account.get_by_role("listitem")).to_have_count(2)
    no_barriers(page)
    account.get_by_role("button", name="Sign out").click()
    expect(account.get_by_role("listitem")).to_have_count(1)
    phone.reload()
    phone.get_by_role("heading", name="Sign in").wait_for()


def card_of_half_a(desk: Page) -> None:
    """The card of shot 3 that was filmed."""
    card = Take.objects.get(note__startswith="Column slipped").card
    desk.goto(f"{desk.url.rstrip('/')}/productions/{card.production_of().pk}/cards/{card.pk}")
    desk.get_by_role("heading", name="Half A: Ansa").wait_for()


def open_card(phone: Page, link: str, name: str) -> None:
    """From a link to its only card."""
    phone.goto(link)
    phone.get_by_label("Your name").fill(name)
    phone.get_by_role("button", name="Open the cards").click()
    phone.get_by_text(f"You are {name} here").wait_for()
    # What lets in is not left on the screen.
    assert phone.url.endswith("/crew")
    phone.get_by_role("listitem").get_by_role("link").click()
    phone.get_by_role("heading", name="Lock off").wait_for()


def test_a_card_in_the_hand_without_an_account(desk: Page, another: Another, tmp_path):
    CrewLink.objects.all().delete()
    card_of_half_a(desk)
    desk.get_by_text("On a phone, without an account").click()
    panel = desk.get_by_test_id("crew-link")
    panel.get_by_role("button", name="Make the link").click()
    link = address(panel, "Card 3A-1")
    expect(panel.get_by_role("img", name="Code for a phone: Card 3A-1")).to_be_visible()

    phone = another(width=400, height=860)
    phone.goto(link)
    expect(phone.get_by_text("Card 3A-1, until")).to_be_visible()
    no_barriers(phone)
    open_card(phone, link, "Nela")
    line = phone.get_by_role("checkbox", name=re.compile("^ISO fixed"))
    line.check()
    expect(phone.get_by_text("Nela, by crew link").last).to_be_visible()
    phone.get_by_role("button", name="Log take 2").click()
    phone.get_by_label("Note").fill("By the phone")
    phone.get_by_role("button", name="Save take 2").click()
    expect(phone.get_by_text("By the phone")).to_be_visible()
    expect(phone.get_by_text("Nela, by crew link").last).to_be_visible()
    no_barriers(phone)

    # A photograph of it, as the phone's own camera would send it.
    photo = tmp_path / "slate.png"
    photo.write_bytes(phone.screenshot())
    phone.get_by_label("Photographs of take 2: photograph").set_input_files(photo)
    expect(phone.get_by_text("slate").last).to_be_visible()

    # On the desk it comes in by itself.
    desk.bring_to_front()
    desk.evaluate("window.dispatchEvent(new Event('focus'))")
    expect(desk.get_by_role("checkbox", name=re.compile("^ISO fixed"))).to_be_checked()
    desk.get_by_role("link", name=re.compile("By the phone")).click()
    expect(desk.get_by_text("by Nela, by crew link")).to_be_visible()
    expect(desk.get_by_text("slate").first).to_be_visible()

    # Nothing else opens.
    phone.goto(desk.url)
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()

    desk.go_back()
    desk.get_by_text("On a phone, without an account").click()
    panel.get_by_role("button", name="Withdraw").click()
    expect(panel.get_by_text("Ended: 1")).to_have_count(0)
    expect(panel.get_by_role("button", name="Make the link")).to_be_visible()
    phone.goto(link)
    expect(phone.get_by_role("alert")).to_contain_text("withdrawn")
    phone.goto(f"{link.split('#')[0]}")
    expect(phone.get_by_text("This link was withdrawn")).to_be_visible()


def test_ticks_wait_for_the_connection(desk: Page, another: Another):
    CrewLink.objects.all().delete()
    card_of_half_a(desk)
    production = desk.url.split("/cards/")[0]
    desk.goto(f"{production}/people")
    days = desk.get_by_role("region", name="Crew links")
    days.get_by_label("The day that is filmed").select_option("2026-10-10")
    days.get_by_role("button", name="Make the link").click()
    link = address(desk, "The cards of")
    phone = another(width=400, height=860)
    open_card(phone, link, "Nela")
    phone.context.set_offline(True)
    line = phone.get_by_role("checkbox", name=re.compile("^ISO fixed"))
    line.check()
    expect(phone.get_by_text("on this device so far")).to_be_visible()
    expect(phone.get_by_role("alert")).to_contain_text("cannot be reached")
    # Back on the net it is sent by itself, and stands on the server.
    phone.context.set_offline(False)
    expect(phone.get_by_text("on this device so far")).to_have_count(0)
    phone.reload()
    expect(line).to_be_checked()
    line.uncheck()
    phone.reload()
    expect(line).not_to_be_checked()


def test_who_has_an_account_joins_with_it(desk: Page, another: Another):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_role("link", name="People", exact=True).click()
    link = address(desk, "invitation as crew, Per")
    guest = another()
    guest.goto(desk.url.split("/productions")[0])
    guest.get_by_role("button", name="Make an account").click()
    sign_up(guest, "per")
    guest.get_by_text("You belong to no production yet").wait_for()
    guest.goto(link)
    guest.get_by_role("button", name="Join as per").click()
    guest.get_by_text("Shots in story order").wait_for()
    guest.goto(link)
    expect(guest.get_by_text("has been used already")).to_be_visible()


def test_an_invitation_is_withdrawn(desk: Page, another: Another):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_role("link", name="People", exact=True).click()
    link = address(desk, "invitation as crew, Per")
    asked = desk.get_by_role("listitem", name=re.compile("^invitation as crew"))
    asked.get_by_role("button", name="Withdraw").click()
    expect(asked).to_have_count(0)
    guest = another()
    guest.goto(link)
    expect(guest.get_by_text("was withdrawn")).to_be_visible()
    guest.goto(link[:-3])
    guest.reload()
    expect(guest.get_by_role("alert")).to_contain_text("not whole")
    assert Invitation.objects.get(note__startswith="Per").withdrawn_at is not None


def test_a_production_goes_to_the_bin_and_back_and_an_account_goes_for_good(
    page: Page, live_server: Any
):
    page.goto(live_server.url)
    page.get_by_role("button", name="Make an account").click()
    sign_up(page, "ansa")
    page.get_by_placeholder("its name").fill("The Ferry")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("link", name="People", exact=True).wait_for()
    inside = page.url
    page.goto(live_server.url)
    page.get_by_role("button", name="Set up The Ferry").click()
    page.get_by_role("button", name="Delete…").click()
    delete = page.get_by_role("button", name="Delete it")
    page.get_by_label("Type its name").fill("The ferry")
    expect(delete).to_be_disabled()
    page.get_by_label("Type its name").fill("The Ferry")
    no_barriers(page)
    delete.click()
    expect(page.get_by_role("link", name="The Ferry")).to_have_count(0)
    page.goto(inside)
    expect(page.get_by_text("lies in the bin").first).to_be_visible()
    page.goto(live_server.url)
    page.get_by_text("In the bin: 1").click()
    page.get_by_role("button", name="Fetch it back").click()
    expect(page.get_by_role("link", name="The Ferry")).to_be_visible()

    page.get_by_role("button", name="Your account").click()
    account = page.get_by_role("dialog", name="Your account")
    expect(account.get_by_text("You own 1 of at most")).to_be_visible()
    with page.expect_download() as coming:
        account.get_by_role("button", name="All of it").click()
    told = json.loads(coming.value.path().read_text())
    assert told["productions"][0]["name"] == "The Ferry"
    account.get_by_role("button", name="Erase the account…").click()
    account.get_by_label("Your password, once more").fill("wrong")
    account.get_by_role("button", name="Erase it for good").click()
    expect(account.get_by_role("alert")).to_contain_text("not your password")
    no_barriers(page)
    account.get_by_label("Your password, once more").fill(PASSWORD)
    account.get_by_role("button", name="Erase it for good").click()
    page.get_by_role("heading", name="Sign in").wait_for()
    page.get_by_label("User name").fill("ansa")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
