#!/usr/bin/env python3
"""Writes the demo document of Saltmarrow Quay (an invented harbour; every name and figure is made up) and the files it can be
brought in from. Run from anywhere; the results are committed, so it is only needed after a change here."""
import json
import math
import pathlib
import subprocess

root = pathlib.Path(__file__).resolve().parent.parent / "examples"


def points(rows, smooth=True):
    return [{"at": list(map(float, r)), "smooth": smooth} for r in rows]


ramp = [(0, 0, 0), (1450, 330, 120), (2750, 520, 230), (3720, 40, 320), (4420, -900, 420), (5480, -1320, 510), (6560, -1200, 600)]
boardwalk = [(-6200, 1900, 0), (-3600, 1300, 0), (-900, 1500, 0), (1900, 3000, 0), (4900, 4100, 0), (8000, 3500, 0), (11300, 700, 0), (13200, 400, 0)]


# The quay's edge as in quay-paths.dxf (layer QUAY-EDGE), moved to where the harbour has it.
qx, qy = -4000.0, -6500.0


def at(x, y, z=0.0):
    return [qx + x, qy + y, z]


quay = [
    {"line": [at(0, 0), at(4000, 0)]},
    {"arc": {"centre": at(4000, 1000), "x": [0.0, -1.0, 0.0], "y": [1.0, 0.0, 0.0], "radius": 1000.0, "sweep": math.pi / 2}},
    {"line": [at(5000, 1000), at(5000, 3000)]},
    {"line": [at(5000, 3000), at(8000, 3000)]},
    {"arc": {"centre": at(8000, 4500), "x": [0.0, -1.0, 0.0], "y": [1.0, 0.0, 0.0], "radius": 1500.0, "sweep": math.pi / 2}},
]


def recipe(number, name, kind, **values):
    return {"id": number, "name": name, "recipe": {"kind": kind, **values}}


def placed(x, y, z, plane="plan", turn=0.0):
    return {"at": [float(x), float(y), float(z)], "plane": plane, "turn": turn, "tilt": 0.0}


def wheel(name, x, y, radius, teeth, inside=True):
    return {"name": name, "centre": [float(x), float(y)], "radius": float(radius), "teeth": teeth, "inside": inside}


def run(number, name, colour, path, part, spacing, facing):
    out = {"id": number, "name": name, "colour": colour, "path": path, "part": part, "spacing": spacing}
    return {**out, "facing": facing} if facing else out  # what is left out takes its default


def delivery(number, name, kind, form, what, fields=None, **values):
    out = {"id": number, "name": name, "as": kind, "format": form, "what": what, "values": values}
    if not what:
        del out["what"]
    if fields:
        out["fields"] = fields
    return out


def seat(box, nose="+x", crown="+z"):
    return {"point": {"box": box}, "nose": nose, "crown": crown}


def own(nose="+x", crown="+z"):
    return {"point": {"at": [0.0, 0.0, 0.0]}, "nose": nose, "crown": crown}


def piece(name, shape, x=0.0, y=0.0, z=0.0, turn=(0.0, 0.0, 0.0)):
    return {"name": name, "shape": shape, "at": [x, y, z], "turn": list(turn), "size": 1.0, "mirrored": False}


