"""Writes a small skinned character as glTF: a box, its lower half held by one joint and its upper by another."""

import base64
import json
import struct
import sys

corners = [(x, y, z) for y in (0.0, 1.0) for z in (-0.5, 0.5) for x in (-0.5, 0.5)]
faces = [0, 1, 3, 0, 3, 2, 4, 6, 7, 4, 7, 5, 0, 4, 5, 0, 5, 1, 2, 3, 7, 2, 7, 6, 0, 2, 6, 0, 6, 4, 1, 5, 7, 1, 7, 3]
blobs = [
    (b"".join(struct.pack("<3f", *c) for c in corners), 5126, "VEC3", 8),
    (b"".join(struct.pack("<4B", int(y), 0, 0, 0) for _, y, _ in corners), 5121, "VEC4", 8),
    (b"".join(struct.pack("<4f", 1, 0, 0, 0) for _ in corners), 5126, "VEC4", 8),
    (struct.pack("<36H", *faces), 5123, "SCALAR", 36),
]
data, views, accessors = b"", [], []
for bytes_, kind, shape, count in blobs:
    views.append({"buffer": 0, "byteOffset": len(data), "byteLength": len(bytes_)})
    accessors.append({"bufferView": len(views) - 1, "componentType": kind, "type": shape, "count": count})
    data += bytes_
accessors[0].update(min=[-0.5, 0, -0.5], max=[0.5, 1, 0.5])
json.dump(
    {
        "asset": {"version": "2.0"},
        "buffers": [{"byteLength": len(data), "uri": "data:application/octet-stream;base64," + base64.b64encode(data).decode()}],
        "bufferViews": views,
        "accessors": accessors,
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0, "JOINTS_0": 1, "WEIGHTS_0": 2}, "indices": 3}]}],
        "nodes": [{"name": "lower", "children": [1]}, {"name": "upper", "translation": [0, 0.5, 0]}, {"mesh": 0, "skin": 0}],
        "skins": [{"joints": [0, 1]}],
        "scenes": [{"nodes": [0, 2]}],
        "scene": 0,
    },
    open(sys.argv[1], "w"),
)
