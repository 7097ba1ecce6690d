"""The scenarios that come with the program."""

from importlib import resources

from aequitone.errors import AequitoneError


def shipped_scenarios() -> tuple[str, ...]:
    """The names of the scenarios that come with the program."""
    folder = resources.files("aequitone.standins") / "scenarios"
    return tuple(sorted(entry.name[:-5] for entry in folder.iterdir() if entry.name.endswith(".toml")))


def shipped_text(name: str) -> str:
    """The TOML of a shipped scenario."""
    return (resources.files("aequitone.standins") / "scenarios" / f"{name}.toml").read_text("utf-8")


class ScenarioError(AequitoneError):
    """A scenario that cannot be used; the message is a sentence for each thing that is wrong."""
