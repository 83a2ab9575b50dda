"""Plain JSON values that cannot be changed, for the unknown keys kept on a frozen model."""

from __future__ import annotations

from typing import Any, NoReturn


class FrozenDict(dict[str, Any]):
    """A dict that refuses to be changed; it is read like any dict."""

    def _refuse(self, *_: Any, **__: Any) -> NoReturn:
        raise TypeError("a build is a value: make an edited copy instead")

    __setitem__ = _refuse
    __delitem__ = _refuse
    __ior__ = _refuse
    clear = _refuse
    pop = _refuse
    popitem = _refuse
    setdefault = _refuse
    update = _refuse

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(frozenset(self.items()))


def freeze(value: Any) -> Any:
    """A JSON value with every object and list made unchangeable, and NumPy's floats plain ones."""
    if isinstance(value, dict):
        return FrozenDict({key: freeze(item) for key, item in value.items()})
    if isinstance(value, list | tuple):
        return tuple(freeze(item) for item in value)
    return float(value) if isinstance(value, float) else value


def thawed(value: Any) -> Any:
    """A frozen JSON value as plain dicts and lists."""
    if isinstance(value, dict):
        return {key: thawed(item) for key, item in value.items()}
    if isinstance(value, tuple):
        return [thawed(item) for item in value]
    return value
