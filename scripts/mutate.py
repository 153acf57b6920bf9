#!/usr/bin/env python3
"""Changes the core at random, one place at a time, and tells which changes the layer's own tests do not notice.

  scripts/mutate.py SEED [COUNT] [FOLDER...]     300 changes over all layers, or over some (src/layout, src/checks ...)
  scripts/mutate.py SEED --list [COUNT] [FOLDER...]     only says which they would be

Places are drawn by the seed, every line of code as likely as any other; what to change on a line is drawn among all that
can be: signs, comparisons, off by one, swapped ends and arguments, dropped min, max, abs and factors, removed statements,
wrong constants, negated conditions. What does not build, or builds to the very same object, is not counted.
It works in a copy (build/mutate/src, made from HEAD), so the tree stays as it is.
build/mutate/report.txt holds every change with its fate; a table by folder and the survivors stand at the end.
"""
import collections
import concurrent.futures
import functools
import hashlib
import os
import pathlib
import random
import re
import signal
import subprocess
import sys
import time

here = pathlib.Path(__file__).resolve().parent.parent
work = here / "build/mutate"
copy, build = work / "src", work / "build"
# Which program's suites are a layer's own, quickest first by a run of all.
PROGRAM = {"base": "tests_core", "geometry": "tests_core", "layout": "tests_core", "parts": "tests_core", "checks": "tests_core",
           "model": "tests_model", "exchange": "tests_exchange"}

COMPARE = {"<": ["<=", ">="], ">": [">=", "<="], "<=": ["<", ">"], ">=": [">", "<"], "==": ["!="], "!=": ["=="]}
NOT_CODE = re.compile(r"^\s*(//|\*|#|template\b|struct\b|class\b|enum\b|using\b|namespace\b|static_assert|public:|private:|case .*:$|\}|\{|else$)")


def blanked(line):
    """The line with what stands in quotes and behind // made blank, so that places are the same."""
    out, quote, i = [], "", 0
    while i < len(line):
        c = line[i]
        if quote:
            if c == "\\":
                out.append("  ")
                i += 2
                continue
            if c == quote:
                quote = ""
            out.append(" ")
        elif line.startswith("//", i):
            break
        elif c == '"' or (c == "'" and (i == 0 or not line[i - 1].isalnum())):
            quote = c
            out.append(" ")
        else:
            out.append(c)
        i += 1
    return "".join(out).ljust(len(line))


def closing(text, start):
    """Where the bracket at `start` is closed, and where commas of its own level stand."""
    depth, commas = 0, []
    for i in range(start, len(text)):
        if text[i] in "([{":
            depth += 1
        elif text[i] in ")]}":
            depth -= 1
            if depth == 0:
                return i, commas
        elif text[i] == "," and depth == 1:
            commas.append(i)
    return None, commas


