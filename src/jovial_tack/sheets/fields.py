"""Lines of a card that read and write one key of a part: each is declared in a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from jovial_tack.answers.doubts import doubt_of
from jovial_tack.core.units import Quantity
from jovial_tack.document.model import Build
from jovial_tack.document.model.base import Part
from jovial_tack.sheets.sheet import Change, Choice, Figure, Say, Shown, T, Words

P = TypeVar("P", bound=Part)
Options = tuple[tuple[str, str], ...]


#: Writes keys of the part a target means: (build, target, **keys) → build
Put = Callable[..., Build]


@dataclass(frozen=True)
class Fields(Generic[P, T]):
    """The keys of one kind of part, as lines of its card. A key the part has not is an error on import.

    of: the part a target means; put: writes keys of it; undo: what undo calls a change, where a line
    says nothing else; named: what the part is called there: “limit of Alternator”.
    """

    kind: type[P]
    of: Callable[[Build, T], P]
    put: Put
    undo: str | Say[T] = ""
    named: Say[T] | None = None

    def figure(
        self,
        key: str,
        name: str,
        quantity: Quantity,
        spoken: str,
        *,
        undo: str | Say[T] = "",
        aside: str | Say[T] = "",
        missing: str = "not given",
        axis: int | None = None,
        percent: bool = False,
        counts: bool = False,
        change: Change[T] | None = None,
        digits: int | None = None,
        signed: bool = False,
    ) -> Figure[T]:
        """A figure. missing: said beside it while there is none; axis: it is one end or coordinate;
        percent: a share shown in per cent; counts: whole numbers only; change: in place of writing it.
        """
        self._check(key)

        def value(view: Shown[T]) -> float | None:
            found = getattr(self.of(view.build, view.target), key)
            if found is None:
                return None
            number = float(found if axis is None else found[axis])
            return 100 * number if percent else number

        def write(build: Build, target: T, number: float) -> Build:
            new: Any = number * 0.01 if percent else number
            if counts and new.is_integer():
                new = int(new)  # anything else is refused by the model, in words
            if axis is not None:
                pair = list(getattr(self.of(build, target), key) or (new, new))
                pair[axis] = new
                new = tuple(pair)
            return self.put(build, target, **{key: new})

        def beside(view: Shown[T]) -> str:
            if getattr(self.of(view.build, view.target), key) is None:
                return missing
            return aside if isinstance(aside, str) else aside(view)

        return Figure(
            name,
            quantity,
            value,
            aside=beside,
            absent=lambda _view: "",
            change=change or write,
            label=self._label(undo),
            spoken=spoken,
            digits=digits,
            signed=signed,
            doubt=lambda view: doubt_of(
                self.of(view.build, view.target), key, view.catalogue, view.build.display_units
            ),
        )

    def words(
        self, key: str, name: str, spoken: str, *, undo: str = "", reads: str = ""
    ) -> Words[T]:
        """Words to type over. reads: the property shown, where an empty key shows something else."""
        self._check(key)
        return Words(
            name,
            lambda view: str(getattr(self.of(view.build, view.target), reads or key)),
            lambda build, target, text: self.put(build, target, **{key: text}),
            self._label(undo),
            spoken,
        )

    def choice(
        self,
        key: str,
        name: str,
        options: Options | Callable[[Shown[T]], Iterable[tuple[str, str]]],
        spoken: str,
        *,
        undo: str = "",
        unset: str = "",
    ) -> Choice[T]:
        """A few things to choose from. unset: the one that stands for an absent key."""
        self._check(key)
        return Choice(
            name,
            lambda view: options if isinstance(options, tuple) else tuple(options(view)),
            lambda view: getattr(self.of(view.build, view.target), key) or unset,
            lambda build, target, chosen: self.put(build, target, **{key: chosen or None}),
            self._label(undo),
            spoken,
        )

    def _check(self, key: str) -> None:
        if key not in self.kind.__struct_fields__:
            raise KeyError(f"{self.kind.__name__} has no key {key}")

    def _label(self, undo: str | Say[T]) -> Say[T]:
        """What undo calls a change."""
        words, named = undo or self.undo, self.named
        if not isinstance(words, str):
            return words
        if named is None:
            return lambda _view: words
        return lambda view: f"{words} of {named(view)}"


def always(words: str) -> Say[Any]:
    """The same words whatever is shown."""
    return lambda _view: words
