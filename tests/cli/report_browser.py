# SPDX-License-Identifier: MIT
"""A report in a real browser: no script or other errors, nothing asked for outside, all pictures there,
nothing wider than the window, on a desk, a phone and on paper.
Usage: report_browser.py FILE.html... (wants chromedriver; speaks W3C WebDriver)"""
import base64
import json
import os
import subprocess
import sys
import time
import urllib.request

PORT = 9517


def ask(method, path, body=None):
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"http://127.0.0.1:{PORT}{path}", data, method=method)
    request.add_header("Content-Type", "application/json")
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer)["value"]


SEEN = """
return {
  pictures: document.images.length,
  shown: [...document.images].filter(i => i.complete && i.naturalWidth > 0).length,
  outside: performance.getEntriesByType('resource').filter(r => !r.name.startsWith('data:')).length,
  scripts: document.scripts.length,
  wide: document.documentElement.scrollWidth - document.documentElement.clientWidth,
  sections: document.querySelectorAll('h2').length,
  broken: [...document.querySelectorAll('nav a')].filter(a => !document.querySelector(a.hash)).length,
  over: [...document.querySelectorAll('.wiring')].flatMap(svg => {
    const paths = [...svg.querySelectorAll('path')].map(p => p.getBoundingClientRect());
    return [...svg.querySelectorAll('text')].filter(t => {
      const b = t.getBoundingClientRect();
      return paths.some(p => p.left < b.right - 1 && p.right > b.left + 1 && p.top < b.bottom - 3 &&
                             p.bottom > b.top + 3);
    }).map(t => t.textContent);
  }),
};
"""


def check(session, path):
    wrong = []
    for width in (1280, 420):
        ask("POST", f"/session/{session}/window/rect", {"width": width, "height": 900})
        ask("POST", f"/session/{session}/url", {"url": "file://" + os.path.abspath(path)})
        seen = ask("POST", f"/session/{session}/execute/sync", {"script": SEEN, "args": []})
        log = ask("POST", f"/session/{session}/se/log", {"type": "browser"})
        if seen["pictures"] < 3 or seen["shown"] != seen["pictures"]:
            wrong.append(f"{seen['shown']} of {seen['pictures']} pictures are shown")
        if seen["outside"] or seen["scripts"]:
            wrong.append(f"{seen['outside']} requests, {seen['scripts']} scripts")
        if seen["sections"] != 12 or seen["broken"]:
            wrong.append(f"{seen['sections']} sections, {seen['broken']} links to nowhere")
        if seen["wide"] > 0:
            wrong.append(f"{seen['wide']} pixels too wide at {width}")
        if seen["over"] and width == 1280:
            wrong.append(f"wires over words: {seen['over']}")
        if log:
            wrong.append(f"the browser says: {log[0]['message']}")
    pdf = base64.b64decode(ask("POST", f"/session/{session}/print", {"background": True}))
    if not pdf.startswith(b"%PDF") or pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page ") < 2:
        wrong.append("does not print")
    for line in wrong:
        print(f"{path}: {line}")
    return bool(wrong)


def main():
    driver = subprocess.Popen(["chromedriver", f"--port={PORT}"], stdout=subprocess.DEVNULL,
                              stderr=subprocess.DEVNULL)
    try:
        for _ in range(100):
            try:
                if ask("GET", "/status")["ready"]:
                    break
            except OSError:
                time.sleep(0.1)
        options = {"args": ["--headless=new", "--no-sandbox", "--disable-gpu",
                            "--disable-dev-shm-usage"]}
        session = ask("POST", "/session", {"capabilities": {"alwaysMatch": {
            "goog:chromeOptions": options, "goog:loggingPrefs": {"browser": "ALL"}}}})["sessionId"]
        try:
            return any([check(session, path) for path in sys.argv[1:]])
        finally:
            ask("DELETE", f"/session/{session}")
    finally:
        driver.terminate()
        driver.wait()


sys.exit(main())
