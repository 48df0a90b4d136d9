"""Groups of an item."""