document = {
    "format": "vicinal", "version": 4, "units": "mm", "shownIn": "mm", "nextId": 26,
    "paths": [
        {"id": 1, "name": "Ramp edge", "closed": False, "knotting": "centripetal", "points": points(ramp)},
        {"id": 2, "name": "Boardwalk line", "closed": False, "knotting": "centripetal", "points": points(boardwalk)},
        {"id": 7, "name": "Quay edge", "closed": False, "source": "quay-paths.dxf", "segments": quay},
        recipe(8, "Lamp line", "offset", source=7, distance=300.0, corners="round"),
        recipe(9, "Winch loop", "wheels", **placed(7600, -3300, 700, "front"), chainPitch=25.4, closed=True, crossed=False,
               wheels=[wheel("Drum", 0, 0, 150, 38), wheel("Motor", 700, -100, 70, 17), wheel("Idler", 390, 190, 60, 15)]),
        recipe(10, "Mooring swag", "swag", **{"from": [-3000.0, -6200.0, 820.0], "to": [-400.0, -6200.0, 820.0]}, by="sag", amount=420.0),
        recipe(11, "Drain outline", "rectangle", **placed(3800, -5400, 0), width=900.0, height=600.0, radius=90.0),
        recipe(12, "Drain holes", "offset", source=11, distance=60.0, corners="round"),
        recipe(13, "Drain spiral", "helix", **placed(3800, -5400, 0), radius=40.0, radiusTop=190.0, by="turns", turns=3.0, height=0.0, leftHanded=False),
    ],
    "parts": [
        {"id": 3, "name": "Baluster 20", "seat": seat([0, 0, -1]), "density": 7850.0,
         "shape": {"kind": "baluster", "section": "square", "width": 20.0, "depth": 20.0, "height": 1000.0, "top": "flat"}},
        {"id": 4, "name": "Plank 145", "seat": seat([0, 0, -1]), "density": 650.0,
         "shape": {"kind": "plank", "length": 1400.0, "width": 145.0, "thickness": 28.0}},
        {"id": 14, "name": "Lamp on its slab", "seat": own(), "shape": {"kind": "pieces", "list": [
            piece("Lamp", {"kind": "bollard lamp", "height": 900.0, "diameter": 150.0, "foot": 230.0, "footThickness": 18.0, "ring": 90.0}),
            piece("Slab", {"kind": "tile", "length": 340.0, "width": 340.0, "thickness": 60.0, "radius": 30.0}, z=-60.0)]}},
        # From a STEP file that was drawn y-up, 4 m from its origin: the seat puts it right.
        {"id": 19, "name": "Fairlead", "seat": seat([0, -1, 0], "+z", "+y"), "density": 7200.0,
         "shape": {"kind": "solid", "asset": "fairlead.step", "source": "fairlead.step", "scale": 1.0}},
        {"id": 20, "name": "Drain hole 18", "seat": own(), "shape": {"kind": "round hole", "diameter": 18.0, "depth": 20.0}},
    ],
    "runs": [
        run(5, "Ramp balustrade", 0, 1, 3, {"about": 120.0, "gapAtMost": 99.0, "insetStart": 60.0, "insetEnd": 60.0}, {}),
        # Straight planks run into one another on the inside of bends: the true gaps say so, and somebody answers for it.
        {**run(6, "Boardwalk planks", 1, 2, 4, {"measure": "clear gap", "about": 6.0, "gapAtLeast": 4.0, "gapAtMost": 8.0,
                                                "insetStart": 72.5, "insetEnd": 72.5}, {"crown": "upright"}),
         "checks": [{"check": "gap", "least": 4.0, "excused": [
             {"part": 4, "otherPart": 4, "why": "planks are tapered on site where the line bends", "by": "M. Tollan", "on": "2026-11-20"}]}]},
        run(15, "Quay lights", 4, 8, 14, {"rule": "share out", "count": 9, "insetStart": 400.0, "insetEnd": 400.0}, {}),
        run(16, "Quay fairleads", 2, 7, 19, {"rule": "share out", "count": 6, "ends": "half a pitch in"}, {}),
        run(17, "Drain cover holes", 3, 12, 20, {"about": 58.0, "gapAtLeast": 30.0}, {}),
    ],
    "deliveries": [
        delivery(21, "Drain cover template", "template", "pdf", [17, 11, 13]),
        delivery(22, "Boardwalk cut list", "schedule", "ods", [6], of="parts"),
        delivery(23, "Ramp drawing", "drawing", "pdf", [5], unrolled=True, gaps=True,
                 fields=[["Site", "Saltmarrow Quay"], ["Drawn by", "M. Tollan"], ["Part of", "Ramp to the boardwalk"], ["Number", "SQ-014"]]),
        delivery(24, "Quay lights", "solids", "step", [15, 8]),
        delivery(25, "Quay in lines", "picture", "svg", [], of="lines", heading=math.radians(-60), pitch=math.radians(30)),
    ],
}
(root / "saltmarrow-quay.json").write_text(json.dumps(document, indent=1) + "\n")

# A second corner of the harbour, for the rules: bays, sequences, aims, grading, unevenness, echoes, rows, links.
def keys(*all, smooth=False, stretches=False):
    return {"keys": [list(map(float, k)) for k in all], "smooth": smooth, "stretches": stretches}


def maker(number, name, kind, density=0.0, nose="+x", **values):
    out = {"id": number, "name": name, "shape": {"kind": kind, **values}, "seat": own(nose)}
    return {**out, "density": density} if density else out


