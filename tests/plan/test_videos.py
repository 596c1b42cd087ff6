"""Videos that a plan names: what is known of them, and what is refused."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.plan.files import videos
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.videos import find_video
from videos import write_sound, write_video

SECTION = "a: {{height: 500px, layers: [{{{}}}]}}, b: {{height: 900px}}"


def text_with(layer: str) -> str:
    """A plan with a layer."""
    return plan_text(sections=SECTION.format(layer))


@pytest.mark.parametrize("name", ["river.webm", "river.mp4"])
def test_a_video_is_known_by_its_frames(folder: Path, name: str) -> None:
    write_video(folder / name, 50, rate=25)
    picture = find_video(folder, name)
    assert (picture.width, picture.height, picture.frames) == (320, 180, 50)
    assert picture.clip is not None
    assert picture.clip.seconds == pytest.approx(2, abs=0.01)
    assert np.allclose(picture.clip.times, np.arange(50) / 25, atol=0.002)
    assert picture.clip.is_whole
    # It runs again and again.
    for second in (0.0, 0.5, 1.99, 2.0, 7.1):
        frame = picture.clip.frame_at(second)
        assert frame == pytest.approx(second % 2 * 25, abs=1.01)


def test_each_frame_is_the_one_of_its_second(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 40, level=lambda index: 20 + 5 * index)
    view = make_plan(text_with("video: river.webm")).view()
    for second in (0.0, 0.52, 1.3, 1.97, 2.6):
        shown = np.asarray(view.frame(0, second=second))[400, 500]
        assert shown == pytest.approx(20 + 5 * (int(second * 20 + 1e-6) % 40), abs=3), second
    first = np.asarray(view.frame(0))
    assert (np.asarray(view.showing(second=2.0).frame(0)) == first).all()
    assert (np.asarray(view.showing(slide=40).frame(0)) == first).all()


def test_a_poster_stands_until_the_video_runs(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 10)
    text = text_with("video: river.webm, poster: photo.png")
    view = make_plan(text.replace("pages:", "pause: false\npages:")).view()
    alone = make_plan(text_with("image: photo.png")).view()
    assert (view.pixels(100) == alone.pixels(100)).all()
    assert [layer.name for layer in view.showing(second=0).scene.box.layers()] == ["river.webm"]
    with pytest.raises(rl.RequestError, match="a time"):
        view.showing(second=float("nan"))


def test_of_a_long_video_some_frames_are_looked_at_which_is_said(
    make_plan: MakePlan, folder: Path
) -> None:
    write_video(folder / "long.webm", 150, rate=2, size=(64, 36), options={"g": "10"})
    plan = make_plan(text_with("video: long.webm"))
    picture = plan.file.files.pictures["long.webm"]
    assert picture.clip is not None
    assert picture.clip.seconds == pytest.approx(75, abs=0.1)
    assert picture.frames == 15
    (remark,) = plan.remarks
    assert remark.problem == ("'long.webm' is 75 s long: one of its frames is looked at every 5 s")
    assert "cut it to 60 s" in remark.remedy


def test_a_video_that_lies_on_its_side_is_shown_upright(folder: Path) -> None:
    import av  # noqa: PLC0415

    write_video(folder / "flat.mp4", 4)
    with av.open(str(folder / "flat.mp4")) as source, av.open(str(folder / "tall.mp4"), "w") as out:
        stream = out.add_stream_from_template(source.streams.video[0])
        stream.set_display_rotation(90)
        for packet in source.demux(source.streams.video[0]):
            if packet.dts is not None:
                packet.stream = stream
                out.mux(packet)
    picture = find_video(folder, "tall.mp4")
    assert (picture.width, picture.height) == (180, 320)


@pytest.mark.parametrize(
    ("layer", "problem", "remedy"),
    [
        ("video: photo.png", "'photo.png' is not a WebM or MP4 video", "WebM (VP8, VP9, AV1)"),
        ("image: river.webm", "'river.webm' cannot be read as a picture", "PNG"),
        ("video: nowhere.webm", "there is no file 'nowhere.webm'", ""),
        ("video: ../river.webm", "is outside the plan's folder", ""),
        ("video: empty.webm", "'empty.webm' is not a WebM or MP4 video", ""),
        ("video: cut.webm", "'cut.webm' cannot be read as a video", "save it"),
        ("video: sound.webm", "it has no pictures in it", "save it"),
        ("video: list.mp4", "'list.mp4' is not a WebM or MP4 video", ""),
        ("video: noise.mp4", "'noise.mp4' cannot be read as a video", ""),
        ("poster: photo.png, fill: red", "'poster' needs a video", "name it under 'video'"),
        ("video: river.webm, image: photo.png", "has several of image, slides, video", "one"),
        ("video: river.webm, repeat: repeat", "a video is not repeated", "remove 'repeat'"),
        ("video: river.webm, every: 4s", "'every' needs several slides", ""),
    ],
)
def test_what_is_no_video_is_refused(folder: Path, layer: str, problem: str, remedy: str) -> None:
    write_video(folder / "river.webm", 6)
    data = (folder / "river.webm").read_bytes()
    (folder / "empty.webm").touch()
    (folder / "cut.webm").write_bytes(data[:40])
    write_sound(folder / "sound.webm")
    # A list of other files: what it names is never opened.
    (folder / "list.mp4").write_text("#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n", "utf-8")
    noise = np.random.default_rng(1).integers(0, 256, 5000, dtype=np.uint8).tobytes()
    (folder / "noise.mp4").write_bytes(b"\0\0\0\x18ftypmp42" + noise)
    (folder / "plan.yaml").write_text(text_with(layer), "utf-8")
    with pytest.raises(rl.PlanError) as raised:
        rl.read(folder / "plan.yaml")
    faults = [f"{fault.problem}; {fault.remedy}" for fault in raised.value.faults]
    assert any(problem in fault and remedy in fault for fault in faults), faults


@pytest.mark.parametrize(
    ("form", "codec", "said"),
    [
        ("webm", "libvpx", None),
        ("webm", "libvpx-vp9", None),
        ("webm", "libsvtav1", None),
        ("mp4", "libx264", None),
        ("mp4", "libsvtav1", None),
        ("matroska", "libvpx-vp9", "is a Matroska file, which is no WebM"),
        ("mov", "libx264", "is a QuickTime file, which is no MP4"),
        ("mp4", "libx265", "is coded as hevc"),
        ("mp4", "mpeg4", "is coded as mpeg4"),
        ("mp4", "libvpx-vp9", "is coded as vp9"),
    ],
)
@pytest.mark.parametrize("ending", [".webm", ".mp4"])
def test_what_is_in_a_file_counts_and_not_its_name(
    folder: Path, ending: str, form: str, codec: str, said: str | None
) -> None:
    write_video(folder / f"river{ending}", 3, kind=(form, codec), size=(128, 96))
    if said is None:
        assert find_video(folder, f"river{ending}").frames == 3
        return
    with pytest.raises(FileFault, match=said) as raised:
        find_video(folder, f"river{ending}")
    assert raised.value.remedy == "save it as WebM (VP8, VP9, AV1) or MP4 (H.264, AV1)"


def test_a_plan_may_name_a_file_as_a_video_only(folder: Path) -> None:
    """Also where both stand in one plan."""
    write_video(folder / "river.webm", 6)
    layers = "video: river.webm}, {image: river.webm}, {video: photo.png}, {image: photo.png"
    (folder / "plan.yaml").write_text(text_with(layers), "utf-8")
    with pytest.raises(rl.PlanError) as raised:
        rl.read(folder / "plan.yaml")
    assert len(raised.value.faults) == 2


def test_a_video_of_which_the_end_is_missing_is_shown_or_reported(folder: Path) -> None:
    write_video(folder / "river.webm", 60, level=lambda index: 3 * index)
    data = (folder / "river.webm").read_bytes()
    for share in (0.3, 0.6, 0.9):
        (folder / "cut.webm").write_bytes(data[: int(len(data) * share)])
        (folder / "plan.yaml").write_text(text_with("video: cut.webm"), "utf-8")
        try:
            view = rl.read(folder / "plan.yaml").view()
            view.frame(0, second=2.9)
        except rl.PlanError as error:
            assert "cut.webm" in str(error)  # noqa: PT017 - either is right


def test_without_the_package_it_is_said_what_to_install(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_video(folder / "river.webm", 6)
    monkeypatch.setattr(videos, "find_spec", lambda _: None)
    (folder / "plan.yaml").write_text(text_with("video: river.webm"), "utf-8")
    with pytest.raises(rl.PlanError, match=r"install rising-lantern\[video\]"):
        rl.read(folder / "plan.yaml")


def test_commands_show_a_second(folder: Path) -> None:
    write_video(folder / "river.webm", 40, level=lambda index: 20 + 5 * index)
    header = "height: 60px, color: white, parts: {menu: {text: Boats}}"
    text = plan_text(header=header, sections=SECTION.format("video: river.webm"))
    (folder / "plan.yaml").write_text(text, "utf-8")

    def contrast(*words: str) -> float:
        printed = run("trace", "plan.yaml", "--every", "2000", *words, cwd=folder).stdout
        head, row, *_ = (line.split(",") for line in printed.splitlines())
        return float(dict(zip(head, row, strict=True))["contrast"])

    assert contrast() == contrast("--second", "0")
    # The light square is behind the menu at first, then the water gets lighter and lighter.
    assert contrast("--second", "1.9") < contrast("--second", "1") < contrast("--second", "0.5")
    assert run("trace", "plan.yaml", "--second", "-1", cwd=folder).returncode == 2
    sizes = []
    for words in ((), ("--second", "1.5")):
        run("preview", "plan.yaml", "-o", "out", "--force", *words, cwd=folder)
        sizes.append((folder / "out/filmstrips/page.laptop.png").read_bytes())
    assert sizes[0] != sizes[1]
