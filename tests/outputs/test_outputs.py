"""Nobody's file is lost: what commands write, what they leave alone, and how they fail."""

from __future__ import annotations

import json
import os
import shutil
import signal
import stat
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from itertools import product
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run, run_process
from plans import plan_text
from rising_lantern.outputs import folders
from rising_lantern.outputs.files import whole_file
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.outputs.records import RECORD
from rising_lantern.outputs.scratch import PREFIX, scratch_folder
from thorough import some, thorough

PLAN = plan_text(sections="a: {height: 4000px, layers: [{image: photo.png}]}")
LATE = plan_text(
    header="height: 60px, parts: {menu: {text: Menu}}, looks: {clear: {color: '#777'}}",
    sections="a: {height: 900px, background: '#888'}",
)

# Commands that write a folder, and those that write a file, each with what names it.
FOLDERS = [
    ("preview", "plan.yaml"),
    ("compare", "plan.yaml", "--vary", "pages.page.sections.a.height=1200px,900px"),
]
FILES = [
    ("trace", "plan.yaml", "-o", "out.csv"),
    ("check", "plan.yaml", "-o", "out.csv"),
    ("schema", "-o", "out.csv"),
]


@pytest.fixture
def plan(folder: Path) -> Path:
    path = folder / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


def contents(folder: Path) -> dict[str, bytes]:
    """All files below a folder, and what they hold."""
    return {
        path.relative_to(folder).as_posix(): path.read_bytes()
        for path in sorted(folder.rglob("*"))
        if path.is_file()
    }


def fill(out: Path, *names: str) -> None:
    """Fill a folder with files of some names; a name with a slash at its end is a folder."""
    with filled_folder(out) as result:
        for name in names:
            path = result / name
            path.parent.mkdir(exist_ok=True)
            if name.endswith("/"):
                path.mkdir()
            else:
                path.write_text("new", "utf-8")


def scratch_in(folder: Path) -> list[Path]:
    """What is left of scratch folders anywhere below a folder."""
    return list(folder.rglob(f"{PREFIX}*/"))


@pytest.mark.parametrize("words", FOLDERS, ids=lambda words: words[0])
def test_a_folder_is_written_again_but_a_changed_file_stays(
    plan: Path, words: tuple[str, ...]
) -> None:
    out = plan.parent / "out"
    command = (*words, "-o", "out", "--quiet")
    assert run(*command, cwd=plan.parent).returncode == 0
    assert run(*command, cwd=plan.parent).returncode == 0
    names = json.loads((out / RECORD).read_text("utf-8"))["files"]
    assert set(names) == set(contents(out)) - {RECORD}
    one = out / next(name for name in names if name.endswith((".png", ".csv")))
    one.write_bytes(b"mine")
    before = contents(out)
    refused = run(*command, cwd=plan.parent)
    assert refused.returncode == 2
    assert (
        f"{one.relative_to(plan.parent)} has changed since Rising Lantern wrote it"
        in refused.stderr
    )
    assert "--force" in refused.stderr
    assert contents(out) == before
    assert run(*command, "--force", cwd=plan.parent).returncode == 0
    assert one.read_bytes() != b"mine"
    assert not scratch_in(plan.parent)


@pytest.mark.parametrize("words", FILES, ids=lambda words: words[0])
def test_a_file_is_written_again_but_somebody_s_own_stays(
    plan: Path, words: tuple[str, ...]
) -> None:
    out = plan.parent / "out.csv"
    for _ in range(2):
        assert run(*words, cwd=plan.parent).returncode == 0
    out.write_text("mine", "utf-8")
    assert "has changed since" in run(*words, cwd=plan.parent).stderr
    (plan.parent / RECORD).unlink()
    refused = run(*words, cwd=plan.parent)
    assert (refused.returncode, out.read_text("utf-8")) == (2, "mine")
    assert "out.csv was not written by Rising Lantern" in refused.stderr
    assert run(*words, "--force", cwd=plan.parent).returncode == 0
    assert out.read_text("utf-8") != "mine"


