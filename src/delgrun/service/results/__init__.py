"""What follows from a case, by topic; each result is kept under what it used, and worked out once for a case."""
