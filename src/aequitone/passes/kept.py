"""Plans and results of passes to the logbook's JSON and back."""

import math
from collections.abc import Callable
from typing import Any, TypeVar, get_origin

import numpy as np
from cattrs import Converter
from cattrs.errors import BaseValidationError

from aequitone.advice.roles import Role, role_of
from aequitone.errors import AequitoneError
from aequitone.reference import Target, target_named

T = TypeVar("T")


class KeptError(AequitoneError):
    """A record that this version has no form for; the message says of what."""


def _is_array(type_: Any) -> bool:
    return type_ is np.ndarray or get_origin(type_) is np.ndarray


def _array_to_json(array: np.ndarray) -> Any:
    """Nested lists; what is no number becomes null, as JSON has no word for it."""
    if array.dtype.kind == "f":
        return _without_nan(array.tolist())
    return array.tolist()


def _without_nan(value: Any) -> Any:
    if isinstance(value, list):
        return [_without_nan(each) for each in value]
    return None if math.isnan(value) else value


def _array_from_json(value: Any, _type: Any) -> np.ndarray:
    array = np.array(value)
    return array.astype(np.float64) if array.dtype.kind == "O" else array


def _converter() -> Converter:
    made = Converter()
    made.register_unstructure_hook_func(_is_array, _array_to_json)
    made.register_structure_hook_func(_is_array, _array_from_json)
    made.register_unstructure_hook(Target, lambda target: target.name)
    made.register_structure_hook(Target, lambda name, _: target_named(name))
    made.register_unstructure_hook(Role, lambda role: role.key)
    made.register_structure_hook(Role, lambda name, _: role_of(name))
    return made


_CONVERTER = _converter()


def to_json(value: Any) -> dict[str, Any]:
    """A plan or a result as JSON: names of fields and their values, what is no number being null."""
    made: dict[str, Any] = _CONVERTER.unstructure(value)
    return made


def from_json(type_: type[T], kept: dict[str, Any]) -> T:
    """A plan or a result from JSON; fields that an earlier version did not have take their usual value.

    Raises KeptError where this version has no form for it.
    """
    structure: Callable[[Any, type[T]], T] = _CONVERTER.structure
    try:
        return structure(kept, type_)
    except (BaseValidationError, ValueError, TypeError, KeyError) as error:
        raise KeptError(f"{type_.__name__} was kept by a version that this one does not know: {error}") from error