def changes(line):
    """All single changes of a line: (kind, new line)."""
    if NOT_CODE.search(line) or len(line.strip()) < 6:
        return
    code = blanked(line)

    def put(a, b, text):
        return line[:a] + text + line[b:]

    for m in re.finditer(r" (<=|>=|==|!=|<|>) ", code):
        for to in COMPARE[m[1]]:
            yield "comparison", put(m.start(1), m.end(1), to)
    for m in re.finditer(r" ([+\-]) (?!1\b)", code):
        yield "sign", put(m.start(1), m.end(1), "-" if m[1] == "+" else "+")
    for m in re.finditer(r" ([+\-])= ", code):
        yield "sign", put(m.start(1), m.end(1), "-" if m[1] == "+" else "+")
    for m in re.finditer(r"(?<=[(,=?:] )-(?=[a-zA-Z(])|(?<=\()-(?=[a-zA-Z(])|(?<=return )-(?=[a-zA-Z(])", code):
        yield "sign", put(m.start(), m.end(), "")
    for m in re.finditer(r" [+\-] 1\b(?![.e])", code):
        yield "off by one", put(m.start(), m.end(), "")
    for m in re.finditer(r" ([*/]) (\w[\w.]*(?:\([^()]*\))?)", code):
        yield "factor", put(m.start(), m.end(), "")
    for m in re.finditer(r"(?<![\w.])(\d+(?:\.\d+)?)(?![\w.])", code):
        if code[:m.start()].rstrip().endswith("<") or re.search(r"Vec$|Mat$", code[:m.start()]):
            continue
        value = m[1]
        to = {"0": "1", "1": "0", "0.0": "1.0", "1.0": "0.0"}.get(value) or (str(int(value) + 1) if value.isdigit() else str(float(value) * 1.5))
        yield "constant", put(m.start(), m.end(), to)
    for m in re.finditer(r"\b(true|false)\b", code):
        yield "constant", put(m.start(), m.end(), "false" if m[1] == "true" else "true")
    for m in re.finditer(r"&&|\|\|", code):
        if not re.search(r"auto$|[\w>]$", code[:m.start()]):
            yield "condition", put(m.start(), m.end(), "||" if m[0] == "&&" else "&&")
    for m in re.finditer(r"\b(?:if|while) (?=\()", code):
        end, _ = closing(code, m.end())
        if end and ";" not in code[m.end():end]:
            yield "condition", put(m.end(), end + 1, "(!" + line[m.end():end + 1] + ")")
    for a, b in [(".front()", ".back()"), (".back()", ".front()"), (".min()", ".max()"), (".max()", ".min()"),
                 ("std::min(", "std::max("), ("std::max(", "std::min("), ("std::cos(", "std::sin("), ("std::sin(", "std::cos("),
                 ("std::floor(", "std::ceil("), ("std::ceil(", "std::floor("), ("lower_bound", "upper_bound"), ("upper_bound", "lower_bound")]:
        for m in re.finditer(re.escape(a), code):
            yield "swapped ends", put(m.start(), m.end(), b)
    for m in re.finditer(r"std::(?:min|max|abs|fabs|clamp)(?=\()|\b(?:mm|rad|deg)(?=\()", code):
        end, commas = closing(code, m.end())
        if not end:
            continue
        args = [line[a + 1:b].strip() for a, b in zip([m.end()] + commas, commas + [end])]
        for a in args[:2 if len(args) == 2 else 1]:
            if not a.startswith("{"):
                yield "dropped", put(m.start(), end + 1, f"({a})")
    for m in re.finditer(r"\b\w+(?=\()", code):
        if m[0] in ("if", "while", "for", "switch", "return", "sizeof", "static_cast", "min", "max"):
            continue
        end, commas = closing(code, m.end())
        if end and len(commas) >= 1 and not re.search(r"\b(const|auto|double|int|size_t)\b", code[m.end():end]):
            cuts = [m.end()] + commas + [end]
            args = [line[a + 1:b].strip() for a, b in zip(cuts, cuts[1:])]
            for k in range(len(args) - 1):
                if args[k] != args[k + 1]:
                    swapped = args[:k] + [args[k + 1], args[k]] + args[k + 2:]
                    yield "swapped arguments", put(m.end() + 1, end, ", ".join(swapped))
    whole = code.strip()
    if whole.endswith(";") and whole.count("(") == whole.count(")") and whole.count("{") == whole.count("}"):
        indent = line[:len(line) - len(line.lstrip())]
        if re.match(r"(return|break|continue)\b", whole):
            if whole in ("continue;", "break;"):
                yield "removed", indent + ";"
        elif re.match(r"[\w.\[\]>*()\-:]+ [+\-*/|]?= [^=]", whole) or re.match(r"[\w.:>\-\[\]]+\(.*\);$", whole):
            yield "removed", indent + ";"
        elif m := re.match(r"(if \(.*\)) [^;]+;$", whole):
            yield "removed", indent + m[1] + " ;"


def drawn(seed, count, folders):
    lines = []
    for folder in folders:
        for path in sorted((here / folder).rglob("*.cpp")):
            for number, line in enumerate(path.read_text().split("\n")):
                if any(True for _ in changes(line)):
                    lines.append((path.relative_to(here), number, line))
    dice = random.Random(seed)
    dice.shuffle(lines)
    for path, number, line in lines[:count]:
        by_kind = collections.defaultdict(list)
        for kind, new in changes(line):
            if new != line:
                by_kind[kind].append(new)
        if by_kind:
            kind = dice.choice(sorted(by_kind))
            yield path, number, line, kind, dice.choice(by_kind[kind])


def sh(*words, **more):
    return subprocess.run([str(w) for w in words], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, errors="replace", **more)


def children(programs):
    """What the suites start besides."""
    return ["vicinal-cli", "vicinal-step", "step_report"] if set(programs) - {"tests_core"} else []


def prepared(programs):
    head = sh("git", "-C", here, "rev-parse", "HEAD").stdout.strip()
    if not (copy / ".git").exists():
        sh("git", "-C", here, "worktree", "prune")
        made = sh("git", "-C", here, "worktree", "add", "--detach", "-f", copy, "HEAD")
        if made.returncode:
            sys.exit(made.stdout)
    sh("git", "-C", copy, "checkout", "-q", "-f", "--detach", head)
    if not (build / "build.ninja").exists():
        made = sh("cmake", "-S", copy, "-B", build, "-G", "Ninja", "-DCMAKE_BUILD_TYPE=Release", "-DCMAKE_CXX_FLAGS_RELEASE=-O1 -DNDEBUG",
                  "-DVICINAL_WINDOW=OFF", "-DCMAKE_UNITY_BUILD=OFF")
        if made.returncode:
            sys.exit(made.stdout)
    made = sh("ninja", "-C", build, *children(programs), *programs)
    if made.returncode:
        sys.exit(made.stdout[-3000:])


