#!/usr/bin/env python3
"""The test pieces looked at by an outside mesh library: closed, windings right, volume, size, and no
overlap in sections at many heights. Not part of the tests.

    pip install trimesh shapely scipy networkx rtree
    bench/pieces.py target/release/usual-suspect
"""
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import trimesh
from shapely.geometry import Polygon

PROGRAM = sys.argv[1] if len(sys.argv) > 1 else "target/release/usual-suspect"


def sections(mesh):
    """Sections between the layers: whether every outline is simple, and how many there are."""
    low, high = mesh.bounds[:, 2]
    count = wrong = 0
    height = low + 0.03
    while height < high:
        cut = mesh.section(plane_origin=[0, 0, height], plane_normal=[0, 0, 1])
        if cut is not None:
            flat, _ = cut.to_2D()
            count += 1
            wrong += sum(not Polygon(p).is_valid for p in flat.discrete if len(p) > 3)
        height += 0.4
    return count, wrong


def main():
    names = subprocess.run([PROGRAM, "piece", "list"], capture_output=True, text=True, check=True)
    names = [line.split()[0] for line in names.stdout.splitlines()]
    bad = 0
    for name in names:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / f"{name}.stl"
            began = time.perf_counter()
            subprocess.run([PROGRAM, "piece", "make", name, "-o", str(path)], check=True)
            took = (time.perf_counter() - began) * 1000
            mesh = trimesh.load(path)
        count, wrong = sections(mesh)
        fine = mesh.is_watertight and mesh.is_winding_consistent and mesh.volume > 0 and not wrong
        bad += not fine
        size = " x ".join(f"{v:.2f}" for v in mesh.extents)
        print(
            f"{name:9} {'closed' if mesh.is_watertight else 'OPEN':6} {size:22} mm "
            f"{mesh.volume / 1000:6.2f} cm3 {len(mesh.faces):6} triangles, {count:3} sections, "
            f"{wrong} wrong, bodies {mesh.body_count}, {took:.0f} ms"
        )
    sys.exit(bad)


if __name__ == "__main__":
    main()
