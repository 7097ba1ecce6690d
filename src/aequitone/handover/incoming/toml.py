"""A TOML file that a person wrote, checked by a model; what is wrong with it is said with its place."""

import tomllib
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from aequitone.errors import AequitoneError

M = TypeVar("M", bound=BaseModel)


def read_toml(path: Path, model: type[M], what: str, failed: type[AequitoneError], whole: str) -> M:
    """The model of a file. Raises `failed` with a sentence: `what` names the file, `whole` all of its content."""
    try:
        return model.model_validate(tomllib.loads(path.read_text("utf-8")))
    except OSError as error:
        raise failed(f"{what} {path} cannot be read: {error.strerror}") from error
    except ValidationError as error:
        raise failed(f"{what} {path} was not used: {_faults(error, whole)}") from error
    except (ValueError, RecursionError) as error:
        # No TOML, no UTF-8, a number of thousands of digits, brackets too deep in brackets.
        raise failed(f"{what} {path} is not TOML: {error}") from error


def _faults(error: ValidationError, whole: str) -> str:
    told = []
    for fault in error.errors():
        where = ".".join(str(part) for part in fault["loc"]) or whole
        told.append(f"{where}: {fault['msg'].removeprefix('Value error, ')}")
    return "; ".join(told)
