#!/usr/bin/env python3
"""Writes the demo document of Saltmarrow Quay (an invented harbour; every name and figure is made up) and the files it can be
brought in from. Run from anywhere; the results are committed, so it is only needed after a change here."""
import json
import math
import pathlib

root = pathlib.Path(__file__).resolve().parent.parent / "examples"


def points(rows, smooth=True):
    return [{"at": list(map(float, r)), "smooth": smooth} for r in rows]


ramp = [(0, 0, 0), (1450, 330, 120), (2750, 520, 230), (3720, 40, 320), (4420, -900, 420), (5480, -1320, 510), (6560, -1200, 600)]
boardwalk = [(-6200, 1900, 0), (-3600, 1300, 0), (-900, 1500, 0), (1900, 3000, 0), (4900, 4100, 0), (8000, 3500, 0), (11300, 700, 0), (13200, 400, 0)]


def run(number, name, colour, path, part, spacing, facing):
    base = {"rule": "even out", "measure": "c/c", "pitch": 120.0, "leftOver": "end", "count": 12, "ends": "at ends", "about": 120.0,
            "insetStart": 0.0, "insetEnd": 0.0, "slide": 0.0}
    return {"id": number, "name": name, "colour": colour, "path": path, "part": part, "spacing": {**base, **spacing},
            "facing": {"nose": "along", "crown": "plumb", "corner": "bisector", "turn": [0.0, 0.0, 0.0], **facing}, "leftOut": []}


def seat(box, nose="+x", crown="+z"):
    return {"point": {"box": box}, "nose": nose, "crown": crown}


document = {
    "format": "vicinal", "version": 1, "units": "mm", "shownIn": "mm", "nextId": 7,
    "paths": [
        {"id": 1, "name": "Ramp edge", "closed": False, "knotting": "centripetal", "points": points(ramp)},
        {"id": 2, "name": "Boardwalk line", "closed": False, "knotting": "centripetal", "points": points(boardwalk)},
    ],
    "parts": [
        {"id": 3, "name": "Baluster 20", "shape": {"kind": "baluster", "width": 20.0, "depth": 20.0, "height": 1000.0}, "seat": seat([0, 0, -1])},
        {"id": 4, "name": "Plank 145", "shape": {"kind": "plank", "length": 1400.0, "width": 145.0, "thickness": 28.0}, "seat": seat([0, 0, -1])},
    ],
    "runs": [
        run(5, "Ramp balustrade", 0, 1, 3, {"about": 120.0, "gapAtMost": 99.0, "insetStart": 60.0, "insetEnd": 60.0}, {}),
        run(6, "Boardwalk planks", 1, 2, 4, {"measure": "clear gap", "about": 6.0, "gapAtLeast": 4.0, "gapAtMost": 8.0,
                                             "insetStart": 72.5, "insetEnd": 72.5}, {"crown": "upright"}),
    ],
}
(root / "saltmarrow-quay.json").write_text(json.dumps(document, indent=1) + "\n")

# The ramp's edge as a surveyor would send it, in metres.
(root / "ramp-edge-levels.csv").write_text("x,y,z\n" + "".join(f"{x / 1000:.3f},{y / 1000:.3f},{z / 1000:.3f}\n" for x, y, z in ramp))

# A mooring post with a chamfered top, metres, drawn with its foot centre at the origin.
r, h, top = 0.09, 0.82, 0.06
ring = [(math.cos(k * math.pi / 6), math.sin(k * math.pi / 6)) for k in range(12)]
vertices = [(r * c, r * s, 0) for c, s in ring] + [(r * c, r * s, h) for c, s in ring] + [(top * c, top * s, h + 0.04) for c, s in ring]
faces = []
for level in (0, 12):
    faces += [(level + k, level + (k + 1) % 12, level + 12 + (k + 1) % 12, level + 12 + k) for k in range(12)]
lines = ["# Mooring post, Saltmarrow Quay (made up)"] + [f"v {x:.6f} {y:.6f} {z:.6f}" for x, y, z in vertices]
lines += ["f " + " ".join(str(i + 1) for i in f) for f in faces]
lines += ["f " + " ".join(str(k + 1) for k in reversed(range(12))), "f " + " ".join(str(24 + k + 1) for k in range(12))]
(root / "mooring-post.obj").write_text("\n".join(lines) + "\n")
