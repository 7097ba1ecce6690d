"""What is told while a hand turns a control: how far it is by now, a tone to follow, where it really stands."""
