"""The bench protocol, served."""
