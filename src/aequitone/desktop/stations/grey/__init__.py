"""The grey ladder, which As found, White and Proof share."""
