"""The fields at Arrive that name a target: tone with its black, gamut, and white with its light."""

from PySide6.QtWidgets import QComboBox

from aequitone.colorimetry import D65, WHITES
from aequitone.reference import GAMUTS, TONES, target_name, target_named, white_named, with_white

_AT = " at "


class TargetFields:
    """Three fields: they show a target by its name, and name the one that they show."""

    def __init__(self) -> None:
        self.tone, self.gamut, self.white = QComboBox(), QComboBox(), QComboBox()
        for name, tone in TONES.items():
            for black in tone.black_references:
                self._offer_tone(target_name(name, D65, black))
        for name, (gamut, container) in GAMUTS.items():
            self.gamut.addItem(gamut.name if gamut == container else f"{gamut.name} in {container.name}", name)
        self.white.setEditable(True)
        self.white.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.white.addItems(list(WHITES))
        self.white.setToolTip(
            "D93 is 9300 K. Another white: its x and y, as in 0.305 0.320. "
            "D65 at 120 holds white, and all levels with it, to 120 cd/m²."
        )

    @property
    def all(self) -> tuple[QComboBox, ...]:
        return self.tone, self.gamut, self.white

    def show_target(self, name: str) -> None:
        """Show a target, also one that was chosen in an earlier version or elsewhere."""
        head, _, light = name.partition("=")
        head, _, white = head.partition("@")
        gamut, _, tone = head.rpartition("-")
        if self.tone.findData(tone) < 0:
            self._offer_tone(head)
        if self.gamut.findData(gamut) < 0:
            self.gamut.addItem(target_named(head).gamut.name, gamut)
        self.tone.setCurrentIndex(self.tone.findData(tone))
        self.gamut.setCurrentIndex(self.gamut.findData(gamut))
        self.white.setEditText(f"{white or D65.name}{f'{_AT}{light}' if light else ''}")

    def name(self) -> str:
        """The target's name, as far as what is typed makes one: it is checked with the form."""
        head = f"{self.gamut.currentData()}-{self.tone.currentData()}"
        white, at, light = (part.strip() for part in self.white.currentText().partition(_AT))
        lit = f"={light}" if at else ""
        try:
            return target_named(with_white(target_named(head), white_named(white or D65.name)).name + lit).name
        except ValueError:
            return f"{head}@{white}{lit}"

    def _offer_tone(self, name: str) -> None:
        target = target_named(name)
        # Gamut and white stand beside it.
        self.tone.addItem(target.label.partition(f"{target.white.name}, ")[2], name.rpartition("-")[2])
