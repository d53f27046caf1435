"""The entry point: the first word decides between the command line and the window; each is imported only when used."""

from __future__ import annotations

import sys


def main() -> int:
    arguments = sys.argv[1:]
    commands = ("check", "access", "sequence", "assess", "methods", "effort", "procedure", "report", "agree", "compare",
                "export", "import", "repair", "identify")
    if arguments and (arguments[0] in commands or arguments[0] in ("-h", "--help")):
        from oddbolt.cli import commands

        return commands.run(arguments)
    from oddbolt import app

    return app.run(arguments)


if __name__ == "__main__":
    sys.exit(main())
