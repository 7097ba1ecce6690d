"""Controls: every setting at two moments, what each control acts on, and putting everything back."""