def test_a_site_s_own_index_is_not_replaced_by_a_preview_of_its_folder(plan: Path) -> None:
    own = plan.parent / "index.html"
    own.write_text("<h1>Saltmere</h1>", "utf-8")
    refused = run("preview", "plan.yaml", "-o", ".", cwd=plan.parent)
    assert refused.returncode == 2
    assert refused.stderr.startswith("index.html was not written by Rising Lantern")
    assert own.read_text("utf-8") == "<h1>Saltmere</h1>"
    assert not (plan.parent / "pages").exists()


def test_demo_and_new_keep_what_was_edited(tmp_path: Path) -> None:
    assert run("new", "site", cwd=tmp_path).returncode == 0
    (tmp_path / "site/plan.yaml").unlink()
    picture = tmp_path / "site/pictures/river.jpg"
    picture.write_bytes(b"our own river")
    refused = run("new", "site", cwd=tmp_path)
    assert refused.returncode == 2
    assert "river.jpg has changed since" in refused.stderr
    assert not (tmp_path / "site/plan.yaml").exists()
    # The demo's plan, which it says to edit: refused before anything is painted.
    (tmp_path / "saltmere").mkdir()
    (tmp_path / "saltmere/regatta.yaml").write_text("rising-lantern: 1", "utf-8")
    refused = run("demo", cwd=tmp_path)
    assert "saltmere/regatta.yaml was not written by Rising Lantern" in refused.stderr
    assert contents(tmp_path / "saltmere") == {"regatta.yaml": b"rising-lantern: 1"}


def test_a_preview_over_a_folder_or_a_link_leaves_all_as_it_was(plan: Path, tmp_path: Path) -> None:
    outside, out = tmp_path / "outside", tmp_path / "out"
    outside.mkdir()
    out.mkdir()
    (out / "pages").symlink_to(outside, target_is_directory=True)
    refused = run("preview", plan, "-o", out)
    assert refused.returncode == 2
    assert f"{out / 'pages'} is a link to a place outside {out}" in refused.stderr
    assert not list(outside.iterdir())
    (out / "pages").unlink()
    (out / "index.html").mkdir()
    refused = run("preview", plan, "-o", out, "--force")
    assert f"{out / 'index.html'} is a folder where a file is needed" in refused.stderr
    assert [path.name for path in out.iterdir()] == ["index.html"]
    (out / "index.html").rmdir()
    (out / "charts").write_text("a file", "utf-8")
    refused = run("preview", plan, "-o", out, "--force")
    assert "is a file where a folder is needed; move it" in refused.stderr
    assert contents(out) == {"charts": b"a file"}


def test_a_link_in_the_place_of_a_file_is_never_written_through(tmp_path: Path) -> None:
    theirs, out = tmp_path / "theirs.txt", tmp_path / "out"
    theirs.write_text("theirs", "utf-8")
    out.mkdir()
    (out / "made.txt").symlink_to(theirs)
    with pytest.raises(rl.RequestError, match="was not written by"), filled_folder(out) as result:
        (result / "made.txt").write_text("ours", "utf-8")
    with filled_folder(out, force=True) as result:
        (result / "made.txt").write_text("ours", "utf-8")
    assert theirs.read_text("utf-8") == "theirs"
    assert not (out / "made.txt").is_symlink()


