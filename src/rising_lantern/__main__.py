"""``python -m rising_lantern``: the command line."""

from rising_lantern.cli import main

if __name__ == "__main__":
    main()
