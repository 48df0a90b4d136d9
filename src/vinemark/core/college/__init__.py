"""What a college decides: departments, terms, who administers and who chairs."""
