"""White: grey brought to the white point at two levels."""
