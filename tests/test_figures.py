"""Figures as a page shows them."""

import pytest

from aequitone.figures import light_words, ratio_words, signed, tied


@pytest.mark.parametrize(
    ("figure", "told"),
    [(1.25, "+1.2"), (-0.44, "-0.4"), (0.04, "0.0"), (-0.04, "0.0"), (-0.06, "-0.1"), (float("nan"), "")],
)
def test_a_difference_has_a_sign_only_where_some_is_left(figure: float, told: str) -> None:
    assert signed(figure) == told


def test_no_line_breaks_between_a_figure_and_its_unit() -> None:
    words = f"White gives {light_words(62.5)}, off by 3 %, a contrast of {ratio_words(1083.0)} or 900 : 1."
    breaks = tied(words).split(" ")
    assert {"62.5\N{NO-BREAK SPACE}cd/m²,", "3\N{NO-BREAK SPACE}%,"} <= set(breaks)
    assert all(":" not in each or each[0].isdigit() for each in breaks)
