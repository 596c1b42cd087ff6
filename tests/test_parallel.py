"""Work that is shared: the same results, in the same order, however many share it."""

from __future__ import annotations

import os
import pickle
import pty
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run, run_process
from doubling import Deadly, broken, doubled, named, survived
from plans import MakePlan
from rising_lantern.checks.running import rules
from rising_lantern.jobs import cluster as cluster_module
from rising_lantern.jobs.job import Job
from rising_lantern.jobs.sharing import shared
from rising_lantern.plan.files.parcels import Parcels, packed, unpacked
from rising_lantern.readers.own_screens import CheckTask
from thorough import some

_SECTIONS = (
    "a: {height: 700px, layers: [{image: photo.png, speed: 0.4}], content: [{text: Afloat, size: 60px, color: '#ddd'}]}, "
    "b: {height: 900px, background: '#fed', content: [{text: Ashore, color: '#ccc'}]}"
)
PLAN = f"""rising-lantern: 1
viewports: {{laptop: 1000x600, phone: 390x844}}
headers:
  main: {{color: white, height: 70px, parts: {{menu: {{text: Programme}}, brand: {{image: logo-dark.png}}}}}}
pages:
  demo: {{sections: {{{_SECTIONS}}}}}
  more: {{path: /more-of-it, sections: {{{_SECTIONS}}}}}
  last: {{sections: {{c: {{height: 40px}}}}}}
"""


@pytest.fixture
def plan(folder: Path) -> Path:
    path = folder / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


@pytest.mark.parametrize("jobs", [None, 1, 2, 3])
def test_results_come_in_order_for_any_number_of_processes(jobs: int | None) -> None:
    assert list(shared(doubled, range(20), jobs)) == [2 * item for item in range(20)]
    assert list(shared(doubled, [], jobs)) == []


@pytest.mark.parametrize("jobs", [1, 2])
def test_what_is_raised_by_a_process_is_raised_here(jobs: int) -> None:
    results = shared(doubled, [1, 2, -1, 3], jobs)
    assert [next(results), next(results)] == [2, 4]
    with pytest.raises(rl.PlanError) as raised:
        next(results)
    assert raised.value.faults[0].place.line == 3


def test_a_mistake_of_ours_in_another_process_is_not_hidden() -> None:
    with pytest.raises(ZeroDivisionError):
        list(shared(broken, range(4), 2))


def test_many_items_come_in_order_and_nothing_is_begun_far_ahead(tmp_path: Path) -> None:
    """Also where the others have done all that may be begun, and wait."""
    items = [(str(tmp_path), index) for index in range(300)]
    for index, result in enumerate(shared(named, items, 3)):
        assert result == index
        assert len(list(tmp_path.iterdir())) <= index + 70


def test_a_number_of_processes_is_checked(plan: Path) -> None:
    for jobs in (0, 257):
        with pytest.raises(rl.RequestError, match="1 to 256 processes"):
            rl.check(rl.read(plan), jobs=jobs)
    assert run("check", plan, "--jobs", "0").returncode == 2
    both = run("check", plan, "--jobs", "2", "--cluster", "tcp://127.0.0.1:9")
    assert (both.returncode, "not both" in both.stderr) == (2, True)


COMMANDS = (
    "preview plan.yaml -o out --viewport phone --findings",
    "check plan.yaml --fail-on note",
    "check plan.yaml --format json",
    "export plan.yaml -o out",
    "compare plan.yaml --vary headers.main.height=60px,80px -o out --viewport phone",
    "tune plan.yaml --only unreadable-content --page demo --viewport phone",
)


@pytest.mark.parametrize("line", some(COMMANDS, 3))
def test_a_command_writes_the_same_for_any_number_of_processes(plan: Path, line: str) -> None:
    written: list[tuple[int, str, str, dict[str, bytes]]] = []
    for jobs in ("1", "2", "4"):
        out = plan.parent / "out"
        shutil.rmtree(out, ignore_errors=True)
        result = run(*line.split(), "--jobs", jobs, cwd=plan.parent)
        files = {str(path.relative_to(out)): path.read_bytes() for path in out.rglob("*.*")}
        written.append((result.returncode, result.stdout, result.stderr, files))
    assert written[0] == written[1] == written[2]
    assert written[0][1]


def test_a_process_is_given_one_page_only(plan: Path) -> None:
    loaded = rl.read(plan)
    work = Job(loaded.file, "more", "phone", CheckTask(tuple(rules()), silenced=True))
    sent = pickle.loads(pickle.dumps(work))  # noqa: S301 - our own
    assert sent.plan.pages == ("more",)
    assert list(sent.plan.files.pictures) == ["logo-dark.png", "photo.png"]
    assert sent.run() == work.run() != []


def test_a_parcel_holds_its_pictures_and_fonts(
    make_plan: MakePlan, folder: Path, tmp_path_factory: pytest.TempPathFactory
) -> None:
    plan = make_plan(PLAN)
    work = Job(plan.file, "demo", "laptop", CheckTask(tuple(rules()), silenced=True))
    expected = work.run()
    parcel = packed(work)
    shutil.move(folder / "photo.png", tmp_path_factory.mktemp("away") / "photo.png")
    received = unpacked(parcel)
    assert folder not in received.plan.files.pictures["photo.png"].path.parents
    assert received.run() == expected != []


