"""People, what they may do, and the browsers and phones that are let in."""

import datetime
import json
import re
from typing import Any

import pytest
from django.contrib.auth.hashers import PBKDF2PasswordHasher
from django.test import Client
from django.utils import timezone

from tests.server.conftest import Workshop
from tests.server.test_attachments import picture, post
from toadbell.people import may
from toadbell.people.models import GOOD_FOR, Invitation, SignedIn
from toadbell.people.words import mark_of, new_words
from toadbell.shed.errors import NotNow
from toadbell.shed.people import LONGEST_WAIT, Guesses, Maker, wait_after
from toadbell.site import enter
from toadbell.site.api import api
from toadbell.trials.models import Event, Trial

pytestmark = pytest.mark.django_db
PIN = "274913"


def person(workshop: Workshop, name: str) -> Any:
    return next(one for one in workshop.get("/people")["people"] if one["name"] == name)


def taken_in(workshop: Workshop, name: str, role: str = "maker", pin: str = "") -> Any:
    workshop.post("/people", {"name": name, "role": role})
    one = person(workshop, name)
    if pin:
        workshop.post(f"/people/{one['id']}/secret", {"secret": pin})
    return one


def phone(person_id: str | None = None, trial: str | None = None, address: str = "192.168.1.30") -> Workshop:
    """A phone that brought the right words through the door to the network."""
    owner = Maker.local_owner()
    maker = Maker.objects.get(uid=person_id) if person_id else owner
    _, words = Invitation.make(owner, maker, Trial.objects.get(pk=trial) if trial else None)
    found = elsewhere(address)
    found.post("/join", {"words": words, "device": "a phone"})
    return found


def elsewhere(address: str = "192.168.1.30") -> Workshop:
    """A browser on another machine of the network, let in by nobody."""
    return Workshop(OverTheNetwork(REMOTE_ADDR=address, SERVER_NAME="192.168.1.5"))


class OverTheNetwork(Client):
    """A browser that comes through the door to the network, which is a private line."""

    def generic(self, *args: Any, **options: Any) -> Any:
        return super().generic(*args, **{**options, "secure": True})


def on_the_bench(workshop: Workshop) -> str:
    """A run on the real rig, its vent shut."""
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    return trial


class QuickHash(PBKDF2PasswordHasher):
    """As it is done, but for how often: a guess that takes a second is not what is asked here."""

    iterations = 10