@pytest.mark.parametrize("fails_at", range(4))
def test_moving_into_place_that_fails_at_any_file_is_undone(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, fails_at: int
) -> None:
    out = tmp_path / "out"
    with filled_folder(out) as result:
        (result / "a.txt").write_text("a", "utf-8")
        (result / "b.txt").write_text("b", "utf-8")
    before, count, move = contents(out), [0], folders._Moves.move  # noqa: SLF001 - the step that fails

    def failing(self: folders._Moves, source: Path, name: str) -> None:
        count[0] += 1
        if count[0] > fails_at:
            raise OSError(28, "No space left on device")
        move(self, source, name)

    monkeypatch.setattr(folders._Moves, "move", failing)  # noqa: SLF001 - as above
    with pytest.raises(rl.RequestError, match="no space left"):
        fill(out, "a.txt", "b.txt", "inner/c.txt")
    assert contents(out) == before
    assert [path.name for path in out.iterdir() if path.is_dir()] == []


def test_a_folder_that_is_new_is_gone_where_it_could_not_be_filled(tmp_path: Path) -> None:
    with pytest.raises(rl.RequestError, match="cannot be written: is a directory"):
        fill(tmp_path / "a/b/c", "x", "made/", "made")
    assert not list(tmp_path.iterdir())


@pytest.mark.skipif(os.geteuid() != 0, reason="mounting needs rights")
@pytest.mark.parametrize("size", ["16k", "64k", "300k"])
def test_a_full_disk_leaves_the_folder_as_it_was(plan: Path, size: str) -> None:
    disk = plan.parent / "disk"
    disk.mkdir()
    mounted = subprocess.run(
        ["/bin/mount", "-t", "tmpfs", "-o", f"size={size}", "none", disk],
        check=False,
        capture_output=True,
    )
    if mounted.returncode:
        pytest.skip("nothing can be mounted here")
    try:
        (disk / "kept.txt").write_text("kept", "utf-8")
        result = run("preview", plan, "-o", disk)
        assert result.returncode == 2
        assert len(result.stderr.splitlines()) == 1
        assert "Traceback" not in result.stderr
        assert contents(disk) == {"kept.txt": b"kept"}
        assert run("trace", plan, "--every", "0.05", "-o", disk / "t.csv").returncode in {0, 2}
        assert not scratch_in(disk)
    finally:
        subprocess.run(["/bin/umount", disk], check=True)


def test_what_a_file_is_stays_when_it_is_written(tmp_path: Path) -> None:
    """Links, hard links and the mode; a read-only file is refused, a folder as well."""
    real, link, hard = tmp_path / "real.txt", tmp_path / "link.txt", tmp_path / "hard.txt"
    for target in (link, hard, real):
        with whole_file(real, force=True) as result:
            result.write_text("first", "utf-8")
        real.chmod(0o640)
        link.unlink(missing_ok=True)
        hard.unlink(missing_ok=True)
        link.symlink_to(real)
        hard.hardlink_to(real)
        inode = real.stat().st_ino
        with whole_file(target, force=True) as result:
            result.write_text("second, and longer", "utf-8")
        assert link.is_symlink()
        assert real.read_text("utf-8") == hard.read_text("utf-8") == "second, and longer"
        assert real.stat().st_ino == inode
        assert stat.S_IMODE(real.stat().st_mode) == 0o640
        real.chmod(0o444)
        with pytest.raises(rl.RequestError, match="read-only"), whole_file(real, is_own=True):
            pass
        real.unlink()
    with pytest.raises(rl.RequestError, match="is a folder"), whole_file(tmp_path):
        pass


