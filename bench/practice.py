#!/usr/bin/env python3
"""How fast practice answers: cases of each level drawn, questioned, checked, mended and looked back on.

    bench/practice.py http://127.0.0.1:8080    a program with the demo, without members
"""

import http.client
import statistics
import sys
import time
import urllib.parse

LEVELS = ["clear", "messy", "popular-wrong", "two-causes", "nothing-wrong", "dangerous"]
ACTS = [
    ("ask", "ringing"),
    ("ask", "strings"),
    ("check", "belt-pluck"),
    ("check", "wall-thickness"),
    ("fix", "dry-filament"),
]
SITE = sys.argv[1].rstrip("/")
CONNECTION = http.client.HTTPConnection(urllib.parse.urlsplit(SITE).netloc)


def asked(path, fields=None):
    """Milliseconds of one request, and where it leads."""
    body = None if fields is None else urllib.parse.urlencode(fields)
    headers = {"Origin": SITE, "Content-Type": "application/x-www-form-urlencoded"}
    begin = time.perf_counter()
    CONNECTION.request("GET" if fields is None else "POST", path, body, headers)
    answer = CONNECTION.getresponse()
    answer.read()
    return (time.perf_counter() - begin) * 1e3, answer.getheader("Location")


def figures(name, times):
    times.sort()
    print(
        f"{name:16} median {statistics.median(times):5.1f} ms, "
        f"nine of ten {times[len(times) * 9 // 10]:5.1f}, worst of {len(times)} {times[-1]:5.1f}"
    )


drawn, answered, looked_back = [], [], []
for seed in range(1, 41):
    for level in (LEVELS[seed % 6], LEVELS[(seed + 1) % 6]):
        took, case = asked("/practice", {"level": level, "seed": seed, "line_up": "after"})
        if case is None:
            continue
        case = case.split("?")[0]
        drawn.append(took + asked(case)[0])
        for act, name in ACTS:
            took, _ = asked(case, {"act": act, "id": name, "begun": "as"})
            answered.append(took + asked(case)[0])
        asked(case, {"act": "give-up"})
        looked_back.append(asked(case)[0])
figures("drawn and told", drawn)
figures("an answer", answered)
figures("looking back", looked_back)
