"""`python -m irontrail`."""

import sys

from irontrail.cli.main import main

sys.exit(main())
