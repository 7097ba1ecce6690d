"""The settings of a visit: how every control stood and stands, where that holds, and what is owed."""
