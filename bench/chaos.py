"""Chaos: people edit, import and start jobs on two hosts that share a database, while web, worker and database are killed, the
database stands still, the disk is full and the network of one host is cut, at random; then everything acknowledged is looked for.
Run by hand:

    python -m bench.chaos [MINUTES] [PEOPLE] [--calm] [--pause SECONDS]

It makes a database of its own in the cluster of bin/db. The hosts are two products at two ports, each with a line of its own to the
database that can be cut. Each request goes to either host, and what was saved at one is read at the other. --calm breaks nothing and
measures. The full disk needs root, which mounts a small one for the database's files; else it is left out, and said.
Needs what bin/demo installs. Ends with 1 where anything that was acknowledged is missing or was seen late.
"""

import argparse
import contextlib
import http.client
import json
import os
import random
import select
import signal
import socket
import subprocess
import sys
import threading
import time
from collections import Counter
from dataclasses import dataclass, field
from http.cookies import SimpleCookie
from pathlib import Path
from typing import Any

import psycopg

ROOT = Path(__file__).resolve().parents[1]
PORTS = (8123, 8124)
#: Of the disk that is filled, bytes.
DISK = 400_000_000
LOG = ROOT / ".local" / "chaos.log"
MANAGE = [sys.executable, str(ROOT / "server" / "manage.py")]
SURVEY = "number,east,north,level,code\n" + "".join(
    f"{i},{1000 + 7 * i},{2000 + i * i % 50},{90 + i % 3},GR\n" for i in range(40)
)
MAPPING = {"delimiter": ",", "header": True, "number": 0, "east": 1, "north": 2, "level": 3, "code": 4}


@dataclass
class Person:
    """Somebody who works by the API. edits: (key, name) acknowledged; jobs: ids acknowledged; took: seconds of each save; late: what
    was saved at one host and not there at the other."""

    name: str
    project: int
    cookies: dict[str, str] = field(default_factory=dict)
    edits: list[tuple[str, str]] = field(default_factory=list)
    jobs: list[str] = field(default_factory=list)
    took: list[float] = field(default_factory=list)
    late: list[str] = field(default_factory=list)
    statuses: Counter[int] = field(default_factory=Counter)

    def ask(self, method: str, path: str, body: object = None, raw: tuple[str, bytes] | None = None) -> tuple[int, Any]:
        """Status and answer; status 0 where nobody answered."""
        kind, data = raw or ("application/json", b"" if body is None else json.dumps(body).encode())
        headers = {
            "Content-Type": kind, "X-CSRFToken": self.cookies.get("csrftoken", ""),
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
        }  # fmt: skip
        link = http.client.HTTPConnection("127.0.0.1", random.choice(PORTS), timeout=30)
        try:
            link.request(method, path, data, headers)
            answer = link.getresponse()
            text = answer.read()
            for line in answer.headers.get_all("Set-Cookie") or []:
                self.cookies.update({k: m.value for k, m in SimpleCookie(line).items()})
            self.statuses[answer.status] += 1
            return answer.status, json.loads(text) if text[:1] in (b"{", b"[") else None
        except (OSError, http.client.HTTPException, ValueError):
            self.statuses[0] += 1
            return 0, None
        finally:
            link.close()

    def sign_in(self) -> None:
        while self.ask("GET", "/api/session")[0] != 200:
            time.sleep(0.5)
        while self.ask("POST", "/api/session", {"name": self.name, "password": self.name})[0] != 200:
            time.sleep(0.5)

    def work(self, until: float, chance: random.Random, pause: float) -> None:
        """Edits of one's own material, now and then an import or a check; pause: between them, s in the mean."""
        self.sign_in()
        key, number, version = f"chaos-{self.name}", 0, 0
        base = f"/api/projects/{self.project}"
        while time.monotonic() < until:
            number += 1
            name = f"{self.name} {number}"
            spec = {"name": name, "density": 2.0, "colour": "#EEDDAA", "pattern": "dotted"}
            begun = time.monotonic()
            body = {"kind": "material", "spec": spec, "version": version}
            status, told = self.ask("PUT", f"{base}/documents/material/{key}", body)
            if status == 200:
                self.took.append(time.monotonic() - begun)
                version = told["version"]
                self.edits.append((key, name))
                if number % 4 == 0:
                    self.read_back(base, key, name)
            elif status == 409:  # an answer was lost on its way: what it wrote stands there
                version = (told["current"] or {}).get("version", 0)
            dice = chance.random()
            if dice < 0.02:
                self.take_in(base)
            elif dice < 0.05:
                status, told = self.ask("POST", f"{base}/jobs/volume_check")
                if status == 200:
                    self.jobs.append(told["id"])
            elif dice < 0.3:
                self.ask("GET", f"{base}/model")
            time.sleep(chance.uniform(0.3, 1.7) * pause)

    def read_back(self, base: str, key: str, name: str) -> None:
        """What was saved is there at whichever host is asked."""
        status, told = self.ask("GET", f"{base}/documents")
        if status == 200:
            there = [d["spec"]["name"] for d in told["documents"] if d["key"] == key]
            if there != [name]:
                self.late.append(f"{name} was saved, {there} was read")

    def take_in(self, base: str) -> None:
        """Import a survey."""
        edge = "----chaos"
        form = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="s.csv"\r\n\r\n{SURVEY}\r\n--{edge}--\r\n'
        status, told = self.ask("POST", f"{base}/uploads", raw=(f"multipart/form-data; boundary={edge}", form.encode()))
        if status != 200:
            return
        status, told = self.ask("POST", f"{base}/uploads/{told['id']}/import", {"mapping": MAPPING})
        if status == 200:
            self.jobs.append(told["id"])


