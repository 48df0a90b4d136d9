"""What a college decides."""
