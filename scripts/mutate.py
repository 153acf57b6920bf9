#!/usr/bin/env python3
"""Changes the core at random, one place at a time, and tells which changes the layer's own tests do not notice.

  scripts/mutate.py SEED [COUNT] [FOLDER...]     300 changes over all layers, or over some (src/layout, src/clearance ...)
  scripts/mutate.py SEED --above [COUNT] [FOLDER...]     what a layer's own tests do not notice, on those of the layers above too
  scripts/mutate.py SEED --list [COUNT] [FOLDER...]     only says which they would be

Places are drawn by the seed, every statement as likely as any other; what to change in one is drawn among all that can be:
signs, comparisons, off by one, swapped ends and arguments, dropped min, max, abs and factors, removed statements, wrong
constants, negated conditions. It works in a copy of HEAD (build/mutate/src) whose statements stand on one line each, so the
tree stays as it is. All changes are built into one program beside what was there and chosen as it starts (what does not build
is left out and another drawn); each is tried on those suites only that come by, quickest first, two beside one another
(VICINAL_WORKERS), in what the suites start besides as well. What lives is compiled by itself: where the compiler makes the
same code of it (an initial value that nobody reads, say) nothing was changed, and it is left out of the count. Nor is the
boundary of a comparison drawn by which things are sorted: it would break the order's contract, not give another order.
build/mutate/report.txt holds every change with its fate; a table by folder and the survivors stand at the end. A change that
is in no suite's way lives. Constants and what is worked out as the program starts are not changed. What never ends is told by
the processor's time it took, so that work beside does not make it look so.
"""
import collections
import concurrent.futures
import itertools
import json
import os
import pathlib
import random
import re
import shlex
import signal
import subprocess
import sys
import tempfile
import time

here = pathlib.Path(__file__).resolve().parent.parent
work = here / "build/mutate"
copy, build = work / "src", work / "build"
BATCH = 12 # files compiled together: one that does not build costs its neighbours' time
WORKERS = int(os.environ.get("VICINAL_WORKERS", "2")) # changes tried beside one another
# Which program's suites are a layer's own, quickest first by a run of all.
PROGRAM = {"base": "tests_core", "geometry": "tests_core", "layout": "tests_core", "parts": "tests_core", "clearance": "tests_core",
           "model": "tests_model", "exchange": "tests_exchange"}

COMPARE = {"<": ["<=", ">="], ">": [">=", "<="], "<=": ["<", ">"], ">=": [">", "<"], "==": ["!="], "!=": ["=="]}
NOT_CODE = re.compile(r"\.reserve\(|\bassert\(|^\s*(//|\*|#|template\b|struct\b|class\b|enum\b|using\b|namespace\b|static_assert|public:|private:|case .*:$|\}|\{|else$)")


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

    orders = re.search(r"\[[&=\w]*\]\(const [\w:]+& \w+, const [\w:]+& \w+\)|\[[&=\w]*\]\((auto|int|size_t|double) \w+, \1 \w+\)", code)
    for m in re.finditer(r" (<=|>=|==|!=|<|>) ", code):
        for to in COMPARE[m[1]]:
            if orders and m[1] in "<>" and to == m[1] + "=":
                continue
            yield "comparison", put(m.start(1), m.end(1), to)
    for m in re.finditer(r" ([+\-]) (?!1\b)", code):
        yield "sign", put(m.start(1), m.end(1), "-" if m[1] == "+" else "+")
    for m in re.finditer(r" ([+\-])= ", code):
        yield "sign", put(m.start(1), m.end(1), "-" if m[1] == "+" else "+")
    for m in re.finditer(r"(?<=[(,=?:] )-(?=[a-zA-Z(])|(?<=\()-(?=[a-zA-Z(])|(?<=return )-(?=[a-zA-Z(])", code):
        yield "sign", put(m.start(), m.end(), "")
    for m in re.finditer(r" [+\-] 1\b(?![.e])", code):
        yield "off by one", put(m.start(), m.end(), "")
    for m in re.finditer(r" ([*/]) (\w(?:[\w.]|->)*(?:\([^()]*\))?)", code):
        yield "factor", put(m.start(), m.end(), "")
    for m in re.finditer(r"(?<![\w.])(\d+(?:\.\d+)?)(?![\w.])", code):
        if code[:m.start()].rstrip().endswith("<") or re.search(r"Vec$|Mat$", code[:m.start()]):
            continue
        value = m[1]
        to = {"0": "1", "1": "0", "0.0": "1.0", "1.0": "0.0"}.get(value) or (str(int(value) + 1) if value.isdigit() else str(float(value) * 1.5))
        if re.search(r"\de-$", code[:m.start()]): # a tolerance: a thousand times as coarse; ten times as fine is no other number
            to = str(int(value) - 3) if int(value) > 3 else "0"
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


