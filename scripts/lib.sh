# Shared by ./demo, ./test and .ci/run: what a fresh machine lacks, and a private database.
# Source it from the project's root.

say() { printf '\n\033[1m%s\033[0m\n' "$*"; }
fail() { printf '\n%s\n' "$*" >&2; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "Missing: $*. Run that as root, then start again."; fi
}

# Installs Debian packages that are not there yet.
need_packages() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  say "Installing ${missing[*]}"
  as_root apt-get update -qq || fail "The package lists could not be fetched. Check the network, then start again."
  DEBIAN_FRONTEND=noninteractive as_root apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null \
    || fail "Installing ${missing[*]} failed; the lines above say why."
}

need_tools() {
  command -v cargo >/dev/null || fail "Rust is missing. Install it with rustup, then start again."
  command -v npm >/dev/null || fail "Node.js 20 or newer is missing. Install it, then start again."
  need_packages gcc libc6-dev postgresql
  local target
  target=$(rustc --print target-libdir --target wasm32-unknown-unknown 2>/dev/null || true)
  [ -d "$target" ] || need_packages rustc-web rust-web-src rust-web-llvm lld-22
}

# Node packages, when the lock file changed.
need_node_packages() {
  local dir=$1 stamp="$1/node_modules/.lock-sum" sum
  sum=$(sha256sum "$dir/package-lock.json")
  [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  say "Installing the Node packages of $dir"
  (cd "$dir" && npm ci --no-audit --no-fund --loglevel=error) || fail "npm ci in $dir failed; the lines above say why."
  echo "$sum" > "$stamp"
}

build_pages() {
  scripts/build-wasm || fail "The browser module was not built; the lines above say why."
  need_node_packages web
  (cd web && npx vite build --logLevel warn) || fail "The pages were not built; the lines above say why."
}

# Things that run beside each other, each with a log that is shown where it fails. Needs a folder $work.
declare -A jobs
stop_jobs() {
  # Each leads a group of its own, with everything that it started.
  for job in "${jobs[@]}"; do kill -- "-$job" 2>/dev/null || true; done
}
beside() {
  local name=$1; shift
  setsid "$@" > "$work/$name.log" 2>&1 &
  jobs[$name]=$!
}
finish() {
  wait "${jobs[$1]}" || { cat "$work/$1.log" >&2; fail "The $1 failed; the lines above say why."; }
  unset "jobs[$1]"
}

# The program holds the pages, which come last: until then it is built with none.
room_for_pages() {
  mkdir -p web/dist
  [ -e web/dist/index.html ] || : > web/dist/index.html
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1; }

# PostgreSQL refuses to run as root, so there it gets the package's own account.
as_db() {
  if [ "$(id -u)" = 0 ]; then setpriv --reuid=postgres --regid=postgres --clear-groups env HOME=/tmp "$@"; else "$@"; fi
}

# Starts a private cluster in folder $1, made when missing; further arguments are settings. Sets DATABASE_BASE,
# the address up to the database's name.
start_database() {
  local dir=$1 bin port; shift
  bin=$(pg_bin)
  mkdir -p "$dir"
  chmod 755 "$dir"
  if [ "$(id -u)" = 0 ]; then
    chown postgres:postgres "$dir"
    as_db test -x "$dir" || fail "The account postgres cannot enter $dir. Let others pass through the folders above it (chmod o+x), or set ZEALOUS_LANE_DATA to a folder that it can enter."
  fi
  if [ ! -f "$dir/password" ]; then
    (umask 077; head -c 18 /dev/urandom | base64 | tr '+/' 'ab' > "$dir/password")
    [ "$(id -u)" = 0 ] && chown postgres:postgres "$dir/password"
  fi
  if [ ! -f "$dir/cluster/PG_VERSION" ]; then
    (cd / && as_db "$bin/initdb" -D "$dir/cluster" -U lane --pwfile="$dir/password" --auth=scram-sha-256 -E UTF8 --locale=C.UTF-8) \
      > "$dir/initdb.log" 2>&1 || fail "The database could not be made: $(tail -3 "$dir/initdb.log")"
  fi
  port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])' 2>/dev/null \
    || node -e 'const s = require("net").createServer().listen(0, "127.0.0.1", () => { console.log(s.address().port); s.close(); })')
  local settings="-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories= -c max_connections=60"
  for setting in "$@"; do settings+=" -c $setting"; done
  (cd / && as_db "$bin/pg_ctl" -D "$dir/cluster" -l "$dir/postgres.log" -w -t 30 -o "$settings" start) >/dev/null \
    || fail "The database did not start: $(as_db tail -5 "$dir/postgres.log")"
  DATABASE_DIR=$dir
  DATABASE_BASE="postgres://lane:$(cat "$dir/password")@127.0.0.1:$port"
}

stop_database() {
  [ -n "${DATABASE_DIR:-}" ] || return 0
  (cd / && as_db "$(pg_bin)/pg_ctl" -D "$DATABASE_DIR/cluster" -m fast -w stop) >/dev/null 2>&1 || true
  DATABASE_DIR=
}

# Makes database $1 in the running cluster when it is missing.
make_database() {
  as_db env PGPASSWORD="$(cat "$DATABASE_DIR/password")" "$(pg_bin)/psql" -q "$DATABASE_BASE/postgres" -tAc \
    "select 1 from pg_database where datname = '$1'" | grep -q 1 \
    || as_db "$(pg_bin)/psql" -q "$DATABASE_BASE/postgres" -c "create database $1"
}
