#!/usr/bin/env python3
"""Applies single mutations to the core and reports which live: those that the layer's own tests do not notice.

  scripts/mutate.py make SEED   draws a new list of 50 (scripts/mutations.txt), by a seed, from the logic of the layers
  scripts/mutate.py run [FROM [TO]]   runs them in a copy (build/mutate), and writes build/mutate/report.txt
A line of the list: file, line's text, what it becomes (tabs between). It is found by its text, so edits around it do no harm.
"""
import pathlib
import random
import re
import subprocess
import sys

here = pathlib.Path(__file__).resolve().parent.parent
work = here / "build/mutate"
listing = here / "scripts/mutations.txt"
LAYERS = {
    "geometry": (["segment", "span", "bounds", "shapes", "wheels", "chain", "spline", "edit"],
                 ["test_frames", "test_spline", "test_bounds", "test_shapes", "test_wheels", "test_arc_length", "test_edges", "test_standards"]),
    "base": (["quantity"], ["test_quantity"]),
    "layout": (["step_off", "share_out", "even_out", "fits", "ruler", "spacing", "places", "facing", "seat", "occupancy"], ["test_spacing", "test_clear_gap", "test_places", "test_edges"]),
    "checks": (["verdict"], ["test_edges", "test_parts"]),
    "model": (["document", "evaluate", "history", "defects", "files", "document_json", "recipe"],
              ["test_document", "test_files", "test_recipes", "test_editing", "test_part_shapes"]),
}
SHARE = {"geometry": 16, "layout": 19, "checks": 3, "model": 10, "base": 2}
CHANGES = [(r" < ", " >= "), (r" > ", " <= "), (r" <= ", " > "), (r" >= ", " < "), (r" == ", " != "), (r" != ", " == "), (r" && ", " || "),
           (r" \|\| ", " && "), (r" \+ 1\b", ""), (r" - 1\b", ""), (r" \+ ", " - "), (r" - ", " + "), (r"std::max", "std::min"),
           (r"std::min", "std::max"), (r"\btrue\b", "false"), (r"\bfalse\b", "true"), (r"std::cos", "std::sin"), (r"\.front\(\)", ".back()")]
# Where a change makes no difference to any answer: speed, first guesses, words, tolerances beside other tolerances.
SKIP = re.compile(r"^\s*(//|\*|#|template|struct|class|using|namespace|assert|return Problem|Problem|const char|std::string|case )|mm\(|\"|reserve|budget|"
                  r"tolerance::|1e-|for \(|noexcept|\boperator\b|static_cast|std::move\(|while \(")


PROGRAMS = ["tests_core", "tests_model", "tests_exchange"]


def candidates(layer):
    for name in LAYERS[layer][0]:
        path = next((here / "src" / layer).rglob(f"{name}.cpp"))
        lines = path.read_text().split("\n")
        for line in lines:
            if SKIP.search(line) or lines.count(line) > 1 or len(line.strip()) < 12:
                continue
            for pattern, by in CHANGES:
                spots = list(re.finditer(pattern, line))
                for m in spots[:2]:
                    yield path.relative_to(here), line, line[:m.start()] + re.sub(pattern, by, m.group()) + line[m.end():]


def make(seed):
    random.seed(seed)
    rows = []
    for layer, n in SHARE.items():
        seen, chosen = set(), list(candidates(layer))
        random.shuffle(chosen)
        for path, old, new in chosen:
            if (path, old) not in seen and len(seen) < n:
                seen.add((path, old))
                rows.append(f"{path}\t{old}\t{new}")
    listing.write_text("\n".join(rows) + "\n")
    print(len(rows), "mutations")


def sh(*words, **more):
    return subprocess.run(words, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, **more)


def run(first, last):
    if not (work / "src/.git").exists():
        sh("git", "-C", str(here), "worktree", "prune")
        print(sh("git", "-C", str(here), "worktree", "add", "--detach", "-f", str(work / "src"), "HEAD").stdout[-200:])
    else:
        sh("git", "-C", str(work / "src"), "checkout", "-q", "-f", "--detach", sh("git", "-C", str(here), "rev-parse", "HEAD").stdout.strip())
    build = work / "src/build/dev"  # file by file: a mutation compiles one
    if not (build / "build.ninja").exists():
        sh("cmake", "-S", str(work / "src"), "--preset", "dev")
    print(sh("ninja", "-C", str(build), "vicinal-cli", "vicinal-step", *PROGRAMS).stdout[-300:])
    lived = []
    rows = listing.read_text().strip().split("\n")[first:last]
    for number, row in enumerate(rows, first + 1):
        name, old, new = row.split("\t")
        path = work / "src" / name
        text = path.read_text()
        if text.count(old + "\n") != 1:
            print(number, "not found any more:", name, old.strip())
            continue
        tests = LAYERS[name.split("/")[1]][1]
        path.write_text(text.replace(old + "\n", new + "\n"))
        verdict = "LIVES"
        built = sh("ninja", "-C", str(build), *PROGRAMS)
        if built.returncode != 0:
            verdict = "not counted (does not build)"
        else:
            for t in tests:
                try:
                    if sh("ctest", "--test-dir", str(build), "-R", f"^{t}$", "--no-tests=error", env={"PATH": "/usr/bin:/bin", "HOME": "/tmp"}, timeout=120).returncode != 0:
                        verdict = f"caught by {t}"
                        break
                except subprocess.TimeoutExpired:
                    verdict = f"caught by {t} (never ends)"
                    break
        path.write_text(text)
        print(f"{number} {verdict}: {name}: {old.strip()}  ->  {new.strip()}", flush=True)
        if verdict == "LIVES":
            lived.append(row)
    print(f"{len(lived)} of {len(rows)} live")


if sys.argv[1:2] == ["make"] and len(sys.argv) == 3:
    make(int(sys.argv[2]))
elif sys.argv[1:2] == ["run"]:
    numbers = [int(a) for a in sys.argv[2:]] + [0, 1000][len(sys.argv) - 2:]
    run(*numbers)
else:
    sys.exit(__doc__)
