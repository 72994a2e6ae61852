"""The command line, one file a command; none but `open` and `shots` needs the interface."""
