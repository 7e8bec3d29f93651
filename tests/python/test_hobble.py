"""The Python module as a pipeline uses it. Run by the test runner, which says where the module and the demo are."""

import gc
import os
import re
import resource
import shutil
import subprocess
import sys
import threading
from pathlib import Path

import numpy as np
import pytest

import hobble

SOURCE = Path(__file__).parents[2]
DEMO = SOURCE / "demo" / "data"
ELBOW = ["left-elbow-flex", "right-elbow-flex"]


@pytest.fixture(scope="module")
def badger():
    return hobble.open(str(DEMO / "builds" / "3" / "badger-postmaster.glb"))


@pytest.fixture(scope="module")
def run(badger):
    return badger.run(badger.plan(singles=True).only(ELBOW))


@pytest.fixture(scope="module")
def small(tmp_path_factory):
    """A character that opens in no time: a box that hangs from two joints."""
    path = tmp_path_factory.mktemp("small") / "box.gltf"
    subprocess.run([sys.executable, str(Path(__file__).with_name("write_box.py")), str(path)], check=True)
    return path


def test_what_it_is(badger):
    assert badger.name == "badger-postmaster" and len(badger.build) == 64
    assert 0.5 < badger.height < 2
    elbow = next(j for j in badger.joints if j.words == "left elbow")
    assert elbow.role == "elbow" and elbow.side == "left" and elbow.confidence > 0.5
    assert badger.joints[elbow.parent].role in ("shoulder", "twist")
    assert any(j.parent is None for j in badger.joints)
    checks = badger.inspect()
    assert all(1 <= c.severity <= 4 and c.sentence for c in checks)
    assert [c.severity for c in checks] == sorted((c.severity for c in checks), reverse=True)


def test_arrays_are_the_characters_own(badger):
    for name, dtype in [("positions", np.float32), ("triangles", np.uint32), ("weight_first", np.uint32),
                        ("weight_joint", np.uint16), ("weight", np.float32)]:
        one, two = getattr(badger, name), getattr(badger, name)
        assert one.dtype == dtype and not one.flags.owndata and not one.flags.writeable
        assert one.__array_interface__["data"][0] == two.__array_interface__["data"][0]
        with pytest.raises(ValueError):
            one[0] = 0
    assert badger.positions.shape[1] == badger.triangles.shape[1] == 3
    assert badger.triangles.max() < len(badger.positions)
    first, weight = badger.weight_first.astype(np.int64), badger.weight
    assert len(first) == len(badger.positions) + 1 and first[-1] == len(weight) == len(badger.weight_joint)
    held = np.add.reduceat(weight, first[:-1][np.diff(first) > 0])
    assert np.allclose(held, 1, atol=1e-5)


def test_an_array_outlives_its_character(small):
    positions = hobble.open(str(small)).positions
    gc.collect()
    assert positions.shape == (8, 3) and np.abs(positions).max() <= 2


def test_poses_are_the_command_lines(badger, tmp_path):
    neutral = badger.pose({})
    assert neutral.flags.writeable and np.allclose(neutral, badger.positions, atol=1e-6)
    posed = badger.pose({"forearm.L": (0, 0, 60)})
    out = tmp_path / "posed.obj"
    subprocess.run([os.environ["HOBBLE_CLI"], "pose", badger.file, "--set", "forearm.L=0,0,60", "--out", str(out)],
                   check=True, stderr=subprocess.DEVNULL)
    written = np.array([line.split()[1:4] for line in out.read_text().splitlines() if line.startswith("v ")], float)
    assert np.allclose(written, posed, atol=1e-5)
    moved = np.linalg.norm(posed - neutral, axis=1) > 1e-4
    assert 0 < moved.mean() < 0.2
    with pytest.raises(hobble.Error, match="no joint nobody"):
        badger.pose({"nobody": (0, 0, 0)})
    with pytest.raises(hobble.Error, match="method"):
        badger.pose({}, method="magic")


def test_plan_and_run(badger, run, tmp_path):
    plan = badger.plan()
    assert len(plan) == len(plan.motions) > 100 and plan.coverage > 0.9 and plan.poses > 500
    assert plan.motions[0].steps[0] == 0 and plan.motions[0].limit == max(plan.motions[0].steps, key=abs)
    plan.save(str(tmp_path / "plan.json"))
    assert badger.read_plan(str(tmp_path / "plan.json")).poses == plan.poses
    with pytest.raises(hobble.Error, match="no motion"):
        plan.only(["dance"])
    assert not run.stopped and run.seconds > 0 and run.coverage < 0.9
    assert run.worst == max(f.severity for f in run.faults)
    for fault in run.faults:
        assert fault.signs[0].sentence and fault.sentence and fault.joint
    for finding in run.findings:
        assert finding.motion in ELBOW or finding.kind == "one-sided" or finding.motion
        assert finding.vertices.max(initial=0) < len(badger.positions)
    data = run.json()
    assert data["format"] == "hobble-run" and len(data["faults"]) == len(run.faults)
    assert [f["sentence"] for f in data["faults"]] == [f.sentence for f in run.faults]