landing = [(0, 0, 0), (3600, 0, 0), (3600, 2400, 0), (6200, 2400, 0)]
promenade = [(-2500, -3200, 0), (500, -2600, 0), (3800, -3300, 0), (7200, -2300, 0), (10200, -2700, 0)]
ebb = [(-2000, -6200, 0), (800, -5600, 0), (3200, -6700, 300), (6000, -6900, 300), (9500, -5600, 0)]
rules = {
    "format": "vicinal", "version": 5, "units": "mm", "shownIn": "mm",
    "paths": [
        {"id": 1, "name": "Landing edge", "points": points(landing, smooth=False)},
        {"id": 2, "name": "Promenade", "points": points(promenade)},
        {"id": 3, "name": "Ebb line", "points": points(ebb)},
        {"id": 4, "name": "Kerb line", "points": points([(-2500, -4300, 0), (1500, -3900, 0), (6000, -4400, 0), (10000, -3900, 0)])},
        recipe(5, "Drain rim", "circle", **placed(8600, 400, 0), radius=260.0),
        recipe(6, "Cradle track", "wheels", **placed(8200, 3600, 300, "front"), chainPitch=0.0, closed=True, crossed=False,
               wheels=[wheel("Drive", 0, 0, 260, 0), wheel("Idler", 1900, 0, 260, 0)]),
    ],
    "parts": [
        maker(20, "Post 90", "post", 7850.0, height=1100.0),
        maker(21, "Spindle 16", "baluster", 7850.0, section="round", width=16.0, height=1000.0),
        maker(22, "Plank 145", "plank", 650.0, length=1400.0, width=145.0, thickness=28.0),
        maker(23, "Hatch", "plank", 2700.0, length=1400.0, width=145.0, thickness=60.0),
        maker(24, "Lamp", "bollard lamp", height=900.0, diameter=150.0, foot=230.0, footThickness=18.0, ring=90.0),
        maker(25, "Lamp, tall head", "bollard lamp", height=1250.0, diameter=150.0, foot=230.0, footThickness=18.0, ring=160.0),
        maker(26, "Ebb arrow", "arrow", length=180.0, width=90.0, shaft=34.0, head=80.0, thickness=6.0),
        maker(27, "Kerb dash", "dash", length=120.0, width=24.0, thickness=6.0),
        maker(28, "Arrow head", "arrow", length=240.0, width=150.0, shaft=30.0, head=200.0, thickness=6.0),
        maker(29, "Bollard", "cylinder", 7200.0, diameter=180.0, height=620.0),
        maker(30, "Drain hole 14", "round hole", diameter=14.0, depth=20.0),
        maker(31, "Track plate", "tread plate", 7850.0, pitch=120.0, width=300.0, plate=14.0, eye=36.0, eyeHole=18.0, grouser=25.0,
              grouserThickness=12.0),
    ],
    "runs": [
        run(40, "Landing posts", 5, 1, 20, {"rule": "even out", "about": 1250.0, "bays": "corners"}, {}),
        run(41, "Landing spindles", 0, 1, 21, {"rule": "even out", "about": 95.0, "measure": "clear gap", "gapAtMost": 99.0,
                                               "bays": "run", "bayRun": 40}, {}),
        {**run(42, "Promenade planks", 1, 2, 22, {"rule": "even out", "about": 7.0, "measure": "clear gap", "insetStart": 72.5,
                                                  "insetEnd": 72.5}, {"crown": "upright"}),
         "uneven": {"unevenAcross": 12.0, "unevenTurn": 0.012, "seed": 4},
         "exceptions": [{"place": 31, "part": 23}]},
        {**run(43, "Promenade lamps", 4, 2, 24, {"rule": "share out", "count": 10, "ends": "half a pitch in"},
               {"nose": "at target", "target": [3800.0, -9000.0, 0.0]}),
         "sequence": {"every": 3, "everyPart": 25}, "changes": {"across": keys((0, 950))}},
        {**run(44, "Ebb arrows", 2, 3, 26, {"rule": "graded", "pitches": keys((0, 260), (11000, 620), smooth=True), "insetStart": 200.0,
                                            "insetEnd": 400.0}, {"crown": "upright"}),
         "changes": {"size": keys((0, 0.8), (11500, 2.0)), "roll": keys((3000, 0.0), (6000, 0.6), (9000, 0.0), smooth=True)}},
        {**run(45, "Kerb dashes", 3, 4, 27, {"rule": "even out", "about": 300.0, "insetStart": 60.0, "insetEnd": 160.0},
               {"crown": "upright"}), "sequence": {"lastPart": 28}},
        {**run(46, "Kerb bollards", 5, 4, 29, {"rule": "step off", "pitch": 2000.0, "leftOver": "both"}, {}),
         "rows": {"rows": 2, "rowsApart": -700.0}},
        {**run(47, "Drain holes", 3, 5, 30, {"rule": "share out", "count": 24}, {}),
         "echoes": {"echo": "in a line", "echoAlong": [1.0, 0.0, 0.0], "echoCount": 3, "echoBy": 700.0}},
        {**run(48, "Cradle track", 2, 6, 31, {"rule": "pin to pin"}, {"nose": "between pins", "crown": "outward"}),
         "echoes": {"echo": "mirrored", "echoAt": [0.0, 4200.0, 0.0], "echoAlong": [0.0, 1.0, 0.0]}},
    ],
}
(root / "saltmarrow-rules.json").write_text(json.dumps(rules, indent=1) + "\n")

# A third one, for drives: chains and belts that close because something gives way.
def sprocket(name, x, y, teeth, **more):
    return {**wheel(name, x, y, 100, teeth), "body": "sprocket", **more}


def rim(name, x, y, radius, body="plain", **more):
    return {**wheel(name, x, y, radius, 0), "body": body, **more}


def box(length, width, height):
    return {"kind": "box", "length": length, "width": width, "height": height}


def vehicle(number, name, apart, pieces, under=None, density=0.0):
    out = {"id": number, "name": name, "shape": {"kind": "pieces", "list": pieces},
           "seat": {**own(), "pins": [[-apart / 2, 0.0, 0.0], [apart / 2, 0.0, 0.0]]}}
    if under:
        out["under"] = under
    return {**out, "density": density} if density else out


