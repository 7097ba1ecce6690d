"""Hand over: what is owed is settled, the report is made, the visit is closed."""
