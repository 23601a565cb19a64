"""The people of a workshop: what they are called, how they read, what they may do, and a secret of their own."""

from __future__ import annotations

import datetime
import hashlib
import itertools
import re
import unicodedata
import uuid
import zoneinfo
from pathlib import Path

from django.contrib.auth.hashers import make_password
from django.contrib.auth.models import AbstractUser
from django.db import models, transaction
from django.utils import timezone

from toadbell.core.phrases import Habit
from toadbell.shed.errors import NotNow


def system_zone() -> str:
    """The time zone that this machine is set to; UTC where it does not say."""
    try:
        told = Path("/etc/localtime").resolve().as_posix().partition("zoneinfo/")[2]
    except OSError:
        told = ""
    return told if told in zoneinfo.available_timezones() else "UTC"


class Units(models.TextChoices):
    """The two unit habits."""

    METRIC = "metric", "bar and millimetres"
    IMPERIAL = "imperial", "psi and inches"


class Role(models.TextChoices):
    """What somebody may do here."""

    OWNER = "owner", "owner"
    MAKER = "maker", "maker"
    WATCHER = "watcher", "watcher"
    INSPECTOR = "inspector", "inspector"
    ELSEWHERE = "elsewhere", "of another workshop"


COLOURS = ("pond", "water", "brass", "moss", "plum", "slate", "rust", "heather")
"""By which people are told apart, beside their initials."""
SHORTEST_SECRET = 6
PATIENCE = 5
"""Wrong secrets in a row before the next has to wait."""
WAIT, LONGEST_WAIT = 30.0, 900.0
"""How long it waits at first, and at the most, s; twice as long each time."""


def tidy(name: str) -> str:
    """A name without needless spaces, no longer than a record has room for."""
    return " ".join(unicodedata.normalize("NFKC", name).split())[:150]


def alike(one: str, other: str) -> bool:
    """Are two names one, to whoever reads them? Capitals, spaces and ways of writing the same letter tell nobody
    apart.
    """
    return tidy(one).casefold() == tidy(other).casefold()


def wait_after(wrong: int) -> float:
    """How long the next try has to wait after so many wrong ones in a row, s."""
    return 0.0 if wrong < PATIENCE else min(LONGEST_WAIT, WAIT * 2 ** (wrong - PATIENCE))