drives = {
    "format": "vicinal", "version": 5, "units": "mm", "shownIn": "mm",
    "paths": [
        recipe(1, "Winch loop", "wheels", **placed(0, 0, 700, "front"), chainPitch=25.4, roller=15.88, below=0.0, closed=True, crossed=False,
               wheels=[sprocket("Drum", 0, 0, 38, hub=120.0, bore=50.0), sprocket("Motor", 700, -100, 17, hub=60.0, bore=25.0),
                       sprocket("Idler", 390, 190, 15)]),
        recipe(2, "Belt loop", "wheels", **placed(1900, 900, 520, "front"), chainPitch=0.0, roller=0.0, below=25.0, closed=True, crossed=False,
               wheels=[rim("Tail", 0, 0, 260, "drum", width=320.0), rim("Foot", 900, -160, 150, width=280.0),
                       rim("Knee", 1700, -160, 150, width=280.0), rim("Head", 2500, 300, 260, "drum", width=320.0)]),
        recipe(3, "Mooring swag", "swag", **{"from": [-3900.0, -1500.0, 820.0], "to": [-1300.0, -1500.0, 820.0]}, by="sag", amount=420.0),
        {"id": 4, "name": "Slipway line", "points": [
            {"at": [-5200.0, -3600.0, -500.0], "smooth": False}, {"at": [-400.0, -3600.0, -140.0], "smooth": False, "fillet": 5200.0},
            {"at": [4200.0, -5800.0, 120.0], "smooth": False, "fillet": 5200.0}, {"at": [8600.0, -5800.0, 240.0], "smooth": False}]},
        recipe(5, "Hoist loop", "wheels", **placed(-2300, 700, 1150, "front"), chainPitch=25.4, roller=15.88, below=0.0, closed=True, crossed=False,
               hangs=2, hangsBy="sag", hang=80.0,
               wheels=[sprocket("Hoist", 0, 0, 38, hub=90.0, bore=40.0), sprocket("Hand wheel", 1311, 90, 30, hub=80.0, bore=30.0)]),
    ],
    "parts": [
        maker(10, "Inner link 25.4", "roller link", 7850.0, plates="inner"),
        maker(11, "Outer link 25.4", "roller link", 7850.0, plates="outer"),
        maker(12, "Tread plate 120", "tread plate", 7850.0, pitch=120.0, width=300.0, plate=14.0, eye=36.0, eyeHole=18.0, grouser=25.0,
              grouserThickness=12.0),
        maker(13, "Studded link 64", "round link", 7850.0, bar=16.0, insideLength=64.0, insideWidth=26.0, studded=True, stud=10.0),
        maker(14, "Bollard", "cylinder", 7200.0, diameter=180.0, height=860.0),
        maker(15, "Slip sleeper", "sleeper", 760.0, length=1500.0, width=200.0, height=130.0, gauge=900.0, seatWidth=110.0, seatDepth=10.0, railHead=50.0),
        vehicle(16, "Bogie", 460.0, [
            piece("Frame", box(760.0, 700.0, 90.0), z=120.0), piece("Bolster", box(220.0, 900.0, 80.0), z=205.0),
            *[piece("Wheel", {"kind": "cylinder", "diameter": 190.0, "height": 60.0}, x, y - 30.0, 95.0, turn=[-math.pi / 2, 0.0, 0.0])
              for x in (-230.0, 230.0) for y in (-450.0, 450.0)]]),
        vehicle(17, "Boat cradle", 1700.0, [
            piece("Keel beam", box(2700.0, 260.0, 160.0), z=285.0), piece("Cross beam, aft", box(180.0, 1400.0, 140.0), -850.0, 0.0, 445.0),
            piece("Cross beam, fore", box(180.0, 1400.0, 140.0), 850.0, 0.0, 445.0),
            *[piece("Arm", box(160.0, 120.0, 620.0), x, y, 585.0) for x in (-850.0, 850.0) for y in (-620.0, 620.0)]], [16, 16], 7850.0),
        vehicle(18, "Winch car", 900.0, [
            piece("Deck", box(1700.0, 1100.0, 120.0), z=285.0), piece("Winch house", box(900.0, 800.0, 620.0), -200.0, 0.0, 405.0)], [16, 16], 7850.0),
    ],
    "runs": [
        {**run(20, "Winch drive", 2, 1, 10, {"rule": "pin to pin"}, {"crown": "outward"}),
         "sequence": {"steps": [{"part": 10}, {"part": 11}]}, "gives": {"gives": "wheel", "giveWheel": 3},
         "motion": {"moves": True, "speed": 150.0}},
        {**run(21, "Hauling belt", 1, 2, 12, {"rule": "pin to pin", "jointTurn": 0.7}, {"crown": "outward"}),
         "gives": {"gives": "wheel", "giveWheel": 4, "giveHeading": 0.0},
         "motion": {"moves": True, "motionBy": "places", "placesASecond": 2.0}},
        {**run(22, "Mooring chain", 3, 3, 13, {"rule": "pin to pin"}, {"crown": "carried", "turnStep": [1.5707963267948966, 0.0, 0.0], "turnEvery": 2}),
         "gives": {"gives": "value", "giveValue": "amount"}},
        {**run(23, "Slipway sleepers", 5, 4, 15, {"rule": "even out", "about": 520.0, "insetStart": 150.0, "insetEnd": 150.0}, {"crown": "upright"}),
         "changes": {"up": keys((0, -60))}},
        {**run(24, "Cradle train", 0, 4, 17, {"rule": "coupled", "vehicles": 2, "coupling": 320.0, "swing": math.radians(20), "insetStart": 900.0, "insetEnd": 300.0},
               {"nose": "between pins", "crown": "upright"}),
         "sequence": {"steps": [{"part": 17}, {"part": 18}]},
         "motion": {"moves": True, "speed": 700.0, "motionWay": "to and fro", "stops": [3200.0], "dwell": 2.0, "ramp": 800.0}},
        {**run(25, "Hoist chain", 2, 5, 10, {"rule": "pin to pin"}, {"crown": "outward"}),
         "sequence": {"steps": [{"part": 10}, {"part": 11}]}, "gives": {"gives": "value", "giveValue": "hang", "giveCount": 138},
         "motion": {"moves": True, "speed": 100.0}},
    ],
    "deliveries": [delivery(26, "Winch belt tape", "tape", "pdf", [21], height=22.0)],
}
(root / "saltmarrow-drives.json").write_text(json.dumps(drives, indent=1) + "\n")