def test_a_file_is_sent_to_each_worker_once(make_plan: MakePlan, folder: Path) -> None:
    plan = make_plan(PLAN)
    work = Job(plan.file, "demo", "laptop", CheckTask(tuple(rules()), silenced=True))
    parcels = Parcels(2)
    sizes = [len(parcels.pack(work)) for _ in range(4)]
    content = sum((folder / name).stat().st_size for name in ("photo.png", "logo-dark.png"))
    assert sizes[0] == sizes[1] > content
    assert sizes[2] == sizes[3] <= sizes[0] - content
    # To a worker that has none of them, as one that has come later.
    lacking = (
        "import sys; from rising_lantern.plan.files.parcels import MissingFileError, unpacked\n"
        "try: unpacked(sys.stdin.buffer.read())\n"
        "except MissingFileError: print('missing')"
    )
    asked = subprocess.run(
        [sys.executable, "-c", lacking], input=parcels.pack(work), capture_output=True, check=True
    )
    assert asked.stdout.split() == [b"missing"]


def test_pages_that_are_alike_are_checked_once(make_plan: MakePlan) -> None:
    plan = make_plan(PLAN)
    findings = rl.check(plan)
    assert {finding.pages for finding in findings if finding.rule == "unreadable-content"} == {
        ("demo", "more")
    }
    own = rl.check(plan, "more")
    assert {finding.pages for finding in own if finding.rule == "unreadable-content"} == {("more",)}
    assert {item.message for item in own} == {
        item.message for item in findings if "more" in item.pages
    }
    silence = "check: {silence: [{rule: unreadable-content, page: more, reason: Being rewritten}]}"
    apart = rl.check(make_plan(f"{PLAN}{silence}\n"), silenced=True)
    assert {item.pages: item.silenced for item in apart if item.rule == "unreadable-content"} == {
        ("demo",): None,
        ("more",): "Being rewritten",
    }


def test_pages_that_are_alike_on_one_screen_only_are_named_there_only(folder: Path) -> None:
    own = PLAN.replace(
        "path: /more-of-it,", "path: /more-of-it, for: {phone: {background: '#ffe'}},"
    )
    (folder / "plan.yaml").write_text(own, "utf-8")
    lines = run("check", "plan.yaml", "--only", "unreadable-content", cwd=folder).stdout
    assert "demo, more on laptop" in lines
    assert "demo on phone" in lines
    assert "more on phone" in lines
    assert "demo, more on laptop, phone" not in lines


def test_ctrl_c_reaches_this_process_only(tmp_path: Path) -> None:
    """Whichever of them a terminal sends it to, and however early."""
    code = (
        "import os, sys, doubling; from rising_lantern.jobs.sharing import shared;"
        "found = shared(doubling.hears_ctrl_c, 8 * [sys.argv[1]], 2);"
        "print(sorted({(process == os.getpid(), hears) for process, hears in found}))"
    )
    support = str(Path(__file__).parent / "support")
    ended = subprocess.run(
        [sys.executable, "-c", code, str(tmp_path)],
        capture_output=True,
        check=True,
        text=True,
        env={**os.environ, "PYTHONPATH": support},
    )
    assert ended.stdout.strip() == "[(False, False), (True, True)]"


def test_ctrl_c_ends_with_what_is_known(site: Path) -> None:
    """In a terminal, where all processes get the signal; nothing of theirs is printed."""
    pid, screen = pty.fork()
    if pid == 0:
        os.execv(  # noqa: S606 - the command line in a terminal of its own
            sys.executable,
            [
                sys.executable,
                "-m",
                "rising_lantern",
                "check",
                str(site / "regatta.yaml"),
                "--jobs=2",
            ],
        )
    shown = b""
    with suppress(OSError):
        while piece := os.read(screen, 65_536):
            shown += piece
            if b"lanterns on tablet" in shown and b"^C" not in shown:
                os.write(screen, b"\x03")
    _, status = os.waitpid(pid, 0)
    os.close(screen)
    assert os.waitstatus_to_exitcode(status) == 130
    text = shown.decode()
    assert "do not keep a fixed picture fixed" in text  # of the page before
    assert "Traceback" not in text
    assert "Warning" not in text


# --- a cluster -----------------------------------------------------------------------------------


@contextmanager
def _ended(processes: list[subprocess.Popen[bytes]]) -> Iterator[None]:
    try:
        yield
    finally:
        for process in processes:
            process.kill()
            process.wait()


def _dask(*words: str) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", "distributed.cli." + words[0], *words[1:]]
    return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def _free_port() -> int:
    with socket.socket() as asked:
        asked.bind(("127.0.0.1", 0))
        return int(asked.getsockname()[1])


