"""What students see."""
