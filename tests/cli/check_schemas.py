"""check_schemas.py HOBBLE_CLI CHARACTER SCHEMA_FOLDER: what the command line writes fits its published schemas."""
import json
import os
import shutil
import subprocess
import sys
import tempfile

import jsonschema

cli, character, folder = sys.argv[1:]
with tempfile.TemporaryDirectory() as out:
    plan, run = os.path.join(out, "plan.json"), os.path.join(out, "run.json")
    subprocess.run([cli, "plan", character, "--out", plan], check=True)
    subprocess.run([cli, "run", character, "--json", run, "--quiet"], check=True)
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
    subprocess.run([cli, "log", "export", "--log", copy, "--what", "log", "--out", whole], check=True)
    documents = {"plan": json.load(open(plan)), "run": json.load(open(run)), "limits": json.load(open(limits)),
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
for name in ("truth", "drivers", "pose", "variants", "joint-map"):
    with open(os.path.join(folder, name + ".schema.json")) as f:
        jsonschema.Draft7Validator.check_schema(json.load(f))
