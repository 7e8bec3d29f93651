"""check_schemas.py HOBBLE_CLI CHARACTER SCHEMA_FOLDER: what the command line writes fits its published schemas."""
import json
import os
import shutil
import subprocess
import sys
import tempfile

import jsonschema
import lxml.etree

cli, character, folder = sys.argv[1:]
junit = lxml.etree.XMLSchema(file=os.path.join(folder, "junit.xsd"))


def suites_of(path):
    """The suites of a test report, whose counts are those of its cases."""
    tree = lxml.etree.parse(path)
    junit.assertValid(tree)
    suites = list(tree.iter("testsuite"))
    for suite in suites:
        assert int(suite.get("tests")) == len(suite.findall("testcase")) > 0
        for count, outcome in ("failures", "failure"), ("errors", "error"), ("skipped", "skipped"):
            assert int(suite.get(count, 0)) == len(suite.findall("testcase/" + outcome)), (path, count)
    assert not junit.validate(lxml.etree.fromstring('<testsuites><testsuite name="x"><testcase name="y"/></testsuite></testsuites>'))
    return suites


with tempfile.TemporaryDirectory() as out:
    # what the runner's other tests have measured in this round, or nothing
    cache = os.environ.get("HOBBLE_TESTS_MEASURED", os.path.join(out, "cache"))
    plan, run = os.path.join(out, "plan.json"), os.path.join(out, "run.json")
    subprocess.run([cli, "plan", character, "--out", plan], check=True)
    show = [character.replace("badger-postmaster.glb", name + ".bvh") for name in ("long-limbed", "badger-postmaster")]
    entry, entered = os.path.join(out, "entry.json"), os.path.join(out, "entered.sqlite")
    subprocess.run([cli, "run", character, "--cache", cache, "--clips", *show, "--meetings", "--json", run, "--quiet", "--log-entry", entry,
                    "--log-key", "a key"], check=True)
    with open(os.path.join(folder, "log-entry.schema.json")) as f:
        jsonschema.validate(json.load(open(entry)), json.load(f))
    for _ in range(2): # entered once
        subprocess.run([cli, "log", "enter", "--log", entered, entry], check=True)
    asked = subprocess.run([cli, "log", "check", "--log", entered, "--json"], check=True, capture_output=True).stdout
    assert json.loads(asked)["runs"] == 1 and not json.loads(asked)["problems"]
    assert subprocess.run([cli, "log", "enter", "--log", entered, run]).returncode == 3 # no entry
    exposure, wall = os.path.join(out, "exposure.json"), os.path.join(out, "show.json")
    subprocess.run([cli, "exposure", character, "--clips", *show, "--json", exposure, "--quiet"], check=True)
    clip = os.path.join(out, "clip.json")
    own = character.replace("badger-postmaster.glb", "long-limbed.bvh")
    subprocess.run([cli, "take-clip", character, "--from", own, "--stress", "5", "--beyond", "apart", "--out", clip], check=True)
    with open(os.path.join(folder, "plan.schema.json")) as f: # poses, shapes and frames of a clip
        jsonschema.validate(json.load(open(clip)), json.load(f))
    limits = os.path.join(out, "limits.json")
    subprocess.run([cli, "limits", "--out", limits], check=True)
    naming, intake = os.path.join(out, "naming.json"), os.path.join(out, "intake-limits.json")
    subprocess.run([cli, "naming", character, "--out", naming], check=True)
    subprocess.run([cli, "intake-limits", "--out", intake], check=True)
    inspect = subprocess.run([cli, "inspect", character, "--json"], check=True, capture_output=True).stdout
    log = os.path.join(os.path.dirname(character), "demo-log.sqlite")
    copy, whole = os.path.join(out, "log.sqlite"), os.path.join(out, "log.json")
    shutil.copy(log, copy)
    os.chmod(copy, 0o600)
    shown = subprocess.run([cli, "log", "show", "--log", copy, "3", "--json"], check=True, capture_output=True).stdout
    subprocess.run([cli, "show", "--log", copy, "--json", wall, "--html", os.path.join(out, "show.html")], check=True)
    subprocess.run([cli, "log", "export", "--log", copy, "--what", "log", "--out", whole], check=True)
    builds = os.path.join(os.path.dirname(character), "builds")
    two, three = (os.path.join(builds, n, "badger-postmaster.glb") for n in "23")
    compared, checked = (os.path.join(out, n) for n in ("compare.json", "check.json"))
    subprocess.run([cli, "compare", two, three, "--singles", "--cache", cache, "--json", compared, "--quiet"], check=True)
    subprocess.run([cli, "check", three, "--log", copy, "--singles", "--cache", cache, "--json", checked, "--junit", checked + ".xml",
                    "--fail-at", "0", "--quiet"], check=True)
    assert len(suites_of(checked + ".xml")) == 1
    trial, weights = os.path.join(out, "trial.json"), os.path.join(out, "weights.json")
    subprocess.run([cli, "weights", character, "--json", weights], check=True)
    cures = os.path.join(out, "cures.json")
    newt = character.replace("badger-postmaster", "lighthouse-newt") # a small mesh
    subprocess.run([cli, "cure", newt, "--fault", "1", "--json", cures, "--quiet"])
    listed = {"format": "hobble-batch", "characters": [
        {"file": newt, "name": "newt", "fail-at": 2}, {"file": "missing.glb"}]}
    with open(os.path.join(out, "list.json"), "w") as f:
        json.dump(listed, f)
    batched = subprocess.run([cli, "batch", os.path.join(out, "list.json"), "--out", os.path.join(out, "batch"), "--singles"])
    assert batched.returncode == 3 # one is missing, and the other was tested
    batch = json.load(open(os.path.join(out, "batch", "batch.json")))
    assert [c["state"] for c in batch["characters"]] == ["unreadable", "tested"]
    assert os.path.exists(os.path.join(out, "batch", batch["characters"][1]["report"]))
    assert [int(s.get("errors")) for s in suites_of(os.path.join(out, "batch", "junit.xml"))] == [0, 1]
    steps = {"format": "hobble-trial", "version": 1, "name": "elbow", "locked": ["head"], "steps": [
        {"step": "soften", "count": 3, "place": {"reach": "forearm.L"}},
        {"step": "fill", "by": "add", "joint": "forearm.L", "amount": 0.1, "strength": 0.5, "on": False,
         "place": {"path": [[0.4, 1.2, 0]], "radius": 0.1, "along": False}},
        {"step": "from neighbours", "place": {"vertices": [1, 2, 3]}}]}
    documents = {"batch": batch, "exposure": json.load(open(exposure)), "show": json.load(open(wall)), "trial": steps, "cures": json.load(open(cures)), "weights": json.load(open(weights)),
                 "compare": json.load(open(compared)), "check": json.load(open(checked)),
                 "plan": json.load(open(plan)), "run": json.load(open(run)), "limits": json.load(open(limits)),
                 "inspect": json.loads(inspect), "naming": json.load(open(naming)),
                 "intake-limits": json.load(open(intake)), "defects": json.loads(shown), "log": json.load(open(whole))}
for name, document in documents.items():
    with open(os.path.join(folder, name + ".schema.json")) as f:
        schema = json.load(f)
    jsonschema.Draft7Validator.check_schema(schema)
    jsonschema.validate(document, schema)
    # and a schema that accepts anything would prove nothing
    broken = dict(document, version=99)
    try:
        jsonschema.validate(broken, schema)
        sys.exit(name + ": a wrong version was accepted")
    except jsonschema.ValidationError:
        print(name, "fits its schema")

recipes = os.path.join(folder, "..", "..", "demo", "recipes")
with open(os.path.join(folder, "recipe.schema.json")) as f:
    schema = json.load(f)
jsonschema.Draft7Validator.check_schema(schema)
for name in sorted(os.listdir(recipes)):
    with open(os.path.join(recipes, name)) as f:
        jsonschema.validate(json.load(f), schema)
    print(name, "fits the recipe schema")
with open(os.path.join(folder, "batch-list.schema.json")) as f:
    jsonschema.validate(listed, json.load(f))
for name in ("batch-list", "truth", "drivers", "pose", "variants", "joint-map"):
    with open(os.path.join(folder, name + ".schema.json")) as f:
        jsonschema.Draft7Validator.check_schema(json.load(f))