# A fourth one, for the site: bodies, ground from levels, what stands and lies on it.
def foreshore(x, y):
    """Height of the foreshore, mm: a bank under the quay, a shingle slope, a mud flat with a creek."""
    bank = 600.0 - 900.0 / (1.0 + math.exp((y - 1500.0) / 320.0))
    slope = 0.035 * (y - 1500.0) if y < 1500.0 else 0.012 * (y - 1500.0)
    creek = -260.0 * math.exp(-(((x - 3200.0) * 0.8 + (y + 2400.0) * 0.6) / 520.0) ** 2)
    stones = 38.0 * math.sin(x / 390.0 + 0.6) * math.cos(y / 310.0) + 22.0 * math.sin((x + 2.0 * y) / 170.0)
    return bank + slope + creek * (1.0 if y < 800.0 else 0.0) + stones * (1.0 if y < 1800.0 else 0.25)


levels, toe, crest = [], [], []
for i in range(27):
    for k in range(21):
        # Off the grid as a surveyor walks, the same every time.
        h = (i * 7919 + k * 104729) % 997 / 997.0 - 0.5
        g = (i * 6101 + k * 3571) % 991 / 991.0 - 0.5
        rim = i in (0, 26) or k in (0, 20)
        x, y = -4600.0 + i * 400.0 + (0.0 if rim else 220.0 * h), -5200.0 + k * 400.0 + (0.0 if rim else 220.0 * g)
        levels.append((round(x), round(y), round(foreshore(x, y))))
for i in range(27):
    x = -4600.0 + i * 400.0
    toe.append((round(x), 1010, round(foreshore(x, 1010.0))))
    crest.append((round(x), 1990, round(foreshore(x, 1990.0))))
(root / "foreshore-levels.csv").write_text("x,y,level\n" + "".join(f"{x / 1000:.3f},{y / 1000:.3f},{z / 1000:.3f}\n" for x, y, z in levels))
(root / "foreshore.levels").write_text("".join(f"p {x} {y} {z}\n" for x, y, z in levels) +
                                       "".join("b" + "".join(f" {x} {y} {z}" for x, y, z in line) + "\n" for line in (toe, crest)))


def body(number, name, colour, shape, x=0.0, y=0.0, z=0.0, turn=0.0, folder=0, **more):
    out = {"id": number, "name": name, "colour": colour, "shape": shape, "at": [x, y, z], "turn": [0.0, 0.0, turn], **more}
    return {**out, "folder": folder} if folder else out