@pytest.fixture(autouse=True)
def quick_hashes(settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["tests.server.test_people.QuickHash"]


# -- secrets --------------------------------------------------------------------------------


@pytest.mark.parametrize("easy", ["12345", "111111", "123456", "987654", "121212", "maren oddy"])
def test_a_secret_that_anybody_would_try_first_is_refused(workshop: Workshop, easy: str) -> None:
    one = taken_in(workshop, "Maren Oddy")
    workshop.post(f"/people/{one['id']}/secret", {"secret": easy}, status=409)
    assert not person(workshop, "Maren Oddy")["has_secret"]


def test_guessing_waits_longer_each_time_and_the_right_one_waits_too(workshop: Workshop) -> None:
    maker = Maker.objects.get(uid=taken_in(workshop, "Maren Oddy", pin=PIN)["id"])
    for _ in range(5):
        with pytest.raises(NotNow, match="not Maren Oddy's"):
            maker.must_know("000001", "10.0.0.7")
    with pytest.raises(NotNow, match=r"Try again in (30|29|28) s"):
        maker.must_know(PIN, "10.0.0.7")
    maker.must_know(PIN, "10.0.0.8")  # their own phone is not the guesser's
    Guesses.objects.update(wait_until=timezone.now() - datetime.timedelta(seconds=1))
    maker.must_know(PIN, "10.0.0.7")
    assert not Guesses.objects.exists()
    assert [wait_after(n) for n in (4, 5, 6, 7)] == [0, 30, 60, 120]
    assert wait_after(50) == LONGEST_WAIT


def test_what_is_kept_of_a_secret_is_its_hash(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy", pin=PIN)
    kept = Maker.objects.get(uid=one["id"]).password
    assert PIN not in kept
    assert kept.startswith("pbkdf2_")


def test_ones_own_secret_is_changed_with_the_one_before_and_ends_every_other_sign_in(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy", pin=PIN)
    there = phone(one["id"])
    workshop.post("/switch", {"person": one["id"], "secret": PIN})
    workshop.post(f"/people/{one['id']}/secret", {"secret": "831962"}, status=409)
    workshop.post(f"/people/{one['id']}/secret", {"secret": "831962", "before": PIN})
    assert workshop.get("/me")["name"] == "Maren Oddy"
    there.get("/me", 401)


# -- at the desk ----------------------------------------------------------------------------


def test_who_is_at_the_bench_is_who_the_log_names(workshop: Workshop) -> None:
    trial = on_the_bench(workshop)
    one = taken_in(workshop, "Tobit Lisk")
    workshop.post("/switch", {"person": one["id"]})
    workshop.step(trial, "note", text="the vent spits")
    assert Event.objects.get(kind="note").by.shown_name == "Tobit Lisk"
    workshop.post("/sign-out")
    assert workshop.get("/me")["name"] == "Owner"


def test_a_secret_given_once_is_not_asked_again_for_a_while_then_is(workshop: Workshop, rf: Any) -> None:
    one, other = taken_in(workshop, "Tobit Lisk", pin=PIN), taken_in(workshop, "Hanne Brill")
    workshop.post("/switch", {"person": one["id"]}, status=409)
    workshop.post("/switch", {"person": one["id"], "secret": PIN})
    workshop.post("/switch", {"person": other["id"]})
    assert not person(workshop, "Tobit Lisk")["asks"]
    workshop.post("/switch", {"person": one["id"]})
    session = workshop.client.session
    session["known"] = {one["id"]: 0}
    session.save()
    workshop.post("/switch", {"person": one["id"]}, status=409)


def test_an_owner_who_wants_to_be_asked_is(workshop: Workshop) -> None:
    owner = person(workshop, "Owner")
    asked = {"name": "Owner", "role": "owner", "asked_here": True}
    workshop.put(f"/people/{owner['id']}", asked, 409)  # without a secret nobody could sign in any more
    workshop.post(f"/people/{owner['id']}/secret", {"secret": PIN})
    workshop.put(f"/people/{owner['id']}", asked)
    workshop.get("/vessels", 401)
    assert workshop.get("/who")["here"]
    workshop.post("/switch", {"person": owner["id"], "secret": "999999"}, status=409)
    workshop.post("/switch", {"person": owner["id"], "secret": PIN})
    workshop.get("/vessels")


# -- phones ---------------------------------------------------------------------------------


def test_nobody_from_elsewhere_is_told_anything_before_the_words(workshop: Workshop) -> None:
    taken_in(workshop, "Maren Oddy")
    stranger = elsewhere()
    for path in ("/me", "/vessels", "/people", "/share", "/signed-in", "/logbook"):
        stranger.get(path, 401)
    assert stranger.get("/who") == {"here": False, "people": []}
    stranger.post("/switch", {"person": person(workshop, "Maren Oddy")["id"]}, status=409)


def test_words_are_taken_as_people_type_them_and_let_one_phone_in_once(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy")
    _, words = Invitation.make(Maker.local_owner(), Maker.objects.get(uid=one["id"]), None)
    typed = ", ".join(word[:4].upper() for word in words.split())
    first, second = elsewhere(), elsewhere("192.168.1.31")
    assert first.post("/join", {"words": typed, "device": "Maren's phone"})["name"] == "Maren Oddy"
    assert first.get("/me")["works"]
    second.post("/join", {"words": words}, status=409)
    second.get("/me", 401)


def test_words_are_worth_nothing_after_ten_minutes_or_once_newer_ones_are_made(workshop: Workshop) -> None:
    owner = Maker.local_owner()
    _, old = Invitation.make(owner, owner, None)
    made, words = Invitation.make(owner, owner, None)
    elsewhere().post("/join", {"words": old}, status=409)
    Invitation.objects.filter(pk=made.pk).update(until=timezone.now() - datetime.timedelta(seconds=1))
    elsewhere().post("/join", {"words": words}, status=409)
    assert datetime.timedelta(minutes=10) == GOOD_FOR


def test_wrong_words_are_throttled_by_where_they_come_from(workshop: Workshop) -> None:
    owner = Maker.local_owner()
    _, words = Invitation.make(owner, owner, None)
    guesser = elsewhere("192.168.1.66")
    said = [guesser.post("/join", {"words": new_words()}, status=409)["says"] for _ in range(6)]
    assert "differ in a word" in said[0]
    assert "Too many wrong words from this phone. Try again in" in said[5]
    assert "Too many" in guesser.post("/join", {"words": words}, status=409)["says"]
    elsewhere("192.168.1.30").post("/join", {"words": words})


def test_what_is_kept_of_the_words_is_their_hash(workshop: Workshop) -> None:
    owner = Maker.local_owner()
    made, words = Invitation.make(owner, owner, None)
    assert re.fullmatch(r"[0-9a-f]{64}", made.mark)
    assert mark_of(words) == mark_of(f"  {words.replace(' ', '-')}!") == made.mark
    assert mark_of("six words that are not there") is None


def test_a_phone_that_is_shut_out_is_so_at_once_and_forgets_what_it_was_told(workshop: Workshop) -> None:
    there = phone(taken_in(workshop, "Maren Oddy")["id"])
    shown = next(one for one in workshop.get("/signed-in") if one["person"] == "Maren Oddy")
    assert (shown["name"], shown["phone"]) == ("a phone", True)
    workshop.post(f"/signed-in/{shown['id']}/end")
    answer = there.client.get("/api/vessels")
    assert answer.status_code == 401
    assert answer.json()["field"] == "shut-out"
    there.get("/me", 401)
    assert '"storage"' in there.client.post("/api/forget")["Clear-Site-Data"]


def test_who_leaves_the_workshop_is_shut_out_with_every_phone_and_stays_on_record(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy")
    there = phone(one["id"])
    workshop.post(f"/people/{one['id']}/left", {"left": True})
    there.get("/me", 401)
    assert not person(workshop, "Maren Oddy")["active"]
    with pytest.raises(NotNow, match="not of this workshop"):
        Invitation.make(Maker.local_owner(), Maker.objects.get(uid=one["id"]), None)


def test_a_phone_for_one_run_lays_hands_on_that_alone_and_is_out_when_it_is_over(workshop: Workshop) -> None:
    trial, vessel = on_the_bench(workshop), workshop.vessel("Other tank")
    there = phone(taken_in(workshop, "Maren Oddy")["id"], trial)
    there.step(trial, "note", text="seen from behind the wall")
    there.send("PUT", f"/vessels/{vessel['id']}", {}, 403)
    there.post("/share", {"address": "192.168.1.5"}, status=403)
    workshop.step(trial, "dumped")
    there.get(f"/trials/{trial}/bench/live", 401)


def test_a_phone_cannot_become_the_owner_without_their_secret(workshop: Workshop) -> None:
    owner = person(workshop, "Owner")
    there = phone(taken_in(workshop, "Pascoe Wren", "watcher")["id"])
    there.post("/switch", {"person": owner["id"]}, status=409)
    workshop.post(f"/people/{owner['id']}/secret", {"secret": PIN})
    there.post("/switch", {"person": owner["id"]}, status=409)
    assert there.get("/me")["role"] == "watcher"


def test_a_phones_cookies_go_over_a_private_line_alone(workshop: Workshop) -> None:
    there = phone()
    cookie = there.client.cookies["toadbell_session"]
    assert (cookie["secure"], cookie["httponly"], cookie["samesite"]) == (True, True, "Strict")


# -- what each may do -----------------------------------------------------------------------

WATCHERS = {
    ("put", "/api/me"),
    ("post", "/api/join"),
    ("post", "/api/switch"),
    ("post", "/api/sign-out"),
    ("post", "/api/forget"),
    ("post", "/api/quantities/read"),
    ("post", "/api/vessels/look"),
    ("post", "/api/people/{person_id}/secret"),
    ("post", "/api/signed-in/{one_id}/end"),
    ("post", "/api/trials/{trial_id}/look"),
    ("post", "/api/trials/{trial_id}/stop"),
    ("post", "/api/trials/{trial_id}/judge/what-if"),
    ("post", "/api/trials/{trial_id}/signature"),
    ("post", "/api/devices/readings"),  # with a logger's token, whoever brings it
}


def test_whoever_only_watches_may_send_what_changes_nothing_and_nothing_else(workshop: Workshop) -> None:
    watcher = Maker(role="watcher")
    some = "0190c5f2-8b7a-7000-8000-000000000000"
    allowed = set()
    for path, operations in api.get_openapi_schema()["paths"].items():
        for method in operations:
            address = re.sub(r"\{(uuid:)?\w+\}", some, path)
            if method != "get" and may.refusal(watcher, None, method.upper(), address) is None:
                allowed.add((method, re.sub(r"\{uuid:", "{", path)))
    assert allowed == WATCHERS - {("post", "/api/devices/readings")}


@pytest.mark.parametrize("role", ["maker", "watcher", "inspector"])
def test_what_is_for_the_owner_alone_is_refused_to_everybody_else(workshop: Workshop, role: str) -> None:
    there = phone(taken_in(workshop, "Hanne Brill", role)["id"])
    there.post("/people", {"name": "A friend", "role": "owner"}, status=403)
    there.post("/share", {"address": "192.168.1.5"}, status=403)
    there.post("/jobs", {"what": "backup"}, status=403)
    there.get("/backups", 403)
    there.post(f"/people/{person(workshop, 'Owner')['id']}/secret", {"secret": PIN}, status=409)
    assert [one["person"] for one in there.get("/signed-in")] == ["Hanne Brill"]


def test_others_phones_are_not_shut_out_by_whoever_does_not_own_the_workshop(workshop: Workshop) -> None:
    phone(taken_in(workshop, "Maren Oddy")["id"])
    one = SignedIn.objects.get()
    there = phone(taken_in(workshop, "Tobit Lisk")["id"])
    there.post(f"/signed-in/{one.pk}/end", status=409)
    there.post(f"/signed-in/{SignedIn.objects.get(maker__first_name='Tobit Lisk').pk}/end")
    there.get("/me", 401)


def test_two_of_one_name_are_refused_and_the_owner_stays_owner(workshop: Workshop) -> None:
    taken_in(workshop, "Maren Oddy")
    workshop.post("/people", {"name": " maren  oddy ", "role": "watcher"}, status=409)
    workshop.post("/people", {"name": "", "role": "watcher"}, status=409)
    workshop.post("/people", {"name": "A. Nother", "role": "king"}, status=409)
    owner = person(workshop, "Owner")
    workshop.put(f"/people/{owner['id']}", {"name": "Owner", "role": "watcher"}, 409)
    workshop.post(f"/people/{owner['id']}/left", {"left": True}, status=409)


# -- two at one run -------------------------------------------------------------------------


def as_window(at: Workshop, window: str) -> Workshop:
    at.client.defaults["HTTP_X_HAND"] = window
    return at


def test_stop_called_from_a_watchers_phone_stands_on_every_bench_with_who_called(workshop: Workshop) -> None:
    trial = on_the_bench(workshop)
    there = phone(taken_in(workshop, "Pascoe Wren", "watcher")["id"])
    call = {"id": "0190c5f2-8b7a-7000-8000-000000000001", "text": "it hisses at the bush"}
    there.post(f"/trials/{trial}/stop", call)
    there.post(f"/trials/{trial}/stop", call)  # sent again, it is called once
    guard = workshop.get(f"/trials/{trial}/bench")["guards"][-1]
    assert guard["says"] == "Stop! Called by Pascoe Wren: it hisses at the bush. Dump, and only then ask why."
    assert Event.objects.filter(kind="guard").count() == 1
    workshop.read(trial, "3.2 bar")
    refused = workshop.step(trial, "stage-reached", status=409)
    assert "Answer that first" in refused["says"]
    workshop.step(trial, "guard-answered", guard=guard["id"], reason="it was the kettle")
    workshop.step(trial, "stage-reached")


def test_a_watcher_steps_nothing_and_holds_nothing(workshop: Workshop) -> None:
    trial = on_the_bench(workshop)
    there = phone(taken_in(workshop, "Pascoe Wren", "watcher")["id"])
    there.step(trial, "dumped", status=403)
    there.post(f"/trials/{trial}/hand", {"how": "ask"}, status=403)
    there.post(f"/trials/{trial}/readings", [], status=403)


def test_a_run_is_asked_for_and_handed_over_or_kept(workshop: Workshop) -> None:
    trial = on_the_bench(as_window(workshop, "desk"))
    there = as_window(phone(taken_in(workshop, "Maren Oddy")["id"]), "phone")
    there.post(f"/trials/{trial}/hand", {"name": "a phone", "how": "ask"})
    assert workshop.get(f"/trials/{trial}/bench")["hand"]["asked"] == "Maren Oddy on a phone"
    there.step(trial, "shut-in", status=409)
    workshop.post(f"/trials/{trial}/hand", {"how": "keep"})
    assert not there.get(f"/trials/{trial}/bench")["hand"]["asking"]
    there.post(f"/trials/{trial}/hand", {"name": "a phone", "how": "give"}, status=409)
    there.post(f"/trials/{trial}/hand", {"name": "a phone", "how": "ask"})
    workshop.post(f"/trials/{trial}/hand", {"how": "give"})
    held = there.get(f"/trials/{trial}/bench")["hand"]
    assert (held["mine"], held["name"], held["asked"]) == (True, "Maren Oddy on a phone", None)
    assert [one.kind for one in Event.objects.filter(kind__in=("asked-for", "handed-over")).order_by("at")] == [
        "asked-for",
        "asked-for",
        "handed-over",
    ]


def test_what_was_on_its_way_while_somebody_else_came_takes_the_browser_from_nobody(workshop: Workshop) -> None:
    one, other = taken_in(workshop, "Tobit Lisk"), taken_in(workshop, "Hanne Brill")
    workshop.post("/switch", {"person": one["id"]})
    before = workshop.client.cookies["toadbell_session"].value
    workshop.post("/switch", {"person": other["id"]})
    late = Client()
    late.cookies["toadbell_session"] = before
    answer = late.get("/api/me")
    assert (answer.status_code, answer.cookies.get("toadbell_session")) == (503, None)
    assert workshop.get("/me")["name"] == "Hanne Brill"
    workshop.post("/sign-out")
    assert workshop.client.cookies["toadbell_session"].value == ""


def test_a_phone_that_was_shut_out_may_come_again_with_new_words(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy")
    there = phone(one["id"])
    SignedIn.objects.get().end()
    there.get("/me", 401)
    _, words = Invitation.make(Maker.local_owner(), Maker.objects.get(uid=one["id"]), None)
    there.post("/join", {"words": words, "device": "the same phone"})
    assert there.get("/me")["name"] == "Maren Oddy"


def test_after_a_backup_was_put_back_everybody_comes_again(workshop: Workshop) -> None:
    there = phone(taken_in(workshop, "Maren Oddy")["id"])
    _, words = Invitation.make(Maker.local_owner(), Maker.local_owner(), None)
    SignedIn.shut_everybody_out()
    there.get("/me", 401)
    elsewhere("192.168.1.31").post("/join", {"words": words}, status=409)
    workshop.get("/me")  # the owner, on the workshop's own machine, need not


def test_the_link_of_one_use_is_worth_nothing_from_the_network(workshop: Workshop) -> None:
    path = enter.new_link(8000).partition(":8000")[2]
    try:
        assert elsewhere().client.get(path).status_code == 403
        assert Client().get(path).status_code == 302  # here it still lets in
    finally:
        enter.FILE.unlink(missing_ok=True)


# -- what a secret or a role opened ends with it ------------------------------------------------------------------


def test_a_pin_that_was_changed_elsewhere_is_asked_for_anew_at_once(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy", pin=PIN)
    workshop.post("/switch", {"person": one["id"], "secret": PIN})
    workshop.post("/switch", {"person": person(workshop, "Owner")["id"]})
    workshop.post("/switch", {"person": one["id"]})  # known for a while
    workshop.post("/switch", {"person": person(workshop, "Owner")["id"]})
    Maker.objects.get(uid=one["id"]).keep_secret("831962")
    workshop.post("/switch", {"person": one["id"]}, status=409)
    workshop.post("/switch", {"person": one["id"], "secret": "831962"})


def test_a_role_that_was_changed_ends_what_it_opened(workshop: Workshop) -> None:
    one = taken_in(workshop, "Maren Oddy", "maker")
    there = phone(one["id"])
    words = Invitation.make(Maker.local_owner(), Maker.objects.get(uid=one["id"]), None)[1]
    workshop.put(f"/people/{one['id']}", {"name": "Maren Oddy", "role": "watcher"})
    there.get("/me", 401)
    assert elsewhere().post("/join", {"words": words, "device": "a phone"}, status=409)
    workshop.put(f"/people/{one['id']}", {"name": "Maren Oddy, of the yard", "role": "watcher"})
    assert phone(one["id"]).get("/me")["role"] == "watcher"


def test_a_phone_for_one_run_calls_stop_on_that_run_alone(workshop: Workshop) -> None:
    trial, other = on_the_bench(workshop), on_the_bench(workshop)
    there = phone(taken_in(workshop, "Maren Oddy", "watcher")["id"], trial)
    call = {"id": "0190c5f2-8b7a-7000-8000-000000000001", "text": "stop"}
    assert "for one run" in there.post(f"/trials/{other}/stop", call, status=403)["says"]
    there.post(f"/trials/{other}/look")  # to look is free
    there.post(f"/trials/{trial}/stop", call)


@pytest.mark.parametrize("path", ["switch", "join", "forget"])
def test_whoever_comes_has_to_bring_the_token_of_a_page_of_ours(workshop: Workshop, path: str) -> None:
    body = {"person": person(workshop, "Owner")["id"], "words": "six words", "device": "a phone"}
    strict = OverTheNetwork(enforce_csrf_checks=True, REMOTE_ADDR="192.168.1.30", SERVER_NAME="192.168.1.5")
    answer = strict.post(f"/api/{path}", json.dumps(body), content_type="application/json")
    assert (answer.status_code, "Load it again" in answer.json()["says"]) == (403, True)
    strict.get("/api/who")
    token = strict.cookies["toadbell_csrf"].value
    with_it = strict.post(
        f"/api/{path}",
        json.dumps(body),
        content_type="application/json",
        headers={"X-CSRFToken": token, "Referer": "https://192.168.1.5/"},
    )
    assert with_it.status_code != 403


def test_no_answer_of_the_api_is_kept_in_a_cache(workshop: Workshop) -> None:
    for path in ("me", "people", "shed", "who"):
        assert phone().client.get(f"/api/{path}")["Cache-Control"] == "no-store"
    assert workshop.client.get("/api/me")["Cache-Control"] == "no-store"
    (seam,) = post(workshop, f"/vessels/{workshop.vessel()['id']}/attachments", "seam.jpg", picture())
    assert phone().client.get(f"/api/photos/{seam['id']}")["Cache-Control"] == "no-store"
    assert "immutable" in workshop.client.get(f"/api/photos/{seam['id']}")["Cache-Control"]  # the desk's own disk


def test_a_path_to_put_back_is_taken_at_the_desk_alone(workshop: Workshop) -> None:
    job = {"what": "restore", "name": "/etc/hostname"}
    assert "own machine" in phone().post("/jobs", job, status=409)["says"]
