#!/usr/bin/env python3
"""Writes examples/quay-paths.dxf: a quay edge of lines and arcs with bulges, a drain circle and a kerb spline, and nothing
else. Made up."""
import pathlib

out = []


def pairs(*items):
    for code, value in items:
        out.append(f"{code:>3}\n{value}\n")


def entity(kind, layer, subclass, *items):
    pairs((0, kind), (100, "AcDbEntity"), (8, layer), (100, subclass), *items)


pairs((0, "SECTION"), (2, "HEADER"), (9, "$ACADVER"), (1, "AC1015"), (9, "$INSUNITS"), (70, 4), (0, "ENDSEC"))
pairs((0, "SECTION"), (2, "ENTITIES"))
corners = [(0, 0, 0), (4000, 0, 0.4142135623730951), (5000, 1000, 0), (5000, 3000, 0)]
entity("LWPOLYLINE", "QUAY-EDGE", "AcDbPolyline", (90, len(corners)), (70, 0),
       *[p for x, y, bulge in corners for p in ((10, float(x)), (20, float(y)), (42, bulge))])
entity("LINE", "QUAY-EDGE", "AcDbLine", (10, 5000.0), (20, 3000.0), (30, 0.0), (11, 8000.0), (21, 3000.0), (31, 0.0))
entity("ARC", "QUAY-EDGE", "AcDbCircle", (10, 8000.0), (20, 4500.0), (30, 0.0), (40, 1500.0), (100, "AcDbArc"), (50, 270.0), (51, 360.0))
entity("CIRCLE", "DRAIN", "AcDbCircle", (10, 2500.0), (20, 2000.0), (30, 0.0), (40, 600.0))
points = [(0, -1500), (1500, -800), (3500, -2200), (6000, -1500), (8500, -1700)]
knots = [0.0] * 4 + [1.0] + [2.0] * 4
entity("SPLINE", "KERB", "AcDbSpline", (70, 8), (71, 3), (72, len(knots)), (73, len(points)), (74, 0), *[(40, k) for k in knots],
       *[p for x, y in points for p in ((10, float(x)), (20, float(y)), (30, 0.0))])
pairs((0, "ENDSEC"), (0, "EOF"))
path = pathlib.Path(__file__).resolve().parent.parent / "examples" / "quay-paths.dxf"
path.write_text("".join(out))