stones = [(-3600, 700, 0), (-2400, -300, 0), (-900, -700, 0), (700, -1900, 0), (1900, -3000, 0), (3700, -3500, 0), (5000, -4300, 0)]
fence = [(-4200, 2300, 900), (-1500, 1900, 900), (1200, 1500, 900), (3400, 700, 900), (5400, 500, 900)]
site = {
    "format": "vicinal", "version": 5, "units": "mm", "shownIn": "mm",
    "folders": [{"id": 60, "name": "Foreshore"}, {"id": 61, "name": "Quay"}, {"id": 62, "name": "Behind the quay"}],
    "paths": [
        {"id": 1, "name": "Stones line", "points": points(stones), "folder": 60},
        {"id": 2, "name": "Fence line", "points": points(fence), "folder": 60},
        {"id": 3, "name": "Quay line", "folder": 61, "points": [
            {"at": [-4600.0, 3600.0, 900.0], "smooth": False}, {"at": [2200.0, 3600.0, 900.0], "smooth": False, "fillet": 900.0},
            {"at": [3600.0, 2300.0, 900.0], "smooth": False, "fillet": 900.0}, {"at": [5800.0, 2300.0, 900.0], "smooth": False}]},
        {"id": 4, "name": "Hauling line", "points": points([(-3900, -1900, 0), (-1800, -2600, 0), (600, -3500, 0), (2600, -4700, 0)]), "folder": 60},
        {**recipe(5, "Hauling line, laid", "laid", source=4, body=50, smooth=12.0), "folder": 60},
        {"id": 7, "name": "Heap line", "folder": 60, "points": points([
            (-3300, -3900, 0), (-2700, -3500, 0), (-2100, -4000, 0), (-2600, -4500, 0), (-3100, -4000, 0), (-2500, -3600, 0),
            (-1900, -3900, 0), (-2200, -4500, 0), (-2900, -4300, 0), (-2700, -3700, 0), (-1900, -3400, 0), (-1300, -3700, 0)])},
        {**recipe(8, "Heap line, laid", "laid", source=7, body=50, smooth=20.0, above=22.0), "folder": 60},
        {**recipe(9, "Heap line, lifted", "lifted", source=8, thickness=46.0, ease=190.0, top="later", switched=[3]), "folder": 60},
        {"id": 70, "name": "Sea ramp line", "points": points([(-4300, 4300, 900), (-2500, 4700, 820), (-500, 4600, 480), (1500, 5000, 120), (3100, 4700, 40)]), "folder": 62},
        {**recipe(71, "Balustrade line", "offset", source=70, distance=520.0), "folder": 62},
        {"id": 72, "name": "Slipway line", "points": points([(-4300, 2100, 560), (-4300, -2700, -360)], False), "folder": 60},
        {**recipe(73, "Drain cover rim", "circle", **placed(-1200, 6400, 900), radius=420.0), "folder": 62},
        {**recipe(74, "Drain slots line", "circle", **placed(-1200, 6400, 900), radius=165.0), "folder": 62},
        {"id": 75, "name": "Tab line", "points": points([(400, 6400, 900), (2000, 6400, 900)], False), "folder": 62},
        recipe(6, "Mooring pad", "rectangle", **placed(-2600, 2950, 640), width=1500.0, height=700.0, radius=120.0),
    ],
    "parts": [
        maker(10, "Stepping stone", "stepping stone", 2600.0, length=540.0, width=430.0, thickness=120.0, roughness=0.14),
        maker(11, "Fence post", "post", 650.0, width=90.0, depth=90.0, height=950.0, capOver=10.0, capThickness=15.0, capRise=20.0),
        maker(12, "Picket", "baluster", 650.0, section="square", width=70.0, depth=18.0, height=760.0, top="picket", point=45.0),
        maker(30, "Balustrade post", "baluster", 7850.0, section="round", width=40.0, height=930.0),
        maker(31, "Slipway sleeper", "sleeper", 750.0, length=1500.0, width=200.0, height=130.0, gauge=1000.0, railHead=50.0, seatWidth=140.0, seatDepth=10.0),
        maker(32, "Drain slot", "slot", length=120.0, width=18.0, depth=30.0, nose="+y"),
        {"id": 34, "name": "Tab", "seat": own(), "shape": box(120.0, 20.0, 20.0)},
        maker(13, "Marker stake", "baluster", 650.0, section="round", width=40.0, height=420.0),
        maker(15, "Mooring link 52", "round link", 7850.0, bar=12.0, insideLength=52.0, insideWidth=20.0, studded=False, stud=7.0),
        {"id": 14, "name": "Hut", "seat": own(), "density": 650.0, "shape": {"kind": "pieces", "list": [
            piece("Walls", box(1800.0, 1400.0, 1500.0)),
            piece("Roof, south", {"kind": "wedge", "length": 820.0, "width": 2000.0, "height": 520.0}, 0.0, -410.0, 1500.0, turn=[0.0, 0.0, math.pi / 2]),
            piece("Roof, north", {"kind": "wedge", "length": 820.0, "width": 2000.0, "height": 520.0}, 0.0, 410.0, 1500.0, turn=[0.0, 0.0, -math.pi / 2])]}},
    ],
    "bodies": [
        body(50, "Foreshore", 1, {"kind": "levels", "asset": "foreshore.levels", "source": "foreshore-levels.csv"}, folder=60, locked=True),
        body(51, "Quay wall", 6, {"kind": "wall", "path": 3, "height": 0.0, "below": 1400.0, "thickness": 420.0, "side": "left"}, folder=61, density=2400.0),
        body(52, "Hut", 5, {"kind": "part", "part": 14}, 4300.0, 3400.0, 900.0, math.radians(8), folder=61),
        body(53, "Boat ramp", 2, {"kind": "ramp", "length": 2600.0, "width": 1300.0, "rise": 620.0, "foot": 60.0, "landing": 500.0},
             1500.0, 200.0, -230.0, math.radians(76), folder=61),
        body(54, "Mooring pad", 6, {"kind": "plate", "path": 6, "thickness": 120.0, "under": True}),
        body(80, "Sea ramp slab", 6, {"kind": "wall", "path": 70, "height": 0.0, "below": 160.0, "thickness": 1300.0, "side": "middle"}, folder=62, density=2400.0),
        body(81, "Hand rail", 2, {"kind": "rail", "run": 40, "form": "round", "width": 48.0, "wall": 3.0, "height": 954.0, "startInset": -120.0, "endInset": -120.0,
                                  "startEnd": "returned", "endEnd": "returned", "returnTo": "down", "returnRadius": 90.0, "returnLeg": 60.0}, folder=62, density=7850.0),
        body(82, "Foot rail", 2, {"kind": "rail", "run": 40, "form": "flat", "width": 12.0, "depth": 40.0, "height": 110.0}, folder=62, density=7850.0),
        body(83, "Middle rails", 4, {"kind": "rail", "run": 40, "style": "straight", "form": "round", "width": 26.0, "height": 400.0, "count": 2, "apart": 280.0, "way": "up"}, folder=62, density=7850.0),
        body(84, "Slipway rails", 1, {"kind": "rail", "run": 41, "form": "flat", "width": 50.0, "depth": 90.0, "height": 45.0, "count": 2, "apart": 1050.0, "way": "across",
                                      "startEnd": "capped", "endEnd": "capped", "cap": 12.0}, folder=60, density=7850.0),
        body(85, "Drain cover blank", 3, {"kind": "plate", "path": 73, "thickness": 24.0, "under": True}, folder=62, density=7200.0, hidden=True),
        body(86, "Drain cover", 3, {"kind": "cut", "of": 85, "run": 42, "least": 14.0}, folder=62, density=7200.0),
        body(87, "Culvert plate blank", 5, box(1700.0, 520.0, 20.0), 1200.0, 6400.0, 900.0, folder=62, density=7850.0, hidden=True),
        body(88, "Culvert plate", 5, {"kind": "cut", "of": 87, "run": 43, "clearance": 1.0}, folder=62, density=7850.0),
        body(89, "Culvert side blank", 0, box(1700.0, 20.0, 420.0), 1200.0, 6400.0, 480.0, folder=62, density=7850.0, hidden=True),
        body(90, "Culvert side", 0, {"kind": "cut", "of": 89, "run": 44, "does": "raise", "depth": "deep", "deep": 26.0}, folder=62, density=7850.0),
        body(55, "Dolphin pile", 3, {"kind": "cylinder", "diameter": 260.0, "height": 2300.0}, 4700.0, -2200.0, -900.0),
    ],
    "runs": [
        {**run(20, "Stepping stones", 2, 1, 10, {"rule": "even out", "about": 640.0, "insetStart": 300.0, "insetEnd": 300.0}, {"crown": "off surface", "surface": 50}),
         "feet": {"ground": 50, "sunk": -25.0}, "uneven": {"unevenTurn": 0.5, "unevenAcross": 60.0, "seed": 3}, "folder": 60},
        {**run(21, "Fence posts", 5, 2, 11, {"rule": "even out", "about": 1450.0}, {}), "feet": {"ground": 50, "sunk": 40.0}, "folder": 60},
        {**run(22, "Fence pickets", 0, 2, 12, {"rule": "even out", "about": 62.0, "measure": "clear gap", "gapAtMost": 80.0, "bays": "run", "bayRun": 21}, {}),
         "feet": {"ground": 50, "feetBy": "bay", "bayLevel": "highest", "sunk": -60.0}, "folder": 60},
        {**run(23, "Hauling stakes", 4, 5, 13, {"rule": "share out", "count": 9}, {}), "folder": 60},
        {**run(25, "Heaped chain", 2, 9, 15, {"rule": "pin to pin"},
               {"nose": "between pins", "crown": "carried", "turnStep": [1.5707963267948966, 0.0, 0.0], "turnEvery": 2}), "folder": 60, "checks": [{"check": "touching", "least": -1}]},
        {**run(40, "Balustrade posts", 3, 71, 30, {"rule": "even out", "about": 620.0}, {}), "folder": 62},
        {**run(41, "Slipway sleepers", 0, 72, 31, {"rule": "even out", "about": 600.0, "insetStart": 150.0, "insetEnd": 150.0}, {"crown": "upright"}), "folder": 60},
        {**run(42, "Drain slots", 1, 74, 32, {"rule": "share out", "count": 20}, {}), "rows": {"rows": 2, "rowsApart": -150.0}, "hidden": True, "folder": 62},
        {**run(43, "Tab slots", 1, 75, 34, {"rule": "share out", "count": 6, "insetStart": 150.0, "insetEnd": 150.0}, {}), "hidden": True, "folder": 62},
        {**run(44, "Tabs", 1, 75, 34, {"rule": "share out", "count": 6, "insetStart": 150.0, "insetEnd": 150.0}, {}), "hidden": True, "folder": 62},
        run(24, "Quay stakes", 4, 3, 13, {"rule": "even out", "about": 900.0, "insetStart": 200.0, "insetEnd": 200.0}, {}),
    ],
}
(root / "saltmarrow-site.json").write_text(json.dumps(site, indent=1) + "\n")


