#!/usr/bin/env python3
"""Writes examples/quay-paths.dxf with ezdxf: a quay edge of lines and arcs with bulges, a drain circle and a kerb spline. Made up."""
import pathlib
import ezdxf

doc = ezdxf.new("R2000")
doc.header["$INSUNITS"] = 4
for name in ("QUAY-EDGE", "DRAIN", "KERB"):
    doc.layers.add(name)
msp = doc.modelspace()
msp.add_lwpolyline([(0, 0, 0, 0, 0), (4000, 0, 0, 0, 0.4142135623730951), (5000, 1000, 0, 0, 0), (5000, 3000, 0, 0, 0)],
                   dxfattribs={"layer": "QUAY-EDGE"})
msp.add_line((5000, 3000), (8000, 3000), dxfattribs={"layer": "QUAY-EDGE"})
msp.add_arc((8000, 4500), 1500, 270, 360, dxfattribs={"layer": "QUAY-EDGE"})
msp.add_circle((2500, 2000), 600, dxfattribs={"layer": "DRAIN"})
msp.add_open_spline([(0, -1500, 0), (1500, -800, 0), (3500, -2200, 0), (6000, -1500, 0), (8500, -1700, 0)], dxfattribs={"layer": "KERB"})
doc.saveas(pathlib.Path(__file__).resolve().parent.parent / "examples" / "quay-paths.dxf")