@pytest.fixture
def cluster(tmp_path: Path) -> Iterator[tuple[str, list[subprocess.Popen[bytes]]]]:
    """A real scheduler with two workers, on the loopback address."""
    port = _free_port()
    address = f"tcp://127.0.0.1:{port}"
    processes = [
        _dask("dask_scheduler", "--host", "127.0.0.1", "--port", str(port), "--no-dashboard")
    ]
    with _ended(processes):
        for name in ("one", "two"):
            folder = str(tmp_path / name)
            own = ("--nthreads", "1", "--no-dashboard", "--no-nanny", "--local-directory", folder)
            processes.append(_dask("dask_worker", address, *own))
        yield address, processes[1:]


def test_a_cluster_finds_the_same_also_where_a_worker_is_killed(
    site: Path, cluster: tuple[str, list[subprocess.Popen[bytes]]]
) -> None:
    address, workers = cluster
    plan = rl.read(site / "regatta.yaml")
    pages = ("visit", "journal")
    expected = list(rl.iter_check(plan, pages, silenced=True, jobs=1))
    found = rl.iter_check(plan, pages, silenced=True, jobs=address)
    result = [next(found)]
    workers[0].send_signal(signal.SIGKILL)
    assert [*result, *found] == expected


def test_a_cluster_exports_and_tunes_the_same(
    plan: Path,
    cluster: tuple[str, list[subprocess.Popen[bytes]]],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    address, _ = cluster
    loaded = rl.read(plan)
    assert rl.export(loaded, jobs=address).files == rl.export(loaded, jobs=1).files
    # Workers that have none of the files are sent them.
    monkeypatch.setattr(cluster_module, "Parcels", lambda _: Parcels(0))
    only = ("unreadable-content",)
    assert rl.tune(loaded, "demo", only=only, jobs=address) == rl.tune(
        loaded, "demo", only=only, jobs=1
    )


@pytest.mark.parametrize("address", ["nonsense", "http://127.0.0.1:80", "tcp://127.0.0.1"])
def test_a_wrong_address_of_a_cluster_is_refused(plan: Path, address: str) -> None:
    result = run("check", plan, "--cluster", address)
    assert result.returncode == 2
    assert "is not an address such as tcp://10.0.0.2:8786" in result.stderr


def test_a_cluster_that_does_not_answer_is_reported(plan: Path) -> None:
    address = f"tcp://127.0.0.1:{_free_port()}"
    result = run_process("check", plan, "--cluster", address)
    assert result.returncode == 2
    assert f"no Dask scheduler answers at {address}" in result.stderr
    assert "Traceback" not in result.stderr


@pytest.mark.parametrize("scheme", ["tcp", "tls"])
def test_an_address_that_says_nothing_is_given_up_after_ten_seconds(scheme: str) -> None:
    with socket.socket() as silent:
        silent.bind(("127.0.0.1", 0))
        silent.listen(5)
        address = f"{scheme}://127.0.0.1:{silent.getsockname()[1]}"
        start = time.perf_counter()
        said = "no Dask scheduler answers" if scheme == "tcp" else "needs certificates"
        with pytest.raises(rl.RequestError, match=said):
            list(shared(doubled, [1], address))
        assert time.perf_counter() - start < 20


# --- processes that are killed --------------------------------------------------------------------


@pytest.mark.parametrize("deadly", ["second", "third", "fifth"])
def test_work_on_which_a_process_was_killed_is_done_again(tmp_path: Path, deadly: str) -> None:
    items = [Deadly(name, str(tmp_path), int(name == deadly), deadly) for name in _NAMES]
    assert list(shared(survived, items, 2)) == _NAMES


def test_work_that_always_ends_its_process_is_one_message(tmp_path: Path) -> None:
    items = [Deadly(name, str(tmp_path), 99 if name == "third" else 0, "third") for name in _NAMES]
    results = shared(survived, items, 2)
    assert [next(results), next(results)] == _NAMES[:2]
    with pytest.raises(rl.RequestError, match="works on the page 'third' is ended again"):
        next(results)


_NAMES = ["first", "second", "third", "fourth", "fifth"]


def test_workers_end_soon_after_a_command_that_was_killed(tmp_path: Path) -> None:
    program = (
        "import sys; from rising_lantern.jobs.sharing import shared; from doubling import slept;"
        "list(shared(slept, [sys.argv[1]] * 4, 2))"
    )
    support = str(Path(__file__).parent / "support")
    process = subprocess.Popen(
        [sys.executable, "-c", program, str(tmp_path)], env={**os.environ, "PYTHONPATH": support}
    )
    try:
        _until(lambda: len(list(tmp_path.glob("pid.*"))) == 2, 60)
    finally:
        process.kill()
        process.wait()
    workers = [int(path.suffix[1:]) for path in tmp_path.glob("pid.*")]
    _until(lambda: not any(map(_is_running, workers)), 30)


def _until(holds: Callable[[], bool], seconds: float) -> None:
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end
        time.sleep(0.1)


def _is_running(pid: int) -> bool:
    status = Path(f"/proc/{pid}/stat")
    try:
        return status.read_text("utf-8").rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False