class Suites:
    """The suites of a program, two at a time, quickest first; the first that fails ends the others."""

    def __init__(self, program):
        self.program = build / "bin" / program
        names = re.findall(r"^  (test_\w+)$", sh(self.program).stdout, re.M)
        self.took = {}
        for name in names:
            start = time.monotonic()
            failed = self.one(name, 900, [])
            if failed:
                sys.exit(f"{name} fails without any change: {failed}")
            self.took[name] = time.monotonic() - start
        self.order = sorted(names, key=self.took.get)

    def one(self, name, limit, running):
        with open(os.devnull, "w") as nothing:
            p = subprocess.Popen([self.program, name], stdout=nothing, stderr=nothing, start_new_session=True,
                                 env=dict(os.environ, HOME="/tmp", QT_QPA_PLATFORM="offscreen"))
            running.append(p)
            try:
                return "" if p.wait(limit) == 0 else name
            except subprocess.TimeoutExpired:
                return name + " (never ends)"
            finally:
                try:
                    os.killpg(p.pid, signal.SIGKILL)
                except ProcessLookupError:
                    pass
                p.wait()

    def noticed(self):
        running, answer = [], ""

        def ask(name):
            return "" if answer else self.one(name, 15 + 6 * self.took[name], running)

        with concurrent.futures.ThreadPoolExecutor(2) as pool:
            for f in concurrent.futures.as_completed([pool.submit(ask, n) for n in self.order]):
                if f.result() and not answer:
                    answer = f.result()
                    for p in running:
                        if p.poll() is None:
                            os.killpg(p.pid, signal.SIGKILL)
        return answer


def main():
    words = sys.argv[1:]
    only_list = "--list" in words
    words = [w for w in words if w != "--list"]
    if not words or not words[0].isdigit():
        sys.exit(__doc__)
    seed, words = int(words[0]), words[1:]
    count = int(words.pop(0)) if words and words[0].isdigit() else 300
    folders = [w.rstrip("/") for w in words] or [f"src/{layer}" for layer in PROGRAM if layer != "base"]
    rows = list(drawn(seed, count, folders))
    if only_list:
        for path, number, old, kind, new in rows:
            print(f"{path}:{number + 1} {kind}: {old.strip()}  ->  {new.strip()}")
        return
    programs = sorted({PROGRAM[str(path).split("/")[1]] for path, *_ in rows})
    work.mkdir(parents=True, exist_ok=True)
    print("building", *programs, flush=True)
    prepared(programs)
    suites = {}
    for p in programs:
        suites[p] = Suites(p)
        print(p, "takes", round(sum(suites[p].took.values())), "s", flush=True)
    table, lived = collections.defaultdict(collections.Counter), []
    with open(work / "report.txt", "w") as report:
        for k, (path, number, old, kind, new) in enumerate(rows, 1):
            program = PROGRAM[str(path).split("/")[1]]
            source = copy / path
            text = source.read_text()
            lines = text.split("\n")
            if lines[number] != old:
                sys.exit(f"{path} is not as it is in HEAD: commit first")
            lines[number] = new
            target = object_of(path)
            before = digest(target)
            source.write_text("\n".join(lines))
            if sh("ninja", "-C", build, target).returncode:
                fate = "does not build"
            elif digest(target) == before:
                fate = "the same object"
            elif sh("ninja", "-C", build, *children([program]), program).returncode:
                fate = "does not build"
            else:
                by = suites[program].noticed()
                fate = f"noticed by {by}" if by else "LIVES"
            source.write_text(text)
            row = f"{path}:{number + 1} {kind}: {old.strip()}  ->  {new.strip()}"
            folder = "/".join(str(path).split("/")[1:3]) if len(path.parts) > 3 else path.parts[1]
            word = "noticed" if fate.startswith("noticed") else fate
            table[folder][word] += 1
            if fate == "LIVES":
                lived.append(row)
            print(f"{k} {fate}: {row}", file=report, flush=True)
            print(k, fate, row, flush=True)
        lines = [f"seed {seed}, {len(rows)} changes", "folder | counted | noticed | share | not counted"]
        total = collections.Counter()
        for folder, c in sorted(table.items()) + [("all", total)]:
            counted = c["noticed"] + c["LIVES"]
            lines.append(f"{folder} | {counted} | {c['noticed']} | {100 * c['noticed'] / max(1, counted):.0f} % | {sum(c.values()) - counted}")
            if folder != "all":
                total.update(c)
        lines += ["survivors:"] + lived
        print("\n".join(lines), file=report)
        print("\n".join(lines))


@functools.cache
def objects():
    """What the build calls the objects of the layers, by their source below src."""
    found = {}
    for line in sh("ninja", "-C", build, "-t", "targets", "all").stdout.split("\n"):
        if (m := re.match(r"(\S+\.cpp\.o): ", line)) and m[1].startswith("src/"):
            found.setdefault(m[1].split(".dir/")[1][:-2], m[1])
    return found


def object_of(path):
    return objects()["/".join(path.parts[1:])]


def digest(target):
    p = build / target
    return hashlib.sha256(p.read_bytes()).hexdigest() if p.exists() else ""


main()