def balanced(text):
    return all(text.count(a) == text.count(b) for a, b in ("()", "{}", "[]"))


def beside(k, old, new, following):
    """The line with both on it, the new one where change k was chosen; None where they cannot stand beside one another."""
    ask = f"vicinal_mutant({k})"
    indent = old[:len(old) - len(old.lstrip())]
    a, b, code = old.strip(), new.strip(), blanked(old).strip()
    a = a[:len(code.rstrip())].rstrip() # without what is said behind
    b = b[:len(blanked(new).strip())].rstrip() or ";"
    if m := re.match(r"(\} else if|else if|if|while)( constexpr)? \(", code):
        if m[2]:
            return None
        end, _ = closing(code, m.end() - 1)
        end_b, _ = closing(blanked(b), m.end() - 1)
        if not end or not end_b or ";" in code[m.end():end] or re.match(r"(const )?(auto|double|int)\b", code[m.end():end]):
            return None
        cond_a, cond_b, rest_a, rest_b = a[m.end():end], b[m.end():end_b], a[end + 1:], b[end_b + 1:]
        if rest_a == rest_b:
            return f"{indent}{a[:m.end()]}{ask} ? bool({cond_b}) : bool({cond_a})){rest_a}"
        if cond_a == cond_b and rest_a.endswith(";") and rest_b.endswith(";"):
            return f"{indent}{a[:m.end()]}{cond_a}) {{ if ({ask}) {{ {rest_b} }} else {{ {rest_a} }} }}"
        return None
    if m := re.match(r"for \(", code):
        end, _ = closing(code, m.end() - 1)
        end_b, _ = closing(blanked(b), m.end() - 1)
        if not end or not end_b or code[m.end():end].count(";") != 2:
            return None
        pa, pb = a[m.end():end].split(";"), b[m.end():end_b].split(";")
        if len(pb) != 3 or a[end:] != b[end_b:] or pa[0] != pb[0] or pa[2] != pb[2]:
            return None
        return f"{indent}for ({pa[0]}; {ask} ? bool({pb[1]}) : bool({pa[1]});{pa[2]}{a[end:]}"
    if not code.endswith(";") or not balanced(code) or re.match(r"(static|constexpr|using|typedef|extern)\b", code):
        return None
    if m := re.match(r"((?:const )?(?:std::)?[\w:]+(?:<[\w:, <>]+>)?[&*]?) (\w+) = (?=[^=])", code):
        if m[1] != "return" and not m[1].endswith(("&", "*")):
            if not b.startswith(a[:m.end()]) or b == ";":
                return None
            _, commas = closing("(" + code[m.end():-1] + ")", 0)
            if commas or code[m.end()] == "{" or re.match(r"\[", code[m.end():]):
                return None
            va, vb, kind = a[m.end():-1], b[m.end():-1], re.sub(r"^const ", "", m[1])
            back = "" if kind == "auto" else f" -> {kind}"
            return f"{indent}{m[1]} {m[2]} = [&](){back} {{ if ({ask}) return {vb}; return {va}; }}();"
    if re.match(r"(?:const )?(?:std::)?[\w:]+(?:<[\w:, <>&*]+>)?[&*]? \w+(\(|\{|;| = |\[|,)", code) and not re.match(r"return\b", code):
        return None # another declaration
    if re.match(r"\s*else\b", following) or re.match(r"(else|do|case|default)\b|\}", code):
        return None
    return f"{indent}{{ if ({ask}) {{ {b} }} else {{ {a} }} }}"


CHOOSER = """#pragma once
#ifdef __cplusplus
#include <cstdio>
#include <fcntl.h>
#include <sys/mman.h>
#include <unistd.h>
struct VicinalMutants {
    static constexpr int kMost = 100000;
    int chosen = -1;
    char* reached = nullptr;
    VicinalMutants() {
        // By session, so that what is started with an empty environment takes part.
        char by[4096], name[4096] = "";
        std::snprintf(by, sizeof by, "WORK/chosen.%d", int(::getsid(0)));
        if (std::FILE* file = std::fopen(by, "r")) {
            if (std::fscanf(file, "%d %4095s", &chosen, name) < 1) chosen = -1;
            std::fclose(file);
        }
        if (name[0]) {
            const int f = ::open(name, O_RDWR | O_CREAT, 0666);
            if (f >= 0 && ::ftruncate(f, kMost) == 0) {
                void* all = ::mmap(nullptr, kMost, PROT_READ | PROT_WRITE, MAP_SHARED, f, 0);
                if (all != MAP_FAILED) reached = static_cast<char*>(all);
            }
            if (f >= 0) ::close(f);
        }
    }
};
inline VicinalMutants vicinal_mutants;
inline bool vicinal_mutant(int k) {
    if (vicinal_mutants.reached) vicinal_mutants.reached[k] = 1;
    return k == vicinal_mutants.chosen;
}
#endif
"""