# A fifth one, for the checks: what keeps clear, what may not pass between, what has to touch.
def check(kind, **values):
    return {"check": kind, **values}


sea_ramp = [(-5200, 3200, 0), (-3600, 3350, 90), (-2100, 3000, 200), (-600, 3500, 310), (900, 3300, 400)]
quay_front = [(-5200, -900, 0), (-1800, -900, 0), (400, -700, 0), (2600, -1100, 0), (5200, -900, 0)]
steps_over = [(-4700, -2600, -200), (-3300, -2300, -200), (-1500, -2800, -200), (300, -2500, -200), (2200, -3100, -200)]
tally = [(2200, 3400, 0), (3100, 3600, 0), (4000, 3200, 0), (4300, 2300, 0)]
hinge = [900.0, 620.0, 0.0]
swing = [
    {"line": [hinge, [1750.0, 620.0, 0.0]]},
    {"arc": {"centre": hinge, "x": [1.0, 0.0, 0.0], "y": [0.0, -1.0, 0.0], "radius": 850.0, "sweep": math.pi / 2}},
    {"line": [[900.0, -230.0, 0.0], hinge]},
]
checks = {
    "format": "vicinal", "version": 5, "units": "mm", "shownIn": "mm",
    "paths": [
        {"id": 1, "name": "Sea ramp edge", "points": points(sea_ramp)},
        {"id": 2, "name": "Quay edge", "points": points(quay_front)},
        {**recipe(3, "Lights line", "offset", source=2, distance=420.0)},
        {"id": 4, "name": "Stones line", "points": points(steps_over)},
        recipe(5, "Mooring swag", "swag", **{"from": [-4400.0, -1250.0, 760.0], "to": [-2000.0, -1250.0, 760.0]}, by="sag", amount=360.0),
        {"id": 6, "name": "Door swing", "closed": True, "source": "", "segments": swing},
        {"id": 7, "name": "Tally line", "points": points(tally)},
        recipe(8, "Drain slab", "rectangle", **placed(3500, 300, 0), width=1100.0, height=700.0, radius=60.0),
    ],
    "parts": [
        maker(10, "Ramp post", "baluster", 7850.0, section="round", width=44.0, height=1050.0),
        maker(11, "Turned baluster", "baluster", 7850.0, section="turned", width=28.0, depth=28.0, height=980.0),
        maker(12, "Quay light", "bollard lamp", 2700.0, height=900.0, diameter=150.0, foot=230.0, footThickness=18.0, ring=90.0),
        maker(13, "Stepping stone", "stepping stone", 2600.0, length=460.0, width=380.0, thickness=110.0, roughness=0.14),
        maker(14, "Mooring link 52", "round link", 7850.0, bar=12.0, insideLength=52.0, insideWidth=20.0, studded=False, stud=7.0),
        {**maker(15, "Tally stone", "plank", 2600.0), "shape": box(60.0, 300.0, 420.0), "seat": seat([0, 0, -1])},
        {"id": 16, "name": "Hut", "seat": own(), "density": 650.0, "shape": {"kind": "pieces", "list": [
            piece("Walls", box(2200.0, 1500.0, 1900.0)),
            piece("Roof, south", {"kind": "wedge", "length": 870.0, "width": 2400.0, "height": 520.0}, 0.0, -435.0, 1900.0, turn=[0.0, 0.0, math.pi / 2]),
            piece("Roof, north", {"kind": "wedge", "length": 870.0, "width": 2400.0, "height": 520.0}, 0.0, 435.0, 1900.0, turn=[0.0, 0.0, -math.pi / 2])]}},
    ],
    "bodies": [
        body(50, "Quay wall", 6, {"kind": "wall", "path": 2, "height": 0.0, "below": 900.0, "thickness": 300.0, "side": "left"}, density=2400.0),
        body(51, "Hut", 5, {"kind": "part", "part": 16}, 900.0, 1390.0),
        body(52, "Hut's door swing", 3, {"kind": "plate", "path": 6, "thickness": 1900.0, "under": False}, seeThrough=True),
        body(53, "Drain slab", 6, {"kind": "plate", "path": 8, "thickness": 90.0, "under": True}, density=2400.0),
        body(54, "Ramp slab", 6, {"kind": "wall", "path": 1, "height": 0.0, "below": 160.0, "thickness": 750.0, "side": "left"}, density=2400.0),
        body(55, "Swag lamp", 2, {"kind": "part", "part": 12}, -3300.0, -1380.0, -540.0),
        body(56, "Hand rail", 2, {"kind": "rail", "run": 40, "form": "round", "width": 48.0, "height": 1074.0, "startInset": -100.0, "endInset": -100.0}, density=7850.0),
        body(57, "Foot rail", 2, {"kind": "rail", "run": 40, "form": "flat", "width": 30.0, "depth": 12.0, "height": 90.0}, density=7850.0),
        body(58, "West bollard", 1, {"kind": "cylinder", "diameter": 200.0, "height": 1000.0}, -4500.0, -1250.0, -200.0),
        body(59, "East bollard", 1, {"kind": "cylinder", "diameter": 200.0, "height": 1000.0}, -1900.0, -1250.0, -200.0),
    ],
    "runs": [
        run(40, "Ramp posts", 3, 1, 10, {"rule": "even out", "about": 1150.0, "insetStart": 60.0, "insetEnd": 60.0}, {}),
        {**run(41, "Ramp balusters", 0, 1, 11, {"rule": "even out", "about": 84.0, "measure": "clear gap", "gapAtMost": 99.0, "bays": "run", "bayRun": 40}, {}),
         "checks": [check("opening", most=99.0, margin=0.5, **{"from": 0.0, "to": 980.0})]},
        {**run(42, "Quay lights", 4, 3, 12, {"rule": "share out", "count": 7, "insetStart": 300.0, "insetEnd": 300.0}, {}),
         "checks": [check("body", other=52, least=400.0, margin=20.0), check("body", other=53, least=150.0), check("slope", most=0.035)]},
        {**run(43, "Stepping stones", 2, 4, 13, {"rule": "even out", "about": 610.0, "insetStart": 250.0, "insetEnd": 250.0}, {"crown": "upright"}),
         "uneven": {"unevenTurn": 0.35, "unevenAcross": 50.0, "seed": 3},
         "checks": [check("gap", least=60.0, most=200.0, margin=5.0), check("step", most=180.0), check("count", least=8, most=16)]},
        {**run(44, "Mooring chain", 2, 5, 14, {"rule": "pin to pin"},
               {"nose": "between pins", "crown": "carried", "turnStep": [1.5707963267948966, 0.0, 0.0], "turnEvery": 2}),
         "checks": [check("body", other=55, least=40.0, margin=5.0), check("weight", most=8.0), check("joints", most=math.radians(25))]},
        {**run(45, "Tally stones", 1, 7, 15, {"rule": "even out", "about": 260.0}, {}),
         "checks": [check("reach", least=0.4), check("closing", most=5.0), check("bow", most=4.0)]},
    ],
}
(root / "saltmarrow-checks.json").write_text(json.dumps(checks, indent=1) + "\n")

# Its STEP parts, by OpenCASCADE's writer (bin/make_examples is built with the tests).
maker = root.parent / "build/release/bin/make_examples"
if maker.exists():
    subprocess.run([maker, root], check=True)

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
