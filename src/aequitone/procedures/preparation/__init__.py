"""What is measured before grey, beside it, and to put everything back."""