def drawn(seed, folders):
    """All statements of the copy in the seed's order, each with one change: path, line, old, kind, new, what both are."""
    lines = []
    for folder in folders:
        for path in sorted((copy / folder).rglob("*.cpp")):
            text = path.read_text().split("\n")
            lines += [(path.relative_to(copy), i, text[i], text[i + 1]) for i in range(len(text) - 1)]
    dice = random.Random(seed)
    dice.shuffle(lines)
    for path, number, line, following in lines:
        by_kind = collections.defaultdict(list)
        for kind, new in changes(line):
            if new != line and beside(0, line, new, following):
                by_kind[kind].append(new)
        if by_kind:
            kind = dice.choice(sorted(by_kind))
            yield path, number, line, kind, dice.choice(by_kind[kind]), following


def sh(*words, **more):
    return subprocess.run([str(w) for w in words], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, errors="replace", **more)


def children(programs):
    """What the suites start besides."""
    return ["vicinal-cli", "vicinal-step", "step_report", "kill_victim"] if set(programs) - {"tests_core"} else []


def copied():
    head = sh("git", "-C", here, "rev-parse", "HEAD").stdout.strip()
    if not (copy / ".git").exists():
        sh("git", "-C", here, "worktree", "prune")
        made = sh("git", "-C", here, "worktree", "add", "--detach", "-f", copy, "HEAD")
        if made.returncode:
            sys.exit(made.stdout)
    sh("git", "-C", copy, "checkout", "-q", "-f", "--detach", head)
    sh("git", "-C", copy, "clean", "-q", "-f", "-d")
    style = copy / ".clang-format"
    style.write_text(re.sub(r"(?m)^ColumnLimit:.*\n", "", style.read_text()) + "ColumnLimit: 9999\n")
    sources = sorted(s for layer in PROGRAM for s in (copy / "src" / layer).rglob("*.cpp"))
    made = sh("clang-format", "-i", *sources)
    if made.returncode:
        sys.exit(made.stdout)


def configured():
    (work / "chooser.h").write_text(CHOOSER.replace("WORK", str(work)))
    if not (build / "compile_commands.json").exists():
        made = sh("cmake", "-S", copy, "-B", build, "-G", "Ninja", "-DCMAKE_BUILD_TYPE=Release", "-DCMAKE_EXPORT_COMPILE_COMMANDS=ON", "-DCMAKE_CXX_FLAGS_RELEASE=-O1 -DNDEBUG",
                  "-DVICINAL_WINDOW=OFF", "-DVICINAL_TESTS=ON", "-DCMAKE_UNITY_BUILD=ON", f"-DCMAKE_UNITY_BUILD_BATCH_SIZE={BATCH}")
        if made.returncode:
            sys.exit(made.stdout)


