"""Help for a person who turns controls: the steps that are left, a tone to follow, where it really stands."""