class Maker(AbstractUser):
    """Somebody who uses the workshop, with their habits, what they may do, and a PIN or password of their own."""

    units = models.CharField(max_length=10, choices=Units.choices, default=Units.METRIC)
    zone = models.CharField(
        max_length=60, default=system_zone, help_text="in which days and times of the workshop are told"
    )
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.MAKER)
    initials = models.CharField(max_length=3, blank=True, default="")
    colour = models.CharField(max_length=10, default=COLOURS[0])
    asked_here = models.BooleanField(
        default=False, help_text="does the owner give their secret on the workshop's own machine too?"
    )
    uid = models.UUIDField(
        unique=True, default=uuid.uuid4, editable=False, help_text="the same person in every workshop"
    )

    @classmethod
    def local_owner(cls) -> Maker:
        """The one owner of a workshop that runs on a person's own machine; made at the first start."""
        unusable = make_password(None)
        owner, _made = cls.objects.get_or_create(
            username="owner", defaults={"first_name": "Owner", "password": unusable, "role": Role.OWNER}
        )
        return owner

    @classmethod
    def take_in(cls, name: str, role: str, initials: str = "", colour: str = "") -> Maker:
        """Somebody new in the workshop, without a secret yet. Raises NotNow where they cannot be told apart."""
        maker = cls(username=f"person-{uuid.uuid4()}", password=make_password(None))
        maker.describe(name, role, initials, colour)
        return maker

    @classmethod
    def of_the_workshop(cls) -> models.QuerySet[Maker]:
        """Whoever may do anything here, the owner first."""
        return cls.objects.filter(is_active=True).exclude(role=Role.ELSEWHERE).order_by("date_joined", "id")

    def describe(self, name: str, role: str, initials: str = "", colour: str = "") -> None:
        """Keep what they are called and may do.

        Raises NotNow where there is no such role, the name is another's, or the owner were to be none.
        """
        name = tidy(name)
        if not name:
            raise NotNow("Give them a name: it stands on every record that they sign.")
        if role not in Role.values or (role == Role.ELSEWHERE and self.role != Role.ELSEWHERE):
            raise NotNow("Say what they may do: owner, maker, watcher or inspector.")
        if self.username == "owner" and role != Role.OWNER:
            raise NotNow("The owner of this machine's workshop stays its owner: make somebody else one beside them.")
        self._must_be_alone_with(name)
        if colour and colour not in COLOURS:
            raise NotNow(f"There is no colour “{colour[:20]}”: one of {', '.join(COLOURS)}.")
        self.first_name, self.role = name, role
        self.initials = (initials.strip() or _initials(name))[:3]
        self.colour = colour or COLOURS[Maker.of_the_workshop().count() % len(COLOURS)]
        self.save()

    def leave(self, gone: bool) -> None:
        """They are of this workshop no longer, or again; what they did stays on record under their name."""
        if self.username == "owner":
            raise NotNow("The owner of this machine's workshop cannot leave it.")
        if not gone:
            self._must_be_alone_with(self.shown_name)
        self.is_active = not gone
        self.save(update_fields=["is_active"])

    def _must_be_alone_with(self, name: str) -> None:
        """Raises NotNow where somebody else of the workshop is called so."""
        other = Maker.called(name)
        if other is not None and other.pk != self.pk:
            raise NotNow(f"There is a {name} here already: two of one name cannot be told apart on a record.")

    @classmethod
    def called(cls, name: str) -> Maker | None:
        """Whoever of the workshop is called so, however it is written; None where nobody is."""
        return next((one for one in cls.of_the_workshop() if alike(one.shown_name, name)), None)

    @property
    def has_secret(self) -> bool:
        """Have they a PIN or a password of their own?"""
        return self.has_usable_password()

    def keep_secret(self, secret: str) -> None:
        """Keep a PIN or password, as its hash; "" takes it away. Raises NotNow where it is too easily guessed."""
        if secret and (why := _easily_guessed(secret, self.shown_name)):
            raise NotNow(why)
        self.set_password(secret or None)
        self.asked_here = self.asked_here and bool(secret)
        self.save(update_fields=["password", "asked_here"])
        Guesses.objects.filter(maker=self).delete()

    def must_know(self, secret: str, line: str) -> None:
        """Raises NotNow where this is not their secret, or too many wrong ones came by that line; each try is counted.

        line  by which it comes: whoever guesses slows down their own line, and nobody else's
        """
        found = Guesses.count(self, line)
        self.refresh_from_db(fields=["password"])
        if not self.check_password(secret):
            raise NotNow(f"That is not {self.shown_name}'s PIN or password.")
        found.delete()

    @property
    def mark_of_secret(self) -> str:
        """What tells their secret from another that they may have later, and nothing of it."""
        return hashlib.sha256(self.password.encode()).hexdigest()[:16]

    def keep_habits(self, units: str, name: str | None, zone: str | None = None) -> None:
        """Keep the unit habit, and the name for records and the time zone where they are given.

        Raises NotNow where there is no such zone, or the name is another's.
        """
        self.units = units
        if zone is not None:
            if zone not in zoneinfo.available_timezones():
                raise NotNow(f"There is no time zone “{zone[:40]}”: choose one such as Europe/Dublin.")
            self.zone = zone
        if name is not None and tidy(name):
            self._must_be_alone_with(tidy(name))
            self.first_name = tidy(name)
        self.save(update_fields=["units", "first_name", "zone"])

    @property
    def shown_name(self) -> str:
        """The name that stands on records."""
        return self.first_name or self.get_username()

    @property
    def works(self) -> bool:
        """May they lay hands on vessels, plans and runs?"""
        return self.role in (Role.OWNER, Role.MAKER)

    @property
    def habit(self) -> Habit:
        """The units this person reads in."""
        return Habit("psi", "in") if self.units == Units.IMPERIAL else Habit()

    @property
    def pressure_unit(self) -> str:
        """Unit in which this person reads pressures."""
        return self.habit.pressure

    @property
    def length_unit(self) -> str:
        """Unit in which this person reads lengths."""
        return self.habit.length


class Tries(models.Model):
    """How often in a row something was wrong, and until when the next has to wait."""

    wrong = models.PositiveIntegerField(default=0)
    wait_until = models.DateTimeField(null=True)

    class Meta:
        abstract = True

    def one_more(self, too_many: str) -> None:
        """Count a try, as a wrong one until it proves right; in a transaction. Raises NotNow, beginning with what is
        said of too many, where it has to wait.
        """
        now = timezone.now()
        if self.wait_until is not None and now < self.wait_until:
            raise NotNow(f"{too_many}. Try again in {int((self.wait_until - now).total_seconds()) + 1} s.")
        self.wrong += 1
        waits = wait_after(self.wrong)
        if waits:
            self.wait_until = now + datetime.timedelta(seconds=waits)
        self.save()


class Guesses(Tries):
    """At somebody's secret, by a line."""

    maker = models.ForeignKey(Maker, on_delete=models.CASCADE, related_name="guesses")
    line = models.CharField(max_length=80)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["maker", "line"], name="guesses_of_a_line")]

    @classmethod
    def count(cls, maker: Maker, line: str) -> Guesses:
        """Count a try, as a wrong one until it proves right. Raises NotNow where the next has to wait."""
        with transaction.atomic():  # before it is tried: of many at once no more are tried than one after another
            found, _made = cls.objects.get_or_create(maker=maker, line=line[:80])
            found.one_more(f"Too many wrong ones in a row for {maker.shown_name}")
        return found


def _initials(name: str) -> str:
    return "".join(word[0] for word in re.split(r"[\s-]+", name) if word)[:3].upper()


def _easily_guessed(secret: str, name: str) -> str | None:
    """Why a secret is too easily guessed; None where it will do."""
    if len(secret) < SHORTEST_SECRET:
        return f"Six digits or letters at the least: {len(secret)} are soon guessed."
    if len(secret) > 128:
        return "128 letters at the most."
    plain = secret.casefold()
    steps = {ord(b) - ord(a) for a, b in itertools.pairwise(plain)}
    if len(set(plain)) < 3 or steps in ({1}, {-1}) or plain in name.casefold():
        return "That is the first that anybody would try: choose another."
    return None