class Line:
    """A host's line to the database, which can be cut: what is under way ends, and nothing new comes through."""

    def __init__(self, port: int) -> None:
        self.to, self.cut = port, False
        self.server = socket.create_server(("127.0.0.1", 0))
        self.port = self.server.getsockname()[1]
        threading.Thread(target=self._take, daemon=True).start()

    def _take(self) -> None:
        while True:
            near, _ = self.server.accept()
            threading.Thread(target=self._carry, args=(near,), daemon=True).start()

    def _carry(self, near: socket.socket) -> None:
        try:
            far = socket.create_connection(("127.0.0.1", self.to), timeout=5)
        except OSError:
            near.close()
            return
        with near, far:
            while not self.cut:
                for one in select.select([near, far], [], [], 0.2)[0]:
                    try:
                        data = one.recv(1 << 16)
                        (far if one is near else near).sendall(data)
                    except OSError:
                        return
                    if not data:
                        return


def children(of: int) -> list[tuple[int, str]]:
    """Processes begun by one, with what they were called with."""
    found = subprocess.run(["ps", "-o", "pid=,args=", "--ppid", str(of)], capture_output=True, text=True, check=False).stdout
    return [(int(line.split()[0]), line) for line in found.splitlines()]


def memory(products: list[int]) -> dict[str, float]:
    """Resident memory of all web and all worker processes, MB."""
    found = {"web": 0.0, "worker": 0.0}
    seen = [(pid, line) for product in products for pid, line in children(product)]
    while seen:
        pid, line = seen.pop()
        seen += children(pid)
        what = next((name for name, word in (("web", "gunicorn"), ("worker", "procrastinate")) if word in line), None)
        with contextlib.suppress(OSError):
            resident = [row for row in Path(f"/proc/{pid}/status").read_text().splitlines() if row.startswith("VmRSS")]
            if what and resident:
                found[what] += int(resident[0].split()[1]) / 1024
    return found


