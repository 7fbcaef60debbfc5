"""Sign: what is missing, who signs, and the record that comes of it."""

from pathlib import Path
from typing import NamedTuple

from PySide6.QtCore import QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QLineEdit, QPushButton

from ....core.document.channel import ContinuousChannel, SignableChannel
from ....core.job.people import SignerRole, name_person, person_of
from ....core.journal.records import SignedRecord
from ....core.results.signed_basis import changed_since_signed, signatures_of
from ....core.sign.contents import RecordScope, Signing
from ....core.sign.open_points import open_points
from ....core.words.errors import BadTable, NotApplicable, YardstickError
from ....core.words.numerals import counted
from ....files.records.keys import SigningKey, is_locked, key_folder, read_key
from ....files.records.signed import Signer
from ....files.records.signing import Signed, approve, records_folder, sign_channel
from ...centre.sight import Sight
from ...frame.theme import Theme
from ...frame.workbench import Workbench, now
from ...panel.fields import ChoiceField, Complaint, TextField, heading
from ...panel.lead_box import Act, Headline
from ...panel.section import Section
from ...panel.step_panel import StepPanel
from ...register.shop import Shop
from .all_box import AllBox
from .chain_box import ChainBox
from .lead import lead_of_signing
from .paper_box import PaperBox
from .points_box import PointsBox
from .versions_box import VersionsBox

_ROLES: tuple[tuple[SignerRole, str, str], ...] = (
    ("technician", "Technician", "who signs"),
    ("approver", "Approver", "nobody: one signature is enough"),
)


class _Said(NamedTuple):
    """What was said of a channel for the next record, and not signed yet."""

    accepted: str = ""
    scope: RecordScope = "this unit"
    correction: str = ""


