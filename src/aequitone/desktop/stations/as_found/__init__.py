"""As found: grey before anything is turned, kept as the baseline."""
