"""The program as a listing for a robot of one's own: from one description, printed in several languages."""
