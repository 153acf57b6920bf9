#!/usr/bin/env python3
"""Kills a saving and an editing program at random moments and opens what is left. kill_test.py [ROUNDS, 1000 by default]"""
import pathlib
import random
import signal
import subprocess
import sys
import tempfile
import time

here = pathlib.Path(__file__).resolve().parent.parent
victim = here / "build/release/bin/kill_victim"
subprocess.run([here / "scripts/build.sh", "release", "-DVICINAL_TESTS=ON", "kill_victim"], check=True, stdout=subprocess.DEVNULL)
rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
random.seed(1)
with tempfile.TemporaryDirectory() as folder:
    for mode, where in (("save", folder + "/a.vicinal"), ("journal", folder + "/journal")):
        nothing = 0
        for i in range(rounds):
            p = subprocess.Popen([victim, mode, where])
            time.sleep(random.uniform(0.01, 0.15))
            p.send_signal(signal.SIGKILL)
            p.wait()
            code = subprocess.run([victim, "check-" + mode, where]).returncode
            if code == 3:
                nothing += 1
            elif code != 0:
                sys.exit(f"{mode}, round {i + 1}: what is left does not open")
        if nothing > rounds / 2:
            sys.exit(f"{mode}: killed too early to prove anything ({nothing} of {rounds} times nothing was left)")
        print(f"{mode}: {rounds} kills, {rounds - nothing} times something was left, and each time it opened whole")
    left = [f for f in pathlib.Path(folder).rglob(".vicinal-*")]
    if len(left) > 1:  # the last kill's own may be there
        sys.exit(f"{len(left)} temporary files were left behind")
