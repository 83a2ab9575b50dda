"""A figure of a sheet: where it comes from, how it is written, and how it is changed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from jovial_tack.answers.results import DriveResult, Finding, PulleyResult, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import LENGTH, Quantity, written
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Drive, Pulley, Shaft
from jovial_tack.document.targets import OfDrive, PulleyAt, ShaftAt, SpanAt, Target

T_co = TypeVar("T_co", bound=Target, covariant=True)


class Shown(Value, Generic[T_co], frozen=True):
    """One thing of one build, with its results and the engine speed shown.

    target: PulleyAt(drive, pulley), SpanAt(drive, pulley it leaves), ArmAt(drive),
    BeltAt(drive), ShaftAt(shaft) or () for the engine. moving: while something is dragged, when
    figures that take long are not worked out.
    """

    build: Build
    results: Results
    target: T_co
    rpm: float
    catalogue: Catalogue
    moving: bool = False

    @property
    def drive(self: Shown[OfDrive]) -> Drive:
        """The drive of a pulley, span, arm or belt."""
        return self.build.drive(self.target.drive)

    @property
    def result(self: Shown[OfDrive]) -> DriveResult:
        """The results of that drive."""
        return self.results.drive(self.target.drive)

    @property
    def lane(self: Shown[OfDrive]) -> int:
        """The place of the shown speed in the results' lists."""
        return self.result.lane(self.rpm)

    @property
    def pulley(self: Shown[PulleyAt]) -> Pulley:
        """The pulley that is the target."""
        return self.drive.pulley(self.target.pulley)

    @property
    def pulley_result(self: Shown[PulleyAt]) -> PulleyResult | None:
        """The results of that pulley; None if the drive cannot exist."""
        return self.result.pulley(self.target.pulley)

    @property
    def shaft(self: Shown[ShaftAt | PulleyAt]) -> Shaft:
        """The shaft that is the target, or on which the pulley sits."""
        target = self.target
        if isinstance(target, ShaftAt):
            return self.build.shaft(target.shaft)
        return self.build.shaft(self.build.drive(target.drive).pulley(target.pulley).shaft)

    def name_of(self: Shown[OfDrive], pulley_id: str) -> str:
        """A pulley of the drive by the name of its shaft."""
        return self.build.shaft(self.drive.pulley(pulley_id).shaft).label

    def at(self) -> str:
        """“at 6600”: the speed a running figure is told for."""
        return f"at {self.rpm:.0f}"


T = TypeVar("T", bound=Target)
Read = Callable[[Shown[T]], float | None]
Say = Callable[[Shown[T]], str]
Change = Callable[[Build, T, float], Build]
Rename = Callable[[Build, T, str], Build]


class Figure(Value, Generic[T], frozen=True):
    """One line of a sheet.

    value: in the unit of the mechanics, None where there is none; absent: what is said then; aside:
    what it is measured against; change: how a typed figure makes another build (None: computed);
    label: what undo calls that; spoken: its name in full, for tips and screen readers; doubt: what is
    asked of it where it lies beyond what there is.
    """

    name: str
    quantity: Quantity
    value: Read[T]
    aside: Say[T] = lambda _view: ""
    absent: Say[T] = lambda _view: "–"
    change: Change[T] | None = None
    label: Say[T] = lambda _view: ""
    spoken: str = ""
    digits: int | None = None
    signed: bool = False
    doubt: Say[T] = lambda _view: ""

    def unit(self, build: Build) -> str:
        """The unit a build shows it in."""
        return self.quantity.shown(build.display_units)

    def text(self, view: Shown[T]) -> str:
        """The figure with its unit, or what is said in its absence."""
        value = self.value(view)
        if value is None:
            return self.absent(view)
        unit = self.unit(view.build)
        return written(value, self.quantity, unit, digits=self.digits_in(unit), sign=self.signed)

    def in_other_unit(self, view: Shown[T]) -> str:
        """The figure in the unit that is not shown; "" where it has no other."""
        value, other = self.value(view), self.quantity.other
        if value is None or other is None:
            return ""
        unit = self.quantity.unit if self.unit(view.build) == other else other
        return written(value, self.quantity, unit)

    def change_since(self, view: Shown[T], then: float | None) -> str:
        """How far it has moved from an earlier figure: “+3.2 mm”, “=”, or "" if neither is there."""
        now = self.value(view)
        if now is None or then is None:
            return "" if now is then else "new" if then is None else "gone"
        unit = self.unit(view.build)
        digits = self.digits_in(unit)
        text = written(now - then, self.quantity, unit, digits=digits, sign=True, difference=True)
        return text if any(sign in "123456789" for sign in text.split(" ")[0]) else "="

    def digits_in(self, unit: str) -> int | None:
        """Decimals it is shown with in a unit; None for as many as are usual."""
        if self.digits is None or unit == self.quantity.unit:
            return self.digits
        return self.digits + 1 if self.quantity is LENGTH else self.digits


class Words(Value, Generic[T], frozen=True):
    """A line of a sheet that holds words to type over, such as a name."""

    name: str
    text: Say[T]
    change: Rename[T]
    label: Say[T]
    spoken: str = ""


class Choice(Value, Generic[T], frozen=True):
    """A line of a sheet with a few things to choose from. options: (key, words) each; chosen: a key."""

    name: str
    options: Callable[[Shown[T]], tuple[tuple[str, str], ...]]
    chosen: Say[T]
    change: Rename[T]
    label: Say[T]
    spoken: str = ""


class Act(Value, frozen=True):
    """Something that can be done at a press: the edit it makes, what undo calls it, and what is
    selected afterwards (None: what is selected now). removes: takes the thing itself away, as the
    Delete key does. asks: the line of what is then selected in which one begins to type.
    """

    name: str
    make: Callable[[Build], Build]
    label: str
    then: Callable[[Build], Target] | None = None
    removes: bool = False
    asks: str = ""


Row = Figure[T] | Words[T] | Choice[T]


class Sheet(Value, Generic[T], frozen=True):
    """Everything told of one kind of thing. findings: which of all findings are its own."""

    title: Say[T]
    subtitle: Say[T]
    figures: Callable[[Shown[T]], tuple[Row[T], ...]]
    caution: Say[T]
    findings: Callable[[Shown[T]], tuple[Finding, ...]]
    is_there: Callable[[Build, T], bool]
    related: Callable[[Shown[T]], tuple[tuple[str, Target], ...]] = lambda _view: ()
    acts: Callable[[Shown[T]], tuple[Act, ...]] = lambda _view: ()


def findings_at(view: Shown[OfDrive], pulley_id: str) -> tuple[Finding, ...]:
    """The findings of the view's drive that are about one pulley, the gravest first."""
    own = view.result.findings
    return tuple(f for f in view.results.findings if f in own and f.where == pulley_id)


def has_pulley(build: Build, target: PulleyAt | SpanAt) -> bool:
    """Whether the drive and the pulley of a target are there."""
    drive = build.drive(target.drive)
    name = target.pulley if isinstance(target, PulleyAt) else target.leaves
    return drive.pulley(name).id in drive.route
