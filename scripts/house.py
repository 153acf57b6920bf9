#!/usr/bin/env python3
"""What the house keeps to, counted: no function over 80 lines, no file over 450, no folder over 16 files, no chain of two ?:
on a line. Prints every breach and ends with 1 when there is one.

  scripts/house.py            over src/
  scripts/house.py FOLDER...  over some
"""
import collections
import pathlib
import re
import sys

MOST_FUNCTION, MOST_FILE, MOST_FOLDER, MOST_METHODS = 80, 450, 16, 40
here = pathlib.Path(__file__).resolve().parent.parent


def bare(text):
    """The text with comments and what stands in quotes made blank; lines stay where they are."""
    blank = lambda m: re.sub(r"[^\n]", " ", m[0])
    text = re.sub(r"(?m)^[ \t]*#(?:[^\n]*\\\n)*[^\n]*", blank, text)
    return re.sub(r'R"(\w*)\(.*?\)\1"|"(?:\\.|[^"\\\n])*"|//[^\n]*|/\*.*?\*/|(?<![\w])\'(?:\\.|[^\'\\\n])+\'', blank, text, flags=re.S)


def blocks(code):
    """Every pair of braces outside functions: what stands before it, its first and its last character."""
    stack, before = [], 0
    for at, c in enumerate(code):
        if c == "{":
            head = code[before:at].strip()
            inside = stack and stack[-1][2] != "open"
            kind = "inner" if inside else "open" if re.match(r"(inline )?namespace\b|extern\b|(template\s*<.*> )?(class|struct|union)\b(?!.*\)\s*(const|noexcept|override)*\s*$)", head, re.S) else "body"
            stack.append((head, at, kind))
            before = at + 1
        elif c == "}" and stack:
            head, first, kind = stack.pop()
            if kind != "inner":
                yield head, first, at, kind
            before = at + 1
        elif c == ";" or (c == ":" and re.search(r"\b(public|private|protected)$", code[before:at].rstrip())):
            before = at + 1


def breaches(path):
    text = path.read_text()
    lines, code = text.split("\n"), bare(text)
    name = path.relative_to(here)
    if len(lines) - 1 > MOST_FILE:
        yield f"{name}: {len(lines) - 1} lines"
    for head, first, last, kind in blocks(code):
        start = code.rfind(head, 0, first) if head else first
        long = code.count("\n", start, last) + 1
        if kind == "body" and ")" in head and long > MOST_FUNCTION:
            yield f"{name}:{code.count(chr(10), 0, start) + 1}: a function of {long} lines: {' '.join(head.split())[:90]}"
        if kind == "open" and re.match(r"(class|struct)\b", head) and "Q_OBJECT" in code[first:last]:
            inside = re.sub(r"signals:.*?(?=\b(public|protected|private)\b|$)", "", code[first + 1:last], flags=re.S)
            while "{" in inside: # bodies, and types inside
                shorter = re.sub(r"\{[^{}]*\}", ";", inside)
                if shorter == inside:
                    break
                inside = shorter
            methods = len(re.findall(r"\)\s*(?:const)?\s*(?:override)?\s*;", inside))
            if methods > MOST_METHODS:
                yield f"{name}: {head.split()[1]} has {methods} methods"
    for number, line in enumerate(code.split("\n"), 1):
        for part in re.split(r"[,;]", line):
            flat = part
            while True: # what stands in brackets is no part of the chain outside them
                shorter = re.sub(r"\([^()?]*\)", "", flat)
                if shorter == flat:
                    break
                flat = shorter
            if re.search(r" \? [^()]* : [^()]* \? ", flat) or re.search(r" \? [^():]* \? ", flat):
                yield f"{name}:{number}: a chain of ?: on a line"


def main():
    folders = [here / f for f in sys.argv[1:]] or [here / "src"]
    found, files = [], collections.Counter()
    for folder in folders:
        for path in sorted(folder.rglob("*")):
            if path.is_file():
                files[path.parent] += 1
            if path.suffix in (".cpp", ".h"):
                found += breaches(path)
    found += [f"{f.relative_to(here)}: {n} files" for f, n in sorted(files.items()) if n > MOST_FOLDER]
    print("\n".join(found))
    sys.exit(1 if found else 0)


main()