def test_a_pipe_and_a_device_are_written_to(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    read: list[bytes] = []
    reader = threading.Thread(target=lambda: read.append(pipe.read_bytes()))
    reader.start()
    assert run("schema", "-o", pipe).returncode == 0
    reader.join()
    assert json.loads(read[0])["title"] == "A plan of Rising Lantern"
    assert stat.S_ISFIFO(pipe.stat().st_mode)
    assert run("schema", "-o", "/dev/null").returncode == 0
    assert stat.S_ISCHR(Path("/dev/null").stat().st_mode)
    assert json.loads(run_process("schema", "-o", "/dev/stdout").stdout)["title"]
    full = run("schema", "-o", "/dev/full")
    assert (full.returncode, full.stderr) == (
        2,
        "/dev/full cannot be written: no space left on device\n",
    )


@pytest.mark.parametrize("newline", ["\n", "\r\n"])
@pytest.mark.parametrize("mark", [b"", b"\xef\xbb\xbf"])
def test_tune_keeps_line_ends_and_the_byte_order_mark(
    folder: Path, newline: str, mark: bytes
) -> None:
    path = folder / "plan.yaml"
    path.write_bytes(mark + LATE.replace("\n", newline).encode())
    result = run("tune", path, "--write", "--only", "unreadable-part")
    assert result.returncode == 0, result.stderr
    written = path.read_bytes()
    assert written != mark + LATE.replace("\n", newline).encode()
    assert written.startswith(mark + b"rising-lantern")
    assert written.count(b"\r\n") == (written.count(b"\n") if newline == "\r\n" else 0)
    assert not {"unreadable-part"} & {item.rule for item in rl.check(rl.read(path))}


def test_names_of_outputs_cannot_collide(folder: Path) -> None:
    (folder / "plan.yaml").write_text(
        "rising-lantern: 1\n"
        "viewports: {b-c: 400x300, c: 300x400}\n"
        "pages: {a: {sections: {s: {height: 500px}}}, a-b: {sections: {s: {height: 900px}}}}\n",
        "utf-8",
    )
    (folder / "flick.csv").write_text("0,0\n0.3,100\n", "utf-8")
    plays = ("--play", "flick", "--play", "flick.csv", "--play", "flick")
    result = run("preview", "plan.yaml", "-o", "out", *plays, cwd=folder)
    assert result.returncode == 0, result.stderr
    for inner, count in (("filmstrips", 4), ("pages", 2), ("charts", 4), ("plays", 8)):
        files = [path for path in (folder / "out" / inner).iterdir() if path.is_file()]
        assert len([path for path in files if path.suffix not in {".css", ".js"}]) == count


def test_names_that_differ_by_case_alone_are_faults(folder: Path) -> None:
    (folder / "plan.yaml").write_text(
        "rising-lantern: 1\nviewports: {wide: 400x300, Wide: 300x400}\n"
        "pages: {visit: {sections: {s: {height: 9px}}}, Visit: {sections: {s: {height: 9px}}}}\n",
        "utf-8",
    )
    with pytest.raises(rl.PlanError) as result:
        rl.read(folder / "plan.yaml")
    assert [fault.problem for fault in result.value.faults] == [
        "'Wide' and 'wide' differ by case alone",
        "'Visit' and 'visit' differ by case alone",
    ]


SLOW = plan_text(
    viewports="laptop: 1000x600, phone: 390x844, tablet: 800x900",
    sections="a: {height: 9000px, layers: [{image: photo.png, filter: blur(9px), speed: 0.5}]}",
)


def started(folder: Path, *words: str) -> subprocess.Popen[str]:
    """A command on its way, once its scratch folder is there."""
    command = [sys.executable, "-m", "rising_lantern", *words]
    process = subprocess.Popen(
        command, cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    while process.poll() is None and not scratch_in(folder):
        time.sleep(0.01)
    return process


@pytest.fixture
def slow(folder: Path) -> Path:
    (folder / "plan.yaml").write_text(SLOW, "utf-8")
    return folder


SIGNALS = signal.SIGINT, signal.SIGTERM, signal.SIGHUP


@pytest.mark.parametrize(
    ("after", "words", "number"), some(product([0.0, 0.4], FOLDERS, SIGNALS), 4), ids=str
)
def test_a_command_that_is_asked_to_stop_leaves_nothing(
    slow: Path, words: tuple[str, ...], number: signal.Signals, after: float
) -> None:
    process = started(slow, *words, "-o", "out")
    time.sleep(after)
    process.send_signal(number)
    _, result = process.communicate(timeout=60)
    assert process.returncode == 128 + number
    assert "Traceback" not in result
    assert not (slow / "out").exists()
    assert not scratch_in(slow)


def test_what_a_killed_command_left_is_removed_by_the_next(slow: Path) -> None:
    process = started(slow, "preview", "plan.yaml", "-o", "out")
    while not any((folder / "made").is_dir() for folder in scratch_in(slow)):
        time.sleep(0.01)  # killed before that, it may be about to lock what it has made
    process.kill()
    process.communicate()
    assert scratch_in(slow)
    with scratch_folder(slow / "out") as used:
        assert len(scratch_in(slow)) == 1
        with scratch_folder(slow / "out"):
            assert used.is_dir()  # another one's, which is in use
    assert not scratch_in(slow)


def test_ctrl_c_is_heard_while_something_never_ends(folder: Path) -> None:
    """Also where a library computes without ever coming back to Python."""
    code = (
        "import sys, threading, time\n"
        "from rising_lantern.cli.stopping import stoppable\n"
        "from pathlib import Path\n"
        "from rising_lantern.outputs.folders import filled_folder\n"
        "with stoppable(), filled_folder(Path('out')):\n"
        "    while True:\n"
        "        try: print('busy', flush=True); time.sleep(60)\n"
        "        except BaseException: pass\n"
    )
    process = subprocess.Popen(
        [sys.executable, "-c", code], cwd=folder, stdout=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline() == "busy\n"
    process.send_signal(signal.SIGINT)
    try:
        process.communicate(timeout=60)
    finally:
        process.kill()
    assert process.returncode == 130
    assert not scratch_in(folder)


@pytest.fixture
def many(folder: Path) -> Iterator[Callable[..., subprocess.CompletedProcess[str]]]:
    """Runs commands of the line through a shell, for redirections."""

    def shell(line: str) -> subprocess.CompletedProcess[str]:
        line = line.replace("LANTERN", f"{sys.executable} -m rising_lantern")
        return subprocess.run(
            ["/bin/bash", "-c", line], cwd=folder, capture_output=True, text=True, check=False
        )

    (folder / "plan.yaml").write_text(PLAN, "utf-8")
    yield shell
    shutil.rmtree(folder, ignore_errors=True)


TRACE = "LANTERN trace plan.yaml --of layers --every 0.1"


@pytest.mark.parametrize(
    ("line", "status", "message"),
    some(
        [
            (f"{TRACE} > /dev/full", 2, "no space left on device\n"),
            ("LANTERN schema > /dev/full", 2, "no space left on device\n"),
            ("LANTERN --help > /dev/full", 2, "no space left on device\n"),
            (f"{TRACE} >&-", 2, "standard output is closed\n"),
            (f"{TRACE} | head -1 > /dev/null; exit ${{PIPESTATUS[0]}}", 141, ""),
            ("LANTERN check plan.yaml 2>&-", 0, ""),
            (
                "LANTERN check plan.yaml --quiet --fail-on warning <&-",
                1,
                "",
            ),
            ("LANTERN trace plan.yaml -o out.csv >&-", 2, "standard output is closed\n"),
            ("LANTERN trace plan.yaml -o out.csv --quiet >&-", 0, ""),
            (
                "ulimit -f 8; LANTERN trace plan.yaml --of layers -o out.csv",
                2,
                "out.csv cannot be written: file too large\n",
            ),
        ],
        2,
    ),
)
def test_each_way_to_end_has_its_status_and_at_most_one_line(
    many: Callable[..., subprocess.CompletedProcess[str]], line: str, status: int, message: str
) -> None:
    ended = many(line)
    assert (ended.returncode, ended.stderr) == (status, message)


def test_a_module_is_loaded_to_its_end_before_a_command_stops(tmp_path: Path) -> None:
    (tmp_path / "long.py").write_text(
        "import os, signal\nos.kill(os.getpid(), signal.SIGTERM)\nfor _ in range(10_000): pass\nwhole = True\n"
    )
    code = (
        "import time\nfrom rising_lantern.cli.stopping import Stopped, stoppable\n"
        "try:\n  with stoppable():\n    import long\n    time.sleep(30)\n"
        "except Stopped as stopped: print(long.whole, stopped.status)"
    )
    result = subprocess.run(
        [sys.executable, "-c", code], cwd=tmp_path, capture_output=True, text=True, check=True
    )
    assert result.stdout == f"True {128 + signal.SIGTERM}\n"


# --- files are what they are, wherever they lie ---------------------------------------------------

_ALL_FILES = [
    *FILES,
    ("tune", "plan.yaml", "--range", "pages.page.sections.a.height", "-o", "out.csv"),
]
_MEMORY = "/dev/shm"  # noqa: S108 - a file system that lies among devices
_ALL_FOLDERS = [
    *FOLDERS,
    ("export", "plan.yaml"),
    ("new", "plan.yaml"),
    pytest.param(("prove", "plan.yaml"), marks=pytest.mark.browser),
    pytest.param(("demo",), marks=thorough),
]


@pytest.mark.parametrize("command", _ALL_FILES, ids=lambda words: words[0])
@pytest.mark.parametrize("place", [_MEMORY, "/proc/self/cwd"])
def test_a_file_of_somebody_is_one_wherever_it_lies(
    plan: Path, command: tuple[str, ...], place: str
) -> None:
    folder = Path(place)
    if place == _MEMORY:
        if not folder.is_dir():
            pytest.skip("there is no memory file system")
        folder = Path(tempfile.mkdtemp(dir=place))
    words = [str(folder / item) if item == "out.csv" else item for item in command]
    real = (folder if place == _MEMORY else plan.parent) / "out.csv"
    try:
        real.write_text("mine", "utf-8")
        refused = run(*words, cwd=plan.parent)
        assert refused.returncode == 2, refused.stdout
        assert real.read_text("utf-8") == "mine"
        real.unlink()
        assert run(*words, cwd=plan.parent).returncode in {0, 1}
        assert real.stat().st_size > 0
        again = real.read_bytes()
        assert run(*words, cwd=plan.parent).returncode in {0, 1}
        assert real.read_bytes() == again
    finally:
        if place == _MEMORY:
            shutil.rmtree(folder)


@pytest.mark.parametrize("name", ["/dev/stdout", "/dev/fd/1", "/proc/self/fd/1"])
def test_standard_output_is_written_on_also_where_it_is_a_file(tmp_path: Path, name: str) -> None:
    """What the file holds already stays in front, as a shell's ``>>`` promises."""
    out, link = tmp_path / "all.txt", tmp_path / "link.json"
    out.write_text("before\n", "utf-8")
    link.symlink_to(name)
    for target in (name, str(link)):
        with out.open("ab") as opened:
            command = [sys.executable, "-m", "rising_lantern", "schema", "-o", target]
            assert subprocess.run(command, stdout=opened, check=False).returncode == 0
    text = out.read_text("utf-8")
    assert text.startswith("before\n{")
    assert text.count('"A plan of Rising Lantern"') == 2


@pytest.mark.parametrize("command", _ALL_FOLDERS, ids=lambda words: words[0])
def test_a_folder_by_another_name_keeps_what_is_somebody_s(
    plan: Path, command: tuple[str, ...]
) -> None:
    kind = command[0]
    out = plan.parent / "out"
    words = [*command, "-o", "/proc/self/cwd/out"]
    if kind in {"new", "demo"}:
        words = [kind, "/proc/self/cwd/out"]
    assert run(*words, cwd=plan.parent).returncode in {0, 1}
    changed = next(path for path in sorted(out.rglob("[!.]*.*")) if path.is_file())
    changed.write_text("mine", "utf-8")
    assert run(*words, cwd=plan.parent).returncode == 2
    assert changed.read_text("utf-8") == "mine"
