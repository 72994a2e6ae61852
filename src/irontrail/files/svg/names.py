"""The name space of what this program's drawings say beyond what can be seen."""

SPACE = "urn:irontrail:mat:1"
# As an attribute's name begins once it is read.
EXTRA = "{" + SPACE + "}"