class SignPanel(StepPanel):
    """What stands, what is open, who signs, and the chain of records."""

    title = "Sign it"

    def __init__(self, bench: Workbench, theme: Theme, sight: Sight, shop: Shop) -> None:
        super().__init__(bench, theme)
        self._sight, self._shop = sight, shop
        self._said: dict[str, _Said] = {}
        self.complaint = Complaint()
        self.points_head = heading("Missing or weak")
        self.points = PointsBox(bench, theme)
        self.accepted = TextField("Accepted", self._put_accepted, hint="why they are accepted", optional=True)
        self.people = {role: self._person(role, title, hint) for role, title, hint in _ROLES}
        self.passphrase = QLineEdit()
        self.passphrase.setEchoMode(QLineEdit.EchoMode.Password)
        self.passphrase.setPlaceholderText("passphrase of your key")
        self.passphrase.setAccessibleName("Passphrase of your key")
        self.scope = ChoiceField("Holds for", (), self._put_scope)
        self.correction = TextField("Corrects it", self._put_correction, hint="no: a new calibration", optional=True)
        self.chain_part = Section(bench, "sign/chain", "Records of this unit", opened=True)
        self.chain = ChainBox(self.open_record)
        self.chain_part.add(self.chain)
        self.all_part = Section(bench, "sign/all", "The whole job")
        self.all = AllBox(bench, self._sign_one, self._is_ready)
        self.all_part.add(self.all)
        self.all_part.head.toggled.connect(lambda opened: self.all.refresh() if opened else None)
        self.paper_part = Section(bench, "sign/paper", "On paper, and handed over")
        self.paper = PaperBox(bench, self._key, shop.due_of)
        self.paper_part.add(self.paper)
        self.versions_part = Section(bench, "sign/versions", "What was written, against now")
        self.versions = VersionsBox(bench, theme)
        self.versions_part.add(self.versions)
        self.folder = QPushButton("Show the records' folder")
        self.folder.clicked.connect(self._show_folder)
        for widget in (
            self.complaint, self.points_head, self.points, self.accepted, heading("Who signs"),
            *self.people.values(), self.passphrase, self.scope, self.correction, self.chain_part, self.folder,
            self.paper_part, self.versions_part, self.all_part,
        ):  # fmt: skip
            self.body.addWidget(widget)
        self.body.addStretch(1)

    def _person(self, role: SignerRole, title: str, hint: str) -> TextField:
        def put(name: str) -> None:
            self.bench.edit(f"{role}: {name}", lambda job: name_person(job, role, name))

        return TextField(title, put, hint=hint, optional=True)

    # -- what is said for the next record ---------------------------------------------------------------------------

    def _put_accepted(self, text: str) -> None:
        self._say(self._words(self.bench.to_sign())._replace(accepted=text))

    def _put_scope(self, value: str) -> None:
        scope: RecordScope = "this unit" if value == "this unit" else "every unit of the type"
        self._say(self._words(self.bench.to_sign())._replace(scope=scope))

    def _put_correction(self, text: str) -> None:
        self._say(self._words(self.bench.to_sign())._replace(correction=text))

    def _say(self, said: _Said) -> None:
        self._said[self.bench.to_sign().id] = said
        self.show_lead()

    def _words(self, channel: SignableChannel) -> _Said:
        return self._said.get(channel.id, _Said())

    # -- signing ----------------------------------------------------------------------------------------------------

    def sign(self) -> None:
        """Sign the channel looked at; what cannot be is said in place."""
        channel = self.bench.to_sign()
        for field in (self.accepted, self.correction, *self.people.values()):
            for entry in field.entries:
                entry.clearFocus()  # what was typed last counts
        try:
            made = self._sign_one(channel)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.passphrase.clear()
        self._said.pop(channel.id, None)
        says = f"{channel.tag} is signed: {made.path.name} and its PDF are in {made.path.parent}."
        self.bench.said.emit(says + self._shop.hand_in(), False)
        self.show_now()

    def approve(self) -> None:
        """Add the approver's signature to the last record."""
        channel = self.bench.to_sign()
        try:
            signer = Signer(self._named("approver"), "approver", now().isoformat())
            made = approve(self.bench.job, channel, signer, self._key(), self._records())
            self._keep(made)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.passphrase.clear()
        self.bench.said.emit(f"{channel.tag} is approved by {signer.name}.{self._shop.hand_in()}", False)
        self.show_now()

    def _sign_one(self, channel: SignableChannel) -> Signed:
        """Sign a channel and keep its record and PDF. Raises: what may not be signed, or cannot be written."""
        job, said = self.bench.job, self._words(channel)
        signed, last = signatures_of(job, channel), self._shop.last_of(channel, anew=True)
        signing = Signing(
            self._named("technician"), "technician", now(), said.scope, said.accepted, read_at=self._sight.pin,
            previous=last.sha256, number=last.number + 1, correction=said.correction,
            corrects=signed[-1].sha256 if signed and said.correction.strip() else "",
            asks=("technician", "approver") if person_of(job, "approver") else (),
        )  # fmt: skip
        if channel.id != self.bench.to_sign().id:
            signing = signing._replace(read_at=None)
        made = sign_channel(job, channel, signing, self._key(), self._records())
        self._keep(made)
        return made

    def _keep(self, made: Signed) -> None:
        """Have the job know of a record, and put it on paper beside it."""
        from ....files.output import put_bytes
        from ...paper.record_pdf import record_pdf

        entry = made.job.journal.signatures[-1]
        self.bench.record(lambda job: job.entered(signatures=[entry]))
        put_bytes(pdf_beside(made.path), record_pdf(made.record))

    def _named(self, role: SignerRole) -> str:
        name = person_of(self.bench.job, role)
        if not name:
            raise NotApplicable(f"Say who signs first: a name under {role.capitalize()}.")
        return name

    def _key(self) -> SigningKey:
        return read_key(key_folder(), self.passphrase.text())

    def _records(self) -> Path:
        if self.bench.path is None:
            raise BadTable("Save the job first: its records are kept beside it.")
        return records_folder(self.bench.path)

    def _is_ready(self, channel: SignableChannel) -> bool:
        """Whether a channel can be signed without another word."""
        job = self.bench.job
        if signatures_of(job, channel) and not changed_since_signed(job, channel):
            return False
        points = open_points(job, channel, now().date())
        return not points or (bool(self._words(channel).accepted.strip()) and not any(one.must for one in points))

    # -- records ----------------------------------------------------------------------------------------------------

    def open_record(self, record: SignedRecord) -> None:
        """Open a record's PDF with what the desk opens PDFs with; its folder where there is none."""
        place = pdf_beside(self._records() / record.file)
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(place if place.exists() else place.parent)))

    def _show_folder(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._records())))

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.signable
        if channel is None:
            return
        job, said = self.bench.job, self._words(channel)
        points = open_points(job, channel, now().date())
        signed = signatures_of(job, channel)
        self.points_head.setVisible(bool(points))
        self.points.setVisible(bool(points))
        self.points.show_points(points, self.theme)
        self.accepted.setVisible(any(not point.must for point in points))
        self.accepted.show_values(said.accepted)
        for role, field in self.people.items():
            field.show_values(person_of(job, role))
        self.passphrase.setVisible(is_locked(key_folder()))
        self._show_scope(channel, said)
        self.correction.setVisible(bool(signed))
        self.correction.show_values(said.correction)
        self.chain_part.setVisible(bool(signed))
        self.chain_part.show_summary(counted(len(signed), "record") if signed else "none yet")
        self.chain.show_records(signed)
        self.folder.setVisible(bool(signed))
        self.versions_part.setVisible(isinstance(channel, ContinuousChannel))
        if isinstance(channel, ContinuousChannel):
            self.versions_part.show_summary(self.versions.show_channel(channel, self.theme))
        if self.all_part.is_open or self.all.is_running:
            self.all.refresh()
        self.all_part.show_summary(self.all.summary)

    def _show_scope(self, channel: SignableChannel, said: _Said) -> None:
        device = self.bench.job.document.device_by_id.get(channel.device)
        unit = f"this unit, {device.serial}" if device is not None and device.serial else "this unit"
        self.scope.offer((("this unit", unit), ("every unit of the type", "every unit of the type")))
        self.scope.show_value(said.scope)

    def lead(self) -> Headline | None:
        channel = self.bench.signable
        if channel is None:
            return None
        job = self.bench.job
        points = open_points(job, channel, now().date())
        return lead_of_signing(job, channel, points)._replace(acts=self._acts(channel))

    def _acts(self, channel: SignableChannel) -> tuple[Act, ...]:
        job = self.bench.job
        signed = signatures_of(job, channel)
        if signed and not changed_since_signed(job, channel):
            if not signed[-1].is_complete:
                name = person_of(job, "approver")
                return (Act(f"Approve as {name}" if name else "Approve", self.approve),)
            return (Act("Open its PDF", lambda: self.open_record(signed[-1])), Act("Sign again", self.sign))
        must = next((one for one in open_points(job, channel, now().date()) if one.must), None)
        if must is not None:
            return (self.onward(must.step),)
        name = person_of(job, "technician")
        if not name:
            return (self.goes_to("Name who signs", self.people["technician"].entries[0]),)
        points = open_points(job, channel, now().date())
        if points and not self._words(channel).accepted.strip():
            return (self.goes_to("Say why it is accepted", self.accepted.entries[0]),)
        return (Act(f"Sign as {name}", self.sign),)


def pdf_beside(record: Path) -> Path:
    """Where a record's PDF is kept: beside it."""
    return record.with_name(record.name.removesuffix(".record.json") + ".pdf")