def test_a_run_is_told_of_and_stopped(badger):
    told = []

    def enough(done, of):
        told.append((done, of))
        return False if done > 3 else None

    assert badger.run(badger.plan(singles=True), progress=enough).stopped
    assert told[0][0] < told[-1][0] <= told[-1][1]

    def fails(done, of):
        raise KeyError("mine")

    with pytest.raises(KeyError, match="mine"):
        badger.run(badger.plan(singles=True), progress=fails)


def test_cures(run, tmp_path):
    cures = next(c for c in (f.cure() for f in run.faults) if c)
    best = cures[0]
    assert best.steps and best.sentence and best.gone > 0.1
    out = tmp_path / "mended.glb"
    best.save(str(out))
    mended = hobble.open(str(out))
    assert len(mended.joints) >= 1 and mended.build != run.json()["character"]["hash"]


def test_the_log(run, badger, tmp_path):
    place = tmp_path / "log.sqlite"
    shutil.copy(DEMO / "demo-log.sqlite", place)
    log = hobble.Log(str(place))
    defects = log.defects("badger-postmaster")
    assert defects and all("severity" in d for d in defects)
    assert log.defects("nobody") == []
    log.enter(run, key="once")
    log.enter(run, key="once")
    answer = log.check(run, author="a test")
    assert answer["format"] == "hobble-check"
    with pytest.raises(hobble.Error):
        hobble.Log("/proc/nowhere/log.sqlite")
    # from another thread, too
    got = []
    thread = threading.Thread(target=lambda: got.append(len(log.defects("badger-postmaster"))))
    thread.start()
    thread.join()
    assert got == [len(defects)]


def test_what_goes_wrong_is_said(tmp_path):
    with pytest.raises(hobble.Error, match="nowhere.glb"):
        hobble.open("nowhere.glb")
    bad = tmp_path / "bad.glb"
    bad.write_bytes(b"glTF" + bytes(range(200)))
    with pytest.raises(hobble.Error, match="bad.glb"):
        hobble.open(str(bad))
    assert issubclass(hobble.Error, RuntimeError)


def test_other_formats_are_read_apart():
    model = Path("/usr/share/assimp/models/FBX/close_to_identity_transforms.fbx")
    if not model.exists():
        pytest.skip("no such model here")
    try:
        hobble.open(str(model))
    except hobble.Error as said:  # whatever it says, it says it of the file
        assert model.name in str(said)


def test_other_threads_go_on(badger):
    """The interpreter's lock is let go: this thread counts while the core works in another."""
    plan = badger.plan(singles=True).only(ELBOW)
    begins, ended, counted = threading.Event(), threading.Event(), 0

    def work():
        begins.set()
        badger.run(plan, threads=1)
        ended.set()

    thread = threading.Thread(target=work)
    thread.start()
    begins.wait()
    while not ended.is_set():
        counted += 1
        if counted % 1000 == 0:
            thread.join(0.001)
    thread.join()
    assert counted > 5000  # held, it would be let in once, at the start


def test_two_threads_at_once(badger, run):
    """The same character, read by two: the same answers."""
    plan, got = badger.plan(singles=True).only(ELBOW), []
    threads = [threading.Thread(target=lambda: got.append([f.sentence for f in badger.run(plan).faults])) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert got[0] == got[1] == [f.sentence for f in run.faults]


def test_a_thousand_opens_leak_nothing(small):
    def open_some(times):
        for _ in range(times):
            character = hobble.open(str(small))
            character.pose({})
            character.positions.sum()

    def pages():
        return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize()

    open_some(200)
    gc.collect()
    before = pages()
    open_some(1000)
    gc.collect()
    assert pages() - before < 8e6


def test_stubs_are_what_is_there():
    env = dict(os.environ, MYPYPATH=os.environ["PYTHONPATH"])
    said = subprocess.run([sys.executable, "-m", "mypy.stubtest", "hobble", "--allowlist",
                           str(Path(__file__).with_name("stubs_may_differ.txt"))],
                          env=env, capture_output=True, text=True)
    assert said.returncode == 0, said.stdout + said.stderr


def test_the_documents_example(tmp_path):
    text = (SOURCE / "docs" / "python.md").read_text()
    examples = re.findall(r"```python\n(.*?)```", text, re.S)
    assert len(examples) >= 3
    script = tmp_path / "example.py"
    script.write_text("\n".join(examples))
    shutil.copy(DEMO / "builds" / "3" / "badger-postmaster.glb", tmp_path)
    shutil.copy(DEMO / "demo-log.sqlite", tmp_path / "team.sqlite")
    subprocess.run([sys.executable, str(script)], cwd=tmp_path, check=True)
    checked = subprocess.run([sys.executable, "-m", "mypy", "--ignore-missing-imports", str(script)], cwd=tmp_path,
                             env=dict(os.environ, MYPYPATH=os.environ["PYTHONPATH"]), capture_output=True, text=True)
    assert checked.returncode == 0, checked.stdout
