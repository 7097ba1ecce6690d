"""What is handed over: the report, the readings as CSV, the summary of a run."""
