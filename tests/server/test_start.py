"""The server as it is started: its one link, its port, its data, many requests at once."""

import json
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from http.cookiejar import CookieJar
from pathlib import Path
from urllib.error import HTTPError
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, Request, build_opener

from tests.glasshouse import ROOT, program
from tests.served import Server


def sign_in(opener, link):
    """Opens the link and presses its button."""
    with opener.open(link) as page:
        token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page.read().decode()).group(1)
    opener.open(link, urlencode({"csrfmiddlewaretoken": token}).encode()).close()


class Caller:
    """A signed-in client."""

    def __init__(self, server, link=None):
        self.address = server.address
        self.jar = CookieJar()
        self.opener = build_opener(HTTPCookieProcessor(self.jar))
        sign_in(self.opener, link or server.link)

    def call(self, method, path, value=None, **headers):
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "")
        data = value if value is None or isinstance(value, bytes) else json.dumps(value).encode()
        request = Request(f"{self.address}{path}", data, {"Content-Type": "application/json", **headers}, method=method)
        request.add_header("X-CSRFToken", token)
        with self.opener.open(request) as response:
            return response.status, response.headers, response.read()

    def upload(self, path, name, data, **fields):
        """Sends a file with some fields."""
        edge = "edge-of-a-part"
        body = b""
        for key, value in fields.items():
            body += f'--{edge}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'.encode()
        body += f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        body += data + f"\r\n--{edge}--\r\n".encode()
        headers = {"Content-Type": f"multipart/form-data; boundary={edge}"}
        return json.loads(self.call("POST", path, body, **headers)[2])

    def json(self, method, path, value=None):
        return json.loads(self.call(method, path, value)[2])


class Start(unittest.TestCase):
    def test_one_link_opens_the_demonstration_once(self):
        folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, folder)
        server = Server(folder=folder)
        self.addCleanup(server.stop)
        caller = Caller(server)
        self.assertEqual(len(caller.json("GET", "/api/exercises")), 8)
        with self.assertRaises(HTTPError) as caught:
            build_opener().open(server.link)
        self.assertEqual(caught.exception.code, 410)
        caught.exception.close()
        with self.assertRaises(HTTPError) as caught:
            caller.call("POST", "/api/rigs", {}, **{"X-CSRFToken": "wrong", "Cookie": "sessionid=x"})
        self.assertEqual(caught.exception.code, 403)
        caught.exception.close()

    def test_files_are_compressed_and_kept_by_the_browser(self):
        server = Server("--no-demo")
        self.addCleanup(server.stop)
        caller = Caller(server)
        page = caller.call("GET", "/")[2].decode()
        script = re.search(r"/assets/[^\"]+\.js", page).group()
        _, headers, body = caller.call("GET", script, **{"Accept-Encoding": "br"})
        self.assertEqual((headers["Content-Encoding"], "immutable" in headers["Cache-Control"]), ("br", True))
        self.assertLess(len(body), 400_000)

    def test_the_data_stays_and_a_taken_port_is_one_line(self):
        folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, folder)
        first = Server("--no-demo", folder=folder)
        self.addCleanup(first.stop)
        caller = Caller(first)
        self.assertEqual(caller.json("GET", "/api/rigs"), [])
        source = json.loads((ROOT / "demo" / "rigs" / "glasshouse-cart.json").read_text())
        caller.call("POST", "/api/rigs", {"source": source})
        port = first.address.rsplit(":", 1)[1]
        command = [sys.executable, "-m", "server", "--port", port, "--data", folder]
        taken = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=30)
        self.assertEqual((taken.returncode, len(taken.stderr.splitlines())), (2, 1))
        self.assertIn("Try: ./start --port", taken.stderr)
        beside = subprocess.run(
            [*command[:3], "--port", "0", "--data", folder], cwd=ROOT, capture_output=True, text=True
        )
        self.assertEqual(beside.returncode, 2)
        self.assertIn("Another Geduld serves the folder", beside.stderr)
        first.stop()
        second = Server(folder=folder)
        self.addCleanup(second.stop)
        self.assertEqual([rig["name"] for rig in Caller(second).json("GET", "/api/rigs")], ["glasshouse-cart"])
        self.assertEqual(oct(Path(folder, "secret-key").stat().st_mode)[-3:], "600")

    def test_many_writers_at_once_lose_nothing(self):
        server = Server()
        self.addCleanup(server.stop)
        caller = Caller(server)
        rig = caller.json("GET", "/api/rigs")[0]["id"]
        behaviours = [
            caller.json("POST", "/api/behaviours", {"rig": rig, "title": f"B{k}", "text": ""})["id"] for k in range(6)
        ]

        def write(number):
            text = program(f"wait {number} ms")
            status, _, _ = caller.call("PATCH", f"/api/behaviours/{behaviours[number % 6]}", {"text": text})
            return status

        with ThreadPoolExecutor(6) as pool:
            answers = list(pool.map(write, range(120)))
        self.assertEqual(set(answers), {200})
        texts = [caller.json("GET", f"/api/behaviours/{key}")["text"] for key in behaviours]
        self.assertTrue(all(re.search(r"wait \d+ ms", text) for text in texts))
