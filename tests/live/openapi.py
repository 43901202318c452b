# SPDX-License-Identifier: MIT
"""Every path and method of page/openapi.json is asked of a running server, and what comes back is as the
file says. Usage: openapi.py DIACHROME SOURCE-FOLDER (wants python3-jsonschema)"""
import json
import re
import subprocess
import sys
import urllib.error
import urllib.request

import jsonschema

command, source = sys.argv[1:3]
with open(f"{source}/page/openapi.json", encoding="utf-8") as file:
    document = json.load(file)


def serve(*words):
    server = subprocess.Popen([command, "serve", *words, "--listen", "127.0.0.1:0"], stderr=subprocess.PIPE,
                              text=True)
    return server, re.search(r"port=(\d+)", server.stderr.readline()).group(1)


server, port = serve("demo/quay.rig.yaml", "--show", "demo/evening.show")
# the order in which they make sense, what else than 200 is right here, and other bodies
order = ["get", "put", "post", "delete"]
expected = {("get", "/nodes"): 404, ("post", "/show/save"): 400, ("post", "/pairing"): 403, ("delete", "/pairings/{number}"): 404}
wrong, asked = [], 0


def ask(method, path, body):
    request = urllib.request.Request(f"http://127.0.0.1:{port}{path}", body, method=method.upper())
    try:
        with urllib.request.urlopen(request, timeout=10) as answer:
            return answer.status, answer.headers.get_content_type(), answer.read()
    except urllib.error.HTTPError as answer:
        return answer.code, answer.headers.get_content_type(), answer.read()


def check(method, path, operation, body, code):
    global asked
    asked += 1
    status, kind, content = ask(method, path.replace("{name}", "evening").replace("{number}", "1"), body)
    said = operation["responses"].get(str(status))
    if status != code or said is None:
        wrong.append(f"{method} {path}: {status} is not {code}, or not in the file: {content[:200]}")
        return
    if kind not in said["content"]:
        wrong.append(f"{method} {path}: {kind} is none of {list(said['content'])}")
        return
    if kind == "application/json":
        schema = {**said["content"][kind]["schema"], "components": document["components"]}
        for error in jsonschema.Draft202012Validator(schema).iter_errors(json.loads(content)):
            wrong.append(f"{method} {path}: {error.message[:200]}")


try:
    for path, item in document["paths"].items():
        for method in order:
            if method not in item:
                continue
            body = item[method].get("requestBody")
            example = next(iter(body["content"].values()))["schema"]["example"].encode() if body else None
            check(method, path, item[method], example, expected.get((method, path), 200))
    changes = document["paths"]["/changes"]["post"]
    check("post", "/changes", changes, b"paint all goldish", 400)
    check("post", "/changes", changes, b"pause\n" * 65, 413)
    check("put", "/show", document["paths"]["/show"]["put"], b"layer\n", 400)
    # what the server knows, the file knows
    with open(f"{source}/src/live/web_http.c", encoding="utf-8") as file:
        known = set(re.findall(r'LWSHUMETH_[A-Z]+, "([^"]+)"', file.read()))
    for path in known - set(document["paths"]):
        wrong.append(f"{path} is not in the file")
    # one of many nodes, without a broker
    server.terminate()
    server.wait(10)
    server, port = serve("demo/pier.rig.yaml", "--show", "demo/pier.show", "--node", "west", "--mqtt",
                         "127.0.0.1:1")
    for path in "/nodes", "/state":
        check("get", path, document["paths"][path]["get"], None, 200)
finally:
    server.terminate()
    server.wait(10)
print(f"{asked} asked")
print("\n".join(wrong))
sys.exit(1 if wrong or asked < 15 or server.returncode != 0 else 0)
