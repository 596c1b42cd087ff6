"""Running the command line: every way in which it ends has its exit status, and one message.

0 done, 1 findings, 2 it cannot be done, 128 and the signal's number where a signal has ended it:
130 for Ctrl-C, 141 where nobody reads what is printed.
"""

from __future__ import annotations

import os
import sys
import traceback
from collections.abc import Sequence
from itertools import pairwise

import click

from rising_lantern.cli.faults import report, report_problem
from rising_lantern.cli.stopping import Stopped, stoppable
from rising_lantern.cli.terminal import echo, open_streams
from rising_lantern.errors import LanternError

DONE, REFUSED, UNREAD = 0, 2, 141
_TRACEBACK = "RISING_LANTERN_TRACEBACK"


class Unread(Exception):  # noqa: N818 - not an error: nobody wants to read more
    """Nothing reads what is printed any more."""


def run(group: click.Group, words: Sequence[str]) -> int:
    """Run the command line.

    Args:
        group: Its commands.
        words: Its arguments.

    Returns:
        The exit status.
    """
    open_streams()
    as_json = _wants_json(words)
    try:
        with stoppable():
            status = _status(group, words, as_json=as_json)
            sys.stdout.flush()
    except Stopped as stopped:
        status = stopped.status
        if sys.stderr.isatty():
            sys.stderr.write("\n")  # the progress bar's line is not the next prompt's
    except (BrokenPipeError, Unread):
        status = UNREAD
    except OSError as error:
        status = _report_failure(error, as_json=False)
    _drop_unprinted()
    return status


def _wants_json(words: Sequence[str]) -> bool:
    """Whether faults are wanted as JSON, also those of arguments that cannot be understood."""
    return "--faults=json" in words or ("--faults", "json") in pairwise(words)


def _status(group: click.Group, words: Sequence[str], *, as_json: bool) -> int:
    try:
        ended = group.main(list(words), prog_name="rising-lantern", standalone_mode=False)
    except LanternError as error:
        report(error, as_json=as_json)
    except click.ClickException as error:
        _report_usage(error, as_json=as_json)
    except click.Abort:
        return 130
    except MemoryError:
        report_problem("there is not enough memory for this", as_json=as_json)
    except (BrokenPipeError, Unread):
        raise
    except OSError as error:
        return _report_failure(error, as_json=as_json)
    except Exception as error:  # noqa: BLE001 - whatever it is, it ends with one line
        _report_own_fault(error, as_json=as_json)
    else:
        return ended if isinstance(ended, int) else DONE
    return REFUSED


def _report_failure(error: OSError, *, as_json: bool) -> int:
    """Report a failure of the machine: a full disk, a file that cannot be read."""
    reason = (error.strerror or str(error) or "input or output has failed").lower()
    where = f"{error.filename}: " if error.filename else ""
    report_problem(f"{where}{reason}", as_json=as_json)
    return REFUSED


def _report_usage(error: click.ClickException, *, as_json: bool) -> None:
    context = getattr(error, "ctx", None)
    if context is not None and not as_json:
        echo(context.get_usage(), err=True)
        echo(f"Try '{context.command_path} --help' for help.\n", err=True)
    report_problem(error.format_message(), as_json=as_json)


def _report_own_fault(error: Exception, *, as_json: bool) -> None:
    if os.environ.get(_TRACEBACK):
        echo("".join(traceback.format_exception(error)), err=True, nl=False)
    kind = f"{type(error).__name__}: {error}"
    report_problem(
        f"this is a bug in Rising Lantern: {kind[:200]}; "
        f"please report it with what is printed when {_TRACEBACK}=1 is set",
        as_json=as_json,
    )


def _drop_unprinted() -> None:
    """Let go of what could not be printed; the interpreter would try it once more at its end."""
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except (OSError, ValueError):
            os.dup2(os.open(os.devnull, os.O_WRONLY), 2 if stream is sys.stderr else 1)
