"""Passes beside the work on a job, that turn nothing for good: measured to be compared with what the job gives."""
