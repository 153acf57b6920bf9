#!/usr/bin/env python3
"""Writes seeds for the fuzzers: the examples, and small files of every kind. fuzz_seeds.py FOLDER"""
import pathlib
import struct
import sys
import zipfile

here = pathlib.Path(__file__).resolve().parent.parent
out = pathlib.Path(sys.argv[1])


def put(kind, name, data):
    folder = out / kind
    folder.mkdir(parents=True, exist_ok=True)
    (folder / name).write_bytes(data if isinstance(data, bytes) else data.encode())


quay = (here / "examples/saltmarrow-quay.json").read_text()
put("document", "quay.json", quay)
put("document", "empty.json", '{"format":"vicinal","version":4,"units":"mm","shownIn":"mm","nextId":1,"paths":[],"parts":[],"runs":[]}')
out.joinpath("document").mkdir(parents=True, exist_ok=True)
with zipfile.ZipFile(out / "document/empty.vicinal", "w") as z:
    z.writestr("document.json", (out / "document/empty.json").read_text())
put("svg", "shapes.svg", (here / "tests/exchange/shapes.svg").read_bytes())
put("svg", "nested.svg", '<svg width="10mm" viewBox="0 0 10 10"><g style="transform: rotate(3deg)"><svg x="1" y="1" width="5" height="5" '
    'viewBox="0 0 1 2" preserveAspectRatio="xMinYMax slice"><rect width="1" height="1" rx=".2"/></svg></g></svg>')
for n, d in enumerate(["M0 0L5 5h3v-2z", "M1,1a2-3 20 0110,5", "m0 0c1 1 2 2 3 0s4-4 5 0q1 1 2 0t3 3z"]):
    put("path-data", f"{n}", d)
put("csv", "levels.csv", (here / "examples/ramp-edge-levels.csv").read_bytes())
put("csv", "semicolon.csv", "x;y;z\n1,5;2;3\n4;5;6\n")
put("obj-lines", "lines.obj", "v 0 0 0\nv 1 0 0\nv 1 1 0\nl 1 2 3\nl -1 -3\n")
for n, t in enumerate(["2.4 m", "3/4 in", "6ft 2in", "1200/7", "(1+2)*3mm", "-1e3 cm", "45 deg"]):
    put("typed", f"{n}", t)
put("dxf", "quay.dxf", (here / "examples/quay-paths.dxf").read_bytes())
put("obj", "post.obj", (here / "examples/mooring-post.obj").read_bytes())
triangle = struct.pack("<12fH", 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0)
put("stl", "one.stl", b"\0" * 80 + struct.pack("<I", 1) + triangle)
put("stl", "text.stl", "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid a\n")
ply = "element vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n"
put("ply", "text.ply", "ply\nformat ascii 1.0\n" + ply + "0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n")
put("ply", "binary.ply", ("ply\nformat binary_little_endian 1.0\n" + ply).encode() + struct.pack("<9fB3i", 0, 0, 0, 1, 0, 0, 0, 1, 0, 3, 0, 1, 2))
buffer = struct.pack("<9f", 0, 0, 0, 1, 0, 0, 0, 1, 0)
text = ('{"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],"meshes":[{"primitives":[{"attributes":'
        '{"POSITION":0}}]}],"buffers":[{"byteLength":36}],"bufferViews":[{"buffer":0,"byteLength":36}],"accessors":[{"bufferView":0,'
        '"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}]}').encode()
text += b" " * (-len(text) % 4)
put("glb", "one.glb", b"glTF" + struct.pack("<II", 2, 12 + 8 + len(text) + 8 + len(buffer)) + struct.pack("<I", len(text)) + b"JSON" + text
    + struct.pack("<I", len(buffer)) + b"BIN\0" + buffer)