class Suites:
    """The suites of a program: how long each takes, and which changes each comes by."""

    def __init__(self, program):
        self.program = build / "bin" / program
        names = re.findall(r"^  (test_\w+)$", sh(self.program).stdout, re.M)
        self.took, self.reached = {}, {}
        with concurrent.futures.ThreadPoolExecutor(WORKERS) as pool:
            list(pool.map(self.tried, names))
        self.order = sorted(self.took, key=self.took.get)

    def tried(self, name):
        seen = work / f"reached.{name}"
        seen.unlink(missing_ok=True)
        start = time.monotonic()
        if self.one(name, 900, reached=seen):
            start = time.monotonic()
            if failed := self.one(name, 900, reached=seen): # not only while the machine was busy
                print(failed, "fails without any change: left out", flush=True)
                return
        self.took[name] = time.monotonic() - start
        self.reached[name] = {k for k, byte in enumerate(seen.read_bytes()) if byte} if seen.exists() else set()

    def ended(self, p):
        """How it ended; None: nothing of its session took any processor time for a minute and a half."""
        took, since = -1, time.monotonic()
        while True:
            try:
                return p.wait(5)
            except subprocess.TimeoutExpired:
                pass
            now = 0
            for stat in pathlib.Path("/proc").glob("[0-9]*/stat"):
                try:
                    words = stat.read_text().rsplit(")", 1)[1].split()
                except OSError: # it ended meanwhile
                    continue
                if words[3] == str(p.pid): # the session
                    now += sum(int(w) for w in words[11:15])
            if now != took:
                took, since = now, time.monotonic()
            elif time.monotonic() - since > 90:
                return None

    def one(self, name, limit, chosen=-1, reached=""):
        with open(os.devnull, "w") as nothing, tempfile.TemporaryDirectory(prefix="mutate") as own:
            os.chmod(own, 0o755) # some suites go on as another user
            p = subprocess.Popen(["sh", "-c", 'echo "$1" > "$0.$$"; shift; exec prlimit "$@"', work / "chosen", f"{chosen} {reached}",
                                  f"--cpu={int(limit)}", self.program, name], stdout=nothing, stderr=nothing, start_new_session=True,
                                 env=dict(os.environ, HOME=own, TMPDIR=own, QT_QPA_PLATFORM="offscreen"))
            try:
                how = self.ended(p)
                return "" if how == 0 else name + " (never ends)" if how in (None, -signal.SIGXCPU, -signal.SIGKILL) else name
            finally:
                try:
                    os.killpg(p.pid, signal.SIGKILL)
                except ProcessLookupError:
                    pass
                p.wait()
                (work / f"chosen.{p.pid}").unlink(missing_ok=True)

    def chosen(self, k):
        """The fate of change k on the suites that come by it."""
        names = [n for n in self.order if k in self.reached[n]]
        for name in names:
            if by := self.one(name, 30 + 10 * self.took[name], k):
                return f"noticed by {by}"
        return "LIVES" if names else "LIVES, no suite comes by"


class Compiled:
    """Whether the compiler makes the same code of a file with a change and without."""

    def __init__(self, texts):
        self.texts, self.commands = texts, {}
        for row in json.loads((build / "compile_commands.json").read_text()):
            if m := re.search(r" -o \S*vicinal_(\w+)\.dir", row["command"]):
                self.commands.setdefault(m[1], shlex.split(row["command"]))

    def code(self, path, lines):
        words = self.commands.get(path.parts[1], self.commands["exchange"])
        words = [w for before, w in zip([""] + words, words) if w not in ("-o", "-c") and before not in ("-o", "-c")]
        words = words[next(i for i, w in enumerate(words) if re.search(r"\b(c\+\+|g\+\+|clang\+\+)$", w)):] # not by ccache
        words = [w for w in words if not re.fullmatch(r"-O\d|-M[DTF]*|-g\d?", w) and not w.endswith((".o.d", ".o"))]
        with tempfile.TemporaryDirectory(dir=work) as own:
            (pathlib.Path(own) / "a.cpp").write_text("\n".join(lines))
            made = subprocess.run(words + ["-O2", "-g0", "-w", "-S", "-o", "-", "a.cpp"], cwd=own, stdout=subprocess.PIPE,
                                  stderr=subprocess.PIPE, text=True, errors="replace")
        if made.returncode:
            print("not compiled by itself:", path, made.stderr[:300], flush=True)
        return None if made.returncode else made.stdout

    def same(self, row):
        path, number, _, _, new, _ = row
        lines = self.texts[path][:]
        before = self.code(path, lines)
        lines[number] = new
        return before is not None and self.code(path, lines) == before


def programs_of(inside):
    return sorted({PROGRAM[str(row[0]).split("/")[1]] for row in inside.values()})