@dataclass
class Trouble:
    """What goes wrong, one thing at a time. hosts: processes of the products; lines: of each host; disk: where the database's files
    lie when they are on a disk of their own, else None."""

    hosts: list[int]
    lines: list[Line]
    disk: Path | None
    chance: random.Random
    done: Counter[str] = field(default_factory=Counter)

    def make(self) -> None:
        kinds = ["web", "worker", "database", "still", "cut", *(["full"] if self.disk else [])]
        what = self.chance.choice(kinds)
        self.done[what] += 1
        getattr(self, f"_{what}")()

    def _wait(self, least: float, most: float) -> None:
        time.sleep(self.chance.uniform(least, most))

    def _web(self) -> None:
        self._kill("gunicorn", True)

    def _worker(self) -> None:
        self._kill("gunicorn", False)

    def _kill(self, word: str, has: bool) -> None:
        for pid, words in children(self.chance.choice(self.hosts)):
            if (word in words) == has:
                for inner, _ in [*children(pid), (pid, "")]:
                    os.kill(inner, signal.SIGKILL)

    def _database(self) -> None:
        subprocess.run([ROOT / "bin" / "db", "crash"], check=False, capture_output=True)
        self._wait(0.5, 6)
        subprocess.run([ROOT / "bin" / "db", "start"], check=True, capture_output=True)

    def _still(self) -> None:
        """As with a disk that does not answer for a while."""
        folder = ROOT / ".local" / "pg" / "data" / "postmaster.pid"
        main = int(folder.read_text().split()[0])
        every = [main, *(pid for pid, _ in children(main))]
        for pid in every:
            _signal(pid, signal.SIGSTOP)
        self._wait(1, 8)
        for pid in every:
            _signal(pid, signal.SIGCONT)

    def _cut(self) -> None:
        line = self.chance.choice(self.lines)
        line.cut = True
        self._wait(1, 15)
        line.cut = False

    def _full(self) -> None:
        assert self.disk is not None
        filler = self.disk / "filler"
        with open(filler, "wb") as f, contextlib.suppress(OSError):
            while True:
                f.write(bytes(1 << 16))
                f.flush()
        self._wait(2, 8)
        filler.unlink()


def _signal(pid: int, what: signal.Signals) -> None:
    with contextlib.suppress(ProcessLookupError):
        os.kill(pid, what)


def small_disk() -> Path | None:
    """A disk of DISK bytes that the database's own user may write to; None where it cannot be mounted."""
    place = ROOT / ".local" / "small-disk"
    place.mkdir(exist_ok=True)
    unmount(place)
    if subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={DISK}", "tmpfs", place], capture_output=True, check=False
    ).returncode:
        print("no disk could be mounted: it is not filled")
        return None
    files = place / "files"
    files.mkdir()
    owner = (ROOT / ".local" / "pg" / "data").stat()
    os.chown(files, owner.st_uid, owner.st_gid)
    return place


def unmount(place: Path) -> None:
    """The small disk goes, where there is one."""
    subprocess.run(["umount", place], capture_output=True, check=False)


def look(database: str, people: list[Person]) -> list[str]:
    """What was acknowledged and is not there."""
    wrong = []
    with psycopg.connect(database) as c:
        edits = {
            (k, a["name"])
            for k, a in c.execute("select key, after from design_editrecord where kind = 'material'").fetchall()
            if a
        }
        for person in people:
            wrong += [f"lost: {edit}" for edit in person.edits if edit not in edits]
            last = c.execute(
                "select spec->>'name' from design_document where project_id = %s and key = %s",
                (person.project, f"chaos-{person.name}"),
            ).fetchone()
            if person.edits and (last is None or int(last[0].split()[-1]) < int(person.edits[-1][1].split()[-1])):
                wrong.append(f"{person.name}: {last} stands there, {person.edits[-1]} was acknowledged")
        states = Counter(s for (s,) in c.execute("select state from jobs_job").fetchall())
        wrong += [f"{states[s]} jobs {s}" for s in ("waiting", "running") if states[s]]
        done = c.execute(
            "select count(*) from jobs_job where kind = 'import_survey' and state = 'done' and user_id in "
            "(select id from auth_user where username like 'person%')"
        ).fetchone()
        rows = c.execute("select count(*) from survey_survey where name = 's.csv'").fetchone()
        assert done and rows
        if rows[0] != done[0]:
            wrong.append(f"{done[0]} imports are done, {rows[0]} surveys are there")
        print("jobs:", dict(states), "imports:", rows[0])
    return wrong


