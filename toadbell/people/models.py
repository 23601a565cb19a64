"""Browsers and phones that are let in, and the words that let the next one in."""

from __future__ import annotations

import datetime
import uuid

from django.contrib.auth import login
from django.contrib.sessions.models import Session
from django.db import models, transaction
from django.http import HttpRequest
from django.utils import timezone

from toadbell.people.words import mark_of, new_words
from toadbell.shed.errors import NotNow
from toadbell.shed.people import Maker, Role, Tries
from toadbell.trials.models import State, Trial

GOOD_FOR = datetime.timedelta(minutes=10)
"""How long words let somebody in."""
AT_THE_DESK = datetime.timedelta(hours=12)
"""How long somebody who signed in on the workshop's own machine stays so."""
UNSEEN = datetime.timedelta(days=90)
"""A phone that was let in for good and did not come for so long has to be let in again."""
AGAIN = datetime.timedelta(minutes=1)
"""How often it is written down that somebody is still there."""
KEY = "signed_in"
"""Under which a session names who signed in with it."""
_DURING_A_RUN = (State.READY, State.RUNNING, State.HELD, State.JUDGED)


class SignedIn(models.Model):
    """A browser or a phone that was let in: whose it is, since when, and until when. Shut out, it is told nothing more.

    trial  the one run that it was let in for
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    maker = models.ForeignKey(Maker, on_delete=models.CASCADE, related_name="signed_in")
    name = models.CharField(max_length=60, help_text="of the device")
    phone = models.BooleanField(default=False, help_text="let in by words")
    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, null=True, related_name="+")
    address = models.CharField(max_length=64, blank=True, default="")
    since = models.DateTimeField(default=timezone.now)
    seen = models.DateTimeField(default=timezone.now)
    until = models.DateTimeField(null=True)
    ended = models.DateTimeField(null=True)
    replaced = models.BooleanField(default=False, help_text="by somebody else at the same browser")

    class Meta:
        ordering = ["-seen"]

    @classmethod
    def begin(
        cls, request: HttpRequest, maker: Maker, name: str, *, phone: bool = False, trial: Trial | None = None
    ) -> SignedIn:
        """Let the asking browser in as somebody; whoever it was before is so no longer.

        What that browser asked a moment ago, with the session before, is still on its way: that session stays, to be
        told that it was replaced.
        """
        before = cls.of(request)
        if before is not None:
            before.end(replaced=True)
        request.session = type(request.session)()
        made = cls.objects.create(
            maker=maker,
            name=name.strip()[:60] or "a browser",
            phone=phone,
            trial=trial,
            address=request.META.get("REMOTE_ADDR") or "",
            until=None if phone else timezone.now() + AT_THE_DESK,
        )
        login(request, maker, backend="django.contrib.auth.backends.ModelBackend")
        request.session[KEY] = str(made.pk)
        return made

    @classmethod
    def of(cls, request: HttpRequest) -> SignedIn | None:
        """What the asking browser signed in as; None where its session names nothing."""
        key = request.session.get(KEY)
        return cls.objects.select_related("maker", "trial").filter(pk=key).first() if key else None

    @classmethod
    def end_all_of(cls, maker: Maker, but: SignedIn | None) -> None:
        """End whatever somebody got in by before their secret or role was changed, but for the browser that asks."""
        for one in cls.objects.filter(maker=maker, ended=None):
            if but is None or one.pk != but.pk:
                one.end()

    @classmethod
    def shut_everybody_out(cls) -> None:
        """Whoever was let in has to come again, and words that were made are worth nothing: as after a backup was put
        back, in which somebody may still be let in who was shut out since.
        """
        cls.objects.filter(ended=None).update(ended=timezone.now())
        Invitation.objects.filter(used_by=None).delete()
        Session.objects.all().delete()

    @property
    def over(self) -> str | None:
        """Why it is let in no longer, in a sentence; None while it is."""
        now = timezone.now()
        if self.ended is not None:
            return "This browser was shut out of the workshop, or signed out."
        if not self.maker.is_active:
            return f"{self.maker.shown_name} is of this workshop no longer."
        if self.until is not None and now > self.until:
            return "You were signed in for long enough: sign in again."
        if self.phone and now - self.seen > UNSEEN:
            return "This phone did not come for three months: let it in again."
        if self.trial is not None and self.trial.state not in _DURING_A_RUN:
            return "This phone was let in for one run, and that is over."
        return None

    def still_there(self) -> None:
        """Write down that it came, once in a while."""
        now = timezone.now()
        if now - self.seen > AGAIN:
            SignedIn.objects.filter(pk=self.pk).update(seen=now)

    def end(self, *, replaced: bool = False) -> None:
        """Shut it out: from the next that it asks on. replaced  somebody else is at that browser now"""
        if self.ended is None:
            self.ended, self.replaced = timezone.now(), replaced
            self.save(update_fields=["ended", "replaced"])


def line_of(request: HttpRequest) -> str:
    """By which line a request came: this machine's, or the address that it came from."""
    return "here" if getattr(request, "sits_here", False) else request.META.get("REMOTE_ADDR") or "nowhere"


