"""Files in and out, each format in a file of its own."""
