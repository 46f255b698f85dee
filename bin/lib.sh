# Shared by the commands in bin/: installs what is missing, quickly when nothing is. Source it, do not run it.
set -euo pipefail
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
LOCAL="$ROOT/.local"
PY="$ROOT/.venv/bin/python"
MANAGE="$ROOT/server/manage.py"
# The arrays are many and small: threads of the linear algebra would only wait for each other.
export OMP_NUM_THREADS="${OMP_NUM_THREADS:-1}" OPENBLAS_NUM_THREADS="${OPENBLAS_NUM_THREADS:-1}"
# Loops compiled to machine code are kept here, for every command and process.
export NUMBA_CACHE_DIR="${NUMBA_CACHE_DIR:-$LOCAL/numba}"
export PYTHONPATH="$ROOT/core${PYTHONPATH:+:$PYTHONPATH}"
mkdir -p "$LOCAL"

say() { printf '\033[1m%s\033[0m\n' "$*" >&2; }

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

# need_apt PACKAGE... : Debian packages that are not installed yet.
need_apt() {
  local missing=() p
  for p in "$@"; do
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'install ok installed' || missing+=("$p")
  done
  [ ${#missing[@]} -eq 0 ] && return
  say "Installing from Debian: ${missing[*]}"
  as_root apt-get -o DPkg::Lock::Timeout=300 update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends "${missing[@]}" >"$LOCAL/apt.log" 2>&1 ||
    { tail -n 20 "$LOCAL/apt.log" >&2; exit 1; }
}

# stamped NAME FILE... : true when the files are as they were at the last `stamp NAME FILE...`.
digest() { cat "$@" | sha256sum | cut -d' ' -f1; }
stamped() { local n="$1"; shift; [ "$(cat "$LOCAL/$n.stamp" 2>/dev/null)" = "$(digest "$@")" ]; }
stamp() { local n="$1"; shift; digest "$@" >"$LOCAL/$n.stamp"; }

# need_python [tests] : what the product needs, and what tests and checks need besides.
need_python() {
  local name=python files=("$ROOT/requirements.txt") arguments
  [ "${1:-}" != tests ] || { name=python-tests; files+=("$ROOT/requirements-test.txt"); }
  if [ ! -x "$PY" ]; then
    say "Making the virtual environment"
    python3 -m venv "$ROOT/.venv" 2>/dev/null || { need_apt python3-venv; python3 -m venv "$ROOT/.venv"; }
    rm -f "$LOCAL"/python*.stamp
  fi
  stamped "$name" "${files[@]}" && return
  say "Installing Python packages"
  mapfile -t arguments < <(printf -- '-r\n%s\n' "${files[@]}")
  "$PY" -m pip install -q --disable-pip-version-check "${arguments[@]}"
  stamp "$name" "${files[@]}"
}

need_node_modules() {
  command -v npm >/dev/null || need_apt nodejs npm
  [ -d "$ROOT/web/node_modules" ] && stamped npm "$ROOT/web/package-lock.json" && return
  say "Installing web packages"
  (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error >&2)
  stamp npm "$ROOT/web/package-lock.json"
}

web_sources() { find "$ROOT/web/src" "$ROOT/web/index.html" "$ROOT/web/vite.config.ts" "$ROOT/web/package-lock.json" -type f | sort; }

need_web() {
  local files; mapfile -t files < <(web_sources)
  [ -d "$ROOT/web/dist" ] && stamped web "${files[@]}" && return
  need_node_modules
  say "Building the web application"
  (cd "$ROOT/web" && npm run --silent build >&2)
  stamp web "${files[@]}"
}

need_database() { need_apt postgresql; DATABASE_URL="${DATABASE_URL:-$("$ROOT/bin/db" start)}"; export DATABASE_URL; }

# pg_bin : the folder of PostgreSQL's own programs.
pg_bin() { ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1; }

# collect_static : the built web application in a folder of its own for each version, so that no running product is disturbed.
collect_static() {
  local versions="$LOCAL/static"
  export STATIC_ROOT="$versions/$(cat "$LOCAL/web.stamp")"
  [ -f "$STATIC_ROOT/index.html" ] || "$PY" "$MANAGE" collectstatic --noinput -v 0
  touch "$STATIC_ROOT"
  ls -1dt "$versions"/*/ | tail -n +6 | xargs -r rm -rf # the last five stay: one of them may be running
}

# logged FILE COMMAND... : as a command whose output goes to a file.
logged() { printf '%s\n' bash -c 'exec "$@" >>"$0" 2>&1' "$@"; }

# web_command ADDRESS : the words of the command that answers requests.
web_command() {
  printf '%s\n' "$ROOT/.venv/bin/gunicorn" front.wsgi:application --bind "$1" --workers "${WEB_WORKERS:-1}" --threads 4 \
    --timeout 120 --graceful-timeout 5 --access-logfile /dev/null --log-level warning
}

# worker_command [QUEUE] : the words of the command of a worker, of all queues or of one. Nothing big is remembered for quick work.
worker_command() {
  local more=(); [ -z "${1:-}" ] || more=(-q "$1")
  printf '%s\n' env "CACHE_MB=$([ -n "${1:-}" ] && echo 200 || echo "${CACHE_MB:-1500}")" \
    "$PY" "$MANAGE" procrastinate --skip-checks worker --concurrency 1 -p 2 "${more[@]}"
}

# run_product ADDRESS : gunicorn, a worker, and one for what somebody waits for; each is begun again when it ends or is deaf. Takes the
# place of the shell.
run_product() {
  cd "$ROOT/server"
  export PROMETHEUS_MULTIPROC_DIR="${PROMETHEUS_MULTIPROC_DIR:-$LOCAL/metrics}"
  rm -rf "$PROMETHEUS_MULTIPROC_DIR"; mkdir -p "$PROMETHEUS_MULTIPROC_DIR"
  local log="$LOCAL/worker.log" web worker quick command
  [ "$(stat -c %s "$log" 2>/dev/null || echo 0)" -lt 10000000 ] || mv "$log" "$log.1"
  mapfile -t command < <(worker_command); mapfile -t worker < <(logged "$log" "${command[@]}")
  mapfile -t command < <(worker_command quick); mapfile -t quick < <(logged "$log" "${command[@]}")
  mapfile -t web < <(web_command "$1")
  local asked=""; [[ "$1" =~ ^[0-9.]+:[0-9]+$ ]] && asked="@http://${1/0.0.0.0/127.0.0.1}/api/health"
  exec "$PY" "$ROOT/server/supervise.py" worker "${worker[@]}" -- quick "${quick[@]}" -- "web$asked" "${web[@]}"
}

# wait_for URL : until it answers, at most a minute.
wait_for() {
  "$PY" - "$1" <<'PYTHON'
import sys, time, urllib.request
for _ in range(240):
    try:
        urllib.request.urlopen(sys.argv[1], timeout=2)
        sys.exit(0)
    except OSError:
        time.sleep(0.25)
sys.exit("the server did not start; see the messages above")
PYTHON
}