def main() -> int:
    asked = argparse.ArgumentParser()
    asked.add_argument("minutes", type=float, nargs="?", default=10.0)
    asked.add_argument("people", type=int, nargs="?", default=20)
    asked.add_argument("--calm", action="store_true")
    asked.add_argument("--pause", type=float, default=0.35, help="between the edits of one person, s")
    asked.add_argument("--seed", type=int, default=1)
    a = asked.parse_args()
    cluster = (
        subprocess.run([ROOT / "bin" / "db", "start"], check=True, capture_output=True, text=True)
        .stdout.split()[-1]
        .rsplit("/", 1)[0]
    )
    database = f"{cluster}/chaos"
    disk = None if a.calm else small_disk()
    with psycopg.connect(f"{cluster}/postgres", autocommit=True) as c:
        c.execute("drop database if exists chaos with (force)")
        c.execute("drop tablespace if exists chaos")
        if disk:
            c.execute(f"create tablespace chaos location '{disk}/files'")
        c.execute("create database chaos" + (" tablespace chaos" if disk else ""))
    port = int(cluster.rsplit(":", 1)[1])
    os.environ.update(DATABASE_URL=database, TIN_SADDLE_MODE="demo", PYTHONPATH=str(ROOT / "core"))
    names = [f"person{i}" for i in range(a.people)]
    subprocess.run([*MANAGE, "migrate", "-v", "0"], check=True)
    subprocess.run([*MANAGE, "chaos_people", *names], check=True)
    with psycopg.connect(database) as c:
        projects = [i for (i,) in c.execute("select id from projects_project order by id").fetchall()]
    lines = [Line(port) for _ in PORTS]
    products = [
        subprocess.Popen(
            ["bash", "-c", f"source {ROOT}/bin/lib.sh; run_product 127.0.0.1:{at}"], stdout=subprocess.DEVNULL,
            stderr=open(LOG.with_suffix(f".{at}.log"), "w"),  # noqa: SIM115
            env={**os.environ, "DATABASE_URL": database.replace(f":{port}/", f":{line.port}/"), "PROMETHEUS_MULTIPROC_DIR": f"{LOG}.{at}"},
        )
        for at, line in zip(PORTS, lines, strict=True)
    ]  # fmt: skip
    people = [Person(name, projects[i % len(projects)]) for i, name in enumerate(names)]
    until = time.monotonic() + 60 * a.minutes
    threads = [threading.Thread(target=p.work, args=(until, random.Random(a.seed + i), a.pause)) for i, p in enumerate(people)]
    for thread in threads:
        thread.start()
    chance = random.Random(a.seed)
    trouble = Trouble([p.pid for p in products], lines, disk, chance)
    held: list[dict[str, float]] = []
    try:
        while time.monotonic() < until - 20:
            time.sleep(chance.uniform(5, 15))
            held.append(memory([p.pid for p in products]))
            if not a.calm:
                trouble.make()
        for thread in threads:
            thread.join()
        for _ in range(240):  # the worker ends what is open
            with psycopg.connect(database) as c:
                if c.execute("select count(*) from jobs_job where state in ('waiting', 'running')").fetchone() == (0,):
                    break
            time.sleep(1)
    finally:
        for product in products:
            product.terminate()
        for product in products:
            product.wait()
    wrong = look(database, people) + [line for p in people for line in p.late]
    if disk:
        with psycopg.connect(f"{cluster}/postgres", autocommit=True) as c:
            c.execute("drop database chaos with (force)")
            c.execute("drop tablespace chaos")
        unmount(disk)
    took = sorted(t for p in people for t in p.took)
    statuses = sum((p.statuses for p in people), Counter[int]())
    print(
        f"went wrong {dict(trouble.done)}; {len(took)} saves, p50 {took[len(took) // 2]:.3f} s, p95 {took[int(len(took) * 0.95)]:.3f} s"
    )
    print(f"answers by status (0: nobody answered): {dict(sorted(statuses.items()))}")
    for what in ("web", "worker") if held else ():
        tenths = [held[i * (len(held) - 1) // 10][what] for i in range(11)]
        print(f"memory of {what}, MB, by tenths of the run: {' '.join(f'{m:.0f}' for m in tenths)}")
    print("\n".join(wrong) or "everything acknowledged is there, and was at once")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
