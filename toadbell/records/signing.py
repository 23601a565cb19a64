"""Signing a record: who may, the seal over its package, and what an inspector's no does to the vessel."""

import hashlib
from pathlib import Path

from django.db import transaction
from django.utils import timezone

from toadbell.core.documents import read_plan
from toadbell.records import package, workshop_key
from toadbell.records.models import Attachment
from toadbell.records.sealed import sealed_path, stated
from toadbell.shed.errors import NotNow
from toadbell.shed.people import Maker, Role, alike
from toadbell.trials.models import Beside, Signature, State, Trial

HOLD = "hold"
"""What is seen beside the stages."""


def stages_to_see(trial: Trial) -> list[tuple[str, str]]:
    """What of a trial may have been seen, by id and name: the stages that were reached, and the hold where there was
    one.
    """
    if not trial.frozen:
        return []
    stages = read_plan(trial.frozen).answer.stages
    kinds = [(event.kind, event.data.get("stage")) for event in trial.effective_events()]
    reached = sorted({int(stage) for kind, stage in kinds if kind == "stage-reached"})
    found = [(stages[n].id, str(stages[n].name)) for n in reached if n < len(stages)]
    held = any(kind == "shut-in" for kind, _ in kinds)
    return [*dict.fromkeys(found), *([(HOLD, "the hold")] if held else [])]


def why_not_now(trial: Trial) -> str | None:
    """Why a record cannot be signed yet; None where it can."""
    if trial.state == State.ABORTED:
        return "It was ended before its time, and is not decided yet: decide first, so that what is signed is whole."
    if trial.state != State.CLOSED:
        return "It is signed when it is over: after the decision."
    return None


def must_be_able_to(asked: Signature, signer: Maker) -> None:
    """Raises NotNow where somebody may not sign what was asked."""
    if asked.of_id is None:
        raise NotNow(f"{asked.name} was asked to sign on paper: write down what stands there.")
    if asked.of_id != signer.pk:
        raise NotNow(f"{asked.name} was asked to sign this, not {signer.shown_name}.")
    if asked.role == Signature.Role.INSPECTOR and signer.role not in (Role.INSPECTOR, Role.OWNER):
        raise NotNow(f"{signer.shown_name} is no inspector of this workshop: the owner says who is, at People.")
    if signer.pk in asked.trial.hands() or any(alike(signer.shown_name, one) for one in asked.trial.hands_by_name()):
        raise NotNow(f"{signer.shown_name} planned or ran this trial: a second pair of eyes is somebody else's.")


def sign(
    asked: Signature,
    signer: Maker | None,
    *,
    how: Signature.How,
    saw: list[str],
    remarks: str,
    approved: bool | None,
    written_by: Maker,
) -> Signature:
    """Sign a record: seal it, and keep who saw what and whether they approve.

    signer  whose hand it is; None on paper, where `written_by` writes down what stands there
    Raises NotNow where it cannot be, with nothing signed.
    """
    trial = asked.trial
    if asked.signed:
        raise NotNow(f"{asked.name} signed this already.")
    why = why_not_now(trial)
    if why is not None:
        raise NotNow(why)
    if signer is not None:
        must_be_able_to(asked, signer)
    elif asked.of_id is not None or Maker.called(asked.name) is not None:
        raise NotNow(
            f"{asked.name} is of this workshop, and signs by their own hand: nobody writes that down for them."
        )
    elif any(alike(asked.name, one) for one in trial.hands_by_name()):
        raise NotNow(f"{asked.name} planned or ran this trial: a second pair of eyes is somebody else's.")
    may_see = dict(stages_to_see(trial))
    if any(one not in may_see for one in saw):
        raise NotNow("Something is ticked as seen that this trial never came to.")
    inspects = asked.role == Signature.Role.INSPECTOR
    if inspects and approved is None:
        raise NotNow("Approved or not? An inspector's signature says so.")
    if inspects and not approved and not remarks.strip():
        raise NotNow("Write what is not right: whoever owns the vessel has to know what to mend.")
    if not saw and not remarks.strip():
        raise NotNow("Tick what was seen, or write why nothing was: a signature says what it stands for.")
    stood = _stands(trial)
    seal = sealed_by(trial)
    with transaction.atomic():
        if _stands(trial) != stood:
            raise NotNow(
                "Something was written down just now, and is not in what you would sign. Look, and sign again."
            )
        asked = Signature.objects.select_for_update().get(pk=asked.pk)
        if asked.signed:
            raise NotNow(f"{asked.name} signed this already.")
        asked.of, asked.how, asked.saw, asked.remarks = signer or asked.of, how, saw, remarks.strip()[:2000]
        asked.approved, asked.signed_at = approved if inspects else None, timezone.now()
        asked.written_by, asked.seal = written_by, seal
        asked.key, asked.vouched = workshop_key.vouch(stated(asked))
        asked.save()
        if inspects and not approved and not trial.practice:
            text = f"{asked.name}, of trial {trial.number}: {remarks.strip()}"
            trial.vessel.note(written_by, "not approved", timezone.localdate(), text)
    return asked


def _stands(trial: Trial) -> tuple[object, ...]:
    """What there is of a record: what is packed while somebody writes must not be sealed without it. Whatever changes
    of it is an entry of its log, a reading or a picture.
    """
    pictures = list(trial.attachments.order_by("pk").values_list("pk", "text", "taken_down"))
    return trial.events.count(), trial.readings.count(), trial.files.count(), pictures


def sealed_by(trial: Trial) -> str:
    """The seal of a trial: the one it has, else that of its package as it is now, which is kept as it was sealed."""
    kept = trial.signatures.exclude(seal="").values_list("seal", flat=True).first()
    if kept:
        return str(kept)
    Attachment.FOLDER.mkdir(parents=True, exist_ok=True)
    part = Path(Attachment.FOLDER / f"{trial.pk}.part")
    try:
        with part.open("wb") as out:
            package.write(out, trial, timezone.now(), signatures=False)
        with part.open("rb") as made:
            seal = hashlib.file_digest(made, "sha256").hexdigest()
        part.replace(sealed_path(seal))
    finally:
        part.unlink(missing_ok=True)
    return seal


def write_beside(trial: Trial, by: Maker, text: str) -> Beside:
    """Write something beside a sealed record. Raises NotNow where it is not sealed: then it is written in its log."""
    if not trial.sealed:
        raise NotNow("This record is not sealed: write it in its log, at the bench.")
    if not text.strip():
        raise NotNow("An empty note says nothing: write a word or two.")
    beside = Beside(trial=trial, by=by, text=text.strip()[:2000])
    beside.key, beside.vouched = workshop_key.vouch(stated(beside))
    beside.save(force_insert=True)
    return beside
