import sys

from tropeion.cli import main

sys.exit(main())
