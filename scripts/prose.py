#!/usr/bin/env python3
"""Prose and CMake stand within 100 columns, and what they name is there: links, pictures, paths of the tree.

  scripts/prose.py       says what does not, a line each (a test)
"""
import pathlib
import re
import subprocess
import sys

here = pathlib.Path(__file__).resolve().parent.parent
WIDE = 100
PICTURE_OR_TABLE = re.compile(r"\s*(\||!\[)")


def files(*patterns):
    listed = subprocess.run(["git", "-C", here, "ls-files", *patterns], stdout=subprocess.PIPE, text=True).stdout.split()
    return [here / name for name in listed] or [p for pattern in patterns for p in here.rglob(pattern)]


def wrong(path):
    text = path.read_text()
    name = path.relative_to(here)
    code = False
    for number, line in enumerate(text.split("\n"), 1):
        code ^= line.startswith("```")
        if len(line) > WIDE and not code and not line.startswith("    ") and not PICTURE_OR_TABLE.match(line):
            yield f"{name}:{number}: {len(line)} columns"
    if path.suffix != ".md":
        return
    for target in re.findall(r"\]\(([^)#\s]+)[^)]*\)", text):
        if "://" not in target and not (path.parent / target).exists():
            yield f"{name}: {target} is not there"
    for named in re.findall(r"`((?:src|tests|docs|scripts|examples|bench|fuzz|base|geometry|layout|parts|clearance|model|exchange|app|cli)/[\w./-]+)`", text):
        if not (here / named).exists() and not (here / "src" / named).exists() and named.split("/")[1] != "found":
            yield f"{name}: {named} is not there"


def main():
    all_wrong = [w for path in files("*.md", "*CMakeLists.txt", "*.cmake") for w in wrong(path)]
    print("\n".join(all_wrong))
    sys.exit(1 if all_wrong else 0)


if __name__ == "__main__":
    main()
