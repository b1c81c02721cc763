"""``python -m jontel``."""

from jontel.cli import main

main()