def built_in(seed, count, folders):
    """Builds as many changes in; the number of each and what it is, and the files as they were."""
    more, inside, texts, next_number = drawn(seed, folders), {}, {}, 1
    while True:
        few = len(inside) < (0.97 if inside else 1) * count # a few that do not build are not worth another round
        while few and len(inside) < count:
            if (row := next(more, None)) is None:
                break
            inside[next_number] = row
            next_number += 1
        for path in {row[0] for row in inside.values()} | set(texts):
            lines = texts.setdefault(path, (copy / path).read_text().split("\n"))[:]
            for k, (where, number, old, _, new, following) in inside.items():
                if where == path:
                    lines[number] = beside(k, old, new, following)
            text = f'#include "{work}/chooser.h"\n#line 1 "{copy / path}"\n' + "\n".join(lines) # what is told keeps its numbers
            if (copy / path).read_text() != text:
                (copy / path).write_text(text)
        programs = programs_of(inside)
        made = sh("ninja", "-k0", "-C", build, *children(programs), *programs)
        if not made.returncode:
            return inside, texts
        said = made.stdout.replace(f"{copy}/", "")
        named = set(re.findall(r"(src/[\w/]+\.cpp):(\d+)", said))
        wrong = {k for k, row in inside.items() if (str(row[0]), str(row[1] + 1)) in named}
        if not wrong: # told elsewhere: all of a file that does not build
            failed = set(re.findall(r"(src/[\w/]+\.cpp):\d+(?::\d+)?: (?:fatal )?error", said))
            wrong = {k for k, row in inside.items() if str(row[0]) in failed}
        if not wrong:
            sys.exit(said[-3000:])
        print(len(wrong), "do not build", flush=True)
        for k in wrong:
            del inside[k]


def main():
    words = sys.argv[1:]
    only_list = "--list" in words
    also_above = "--above" in words
    words = [w for w in words if w not in ("--list", "--above")]
    if not words or not words[0].isdigit():
        sys.exit(__doc__)
    seed, words = int(words[0]), words[1:]
    count = int(words.pop(0)) if words and words[0].isdigit() else 300
    folders = [w.rstrip("/") for w in words] or [f"src/{layer}" for layer in PROGRAM if layer != "base"]
    work.mkdir(parents=True, exist_ok=True)
    copied()
    if only_list:
        for path, number, old, kind, new, _ in itertools.islice(drawn(seed, folders), count):
            print(f"{path}:{number + 1} {kind}: {old.strip()}  ->  {new.strip()}")
        return
    configured()
    inside, texts = built_in(seed, count, folders)
    compiled = Compiled(texts)
    print(len(inside), "changes built in", flush=True)
    suites = {}
    for p in [p for p in dict.fromkeys(PROGRAM.values()) if p in programs_of(inside)]: # from below up
        suites[p] = Suites(p)
        print(p, "takes", round(sum(suites[p].took.values())), "s", flush=True)
    table, lived = collections.defaultdict(collections.Counter), []
    with open(work / "report.txt", "w") as report:

        def told(k, fate):
            path, number, old, kind, new, _ = inside[k]
            row = f"{path}:{number + 1} {kind}: {old.strip()}  ->  {new.strip()}"
            folder = "/".join(str(path).split("/")[1:3]) if len(path.parts) > 3 else path.parts[1]
            word = fate.split(" ")[0].strip(",")
            table[folder][word] += 1
            if word == "LIVES":
                lived.append(f"{fate}: {row}")
            print(f"{k} {fate}: {row}", file=report, flush=True)
            print(k, fate, row, flush=True)

        def own(k):
            return PROGRAM[str(inside[k][0]).split("/")[1]]

        def above(k):
            """The fate of what its own layer let live, by the suites of those above it."""
            for p in list(suites)[list(suites).index(own(k)) + 1:]:
                fate = suites[p].chosen(k)
                if fate.startswith("noticed"):
                    return fate.replace("noticed", "above noticed")
            return unseen[k]

        unseen = {}
        with concurrent.futures.ThreadPoolExecutor(WORKERS) as pool:
            asked = {pool.submit(suites[own(k)].chosen, k): k for k in sorted(inside)}
            for f in concurrent.futures.as_completed(asked):
                k, fate = asked[f], f.result()
                if not fate.startswith("LIVES"):
                    told(k, fate)
                elif compiled.same(inside[k]):
                    told(k, "same code")
                elif not also_above:
                    told(k, fate)
                else:
                    unseen[k] = fate
                    print(k, "unseen by its own layer", inside[k][0], inside[k][1] + 1, flush=True)
            asked = {pool.submit(above, k): k for k in sorted(unseen)}
            for f in concurrent.futures.as_completed(asked):
                told(asked[f], f.result())
        lines = [f"seed {seed}, {len(inside)} changes", "folder | counted | noticed by its own layer | above | same code, not counted | share"]
        total = collections.Counter()
        for folder, c in sorted(table.items()) + [("all", total)]:
            seen, counted = c["noticed"] + c["above"], c["noticed"] + c["above"] + c["LIVES"]
            lines.append(f"{folder} | {counted} | {c['noticed']} | {c['above']} | {c['same']} | {100 * seen / max(1, counted):.1f} %")
            if folder != "all":
                total.update(c)
        lines += ["survivors:"] + lived
        print("\n".join(lines), file=report)
        print("\n".join(lines))


main()
