"""What has no design on sheets: hatched and named, so that nobody reads it as nothing to do."""

#: Ground of what has no design, and the words that say so.
LOST, FAULT = "#F6E3E0", "#A83A2C"
WORDS = "DESIGN MISSING"