class Invitation(models.Model):
    """Six words that let one phone in, once, under a name and a role. What is kept of them is their hash."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    mark = models.CharField(max_length=64, unique=True)
    maker = models.ForeignKey(Maker, on_delete=models.CASCADE, related_name="+")
    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, null=True, related_name="+")
    made_by = models.ForeignKey(Maker, on_delete=models.CASCADE, related_name="+")
    until = models.DateTimeField()
    used_by = models.ForeignKey(SignedIn, on_delete=models.CASCADE, null=True, related_name="+")

    @classmethod
    def make(cls, by: Maker, maker: Maker, trial: Trial | None) -> tuple[Invitation, str]:
        """Words for somebody of the workshop; earlier ones that were not used are worth nothing from now on."""
        if not maker.is_active or maker.role == Role.ELSEWHERE:
            raise NotNow(f"{maker.shown_name} is not of this workshop: take them in first.")
        if trial is not None and trial.state not in _DURING_A_RUN:
            raise NotNow("That run is not on the bench: let the phone in for good, or begin the run first.")
        words = new_words()
        cls.objects.filter(used_by=None).delete()
        made = cls.objects.create(
            mark=str(mark_of(words)), maker=maker, trial=trial, made_by=by, until=timezone.now() + GOOD_FOR
        )
        return made, words

    @classmethod
    def answered(cls, request: HttpRequest, written: str, device: str) -> SignedIn:
        """Let the phone in that brings the words.

        Raises NotNow where they are none, were used, or too many wrong ones came from its address.
        """
        address = request.META.get("REMOTE_ADDR") or ""
        WrongWords.count(address)
        mark = mark_of(written)
        if mark is None:
            raise NotNow("Six words are asked for, as they stand on the screen of the workshop.")
        with transaction.atomic():  # one phone at a time: who comes second finds them used
            found = cls.objects.select_related("maker", "trial").filter(mark=mark, used_by=None).first()
            if found is None or timezone.now() > found.until:
                raise NotNow(
                    "These words let nobody in: they were used, are older than ten minutes, or differ in a word."
                )
            if not found.maker.is_active:
                raise NotNow(f"{found.maker.shown_name} is of this workshop no longer.")
            found.used_by = SignedIn.begin(request, found.maker, device, phone=True, trial=found.trial)
            found.save(update_fields=["used_by"])
        WrongWords.objects.filter(address=address).delete()
        return found.used_by


class WrongWords(Tries):
    """Words that let nobody in, by the address that they came from."""

    address = models.CharField(max_length=64, primary_key=True)

    @classmethod
    def count(cls, address: str) -> None:
        """Count a try, as a wrong one until it proves right. Raises NotNow where the next has to wait."""
        with transaction.atomic():  # another phone of that address may come in meanwhile
            kept, _made = cls.objects.get_or_create(address=address[:64])
            kept.one_more("Too many wrong words from this phone")
