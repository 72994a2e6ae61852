"""Pages that leave the program: filled-in templates, made PDF, printed, or one HTML file with its pictures inside."""
