# Shared by bin/start and bin/test: packages, and a PostgreSQL of the project's own on loopback. Sourced, not run.
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
export NEXT_TELEMETRY_DISABLED=1
DB_PORT=${LIVELY_DB_PORT:-54329}

say() { printf '%s\n' "$*"; }

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

apt_install() {
  say "installing $* (Debian)"
  as_root apt-get update -qq >/dev/null
  DEBIAN_FRONTEND=noninteractive as_root apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

ensure_packages() {
  local stamp=node_modules/.lively-stamp sum
  sum=$(sha256sum package-lock.json | cut -d' ' -f1)
  if [ ! -f "$stamp" ] || [ "$(cat "$stamp")" != "$sum" ]; then
    say 'installing npm packages'
    # not npm ci: it refuses a lock whose optional packages for other systems a registry does not carry
    npm install --no-save --no-audit --no-fund --loglevel=error >/dev/null
    echo "$sum" > "$stamp"
  fi
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

# PostgreSQL refuses to run as root: then the postgres user owns the data, in a place that it can reach
pg_as() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }

ensure_database_server() {
  [ -n "$(pg_bin)" ] && [ -x "$(pg_bin)/initdb" ] || apt_install postgresql
  PG_BIN=$(pg_bin)
  PG_HOME="$root/.data/pg"
  if [ "$(id -u)" = 0 ]; then
    mkdir -p "$root/.data"
    if ! runuser -u postgres -- test -x "$root/.data"; then
      PG_HOME="/var/lib/lively-spindle/$(printf '%s' "$root" | sha256sum | cut -c1-12)"
    fi
    mkdir -p "$PG_HOME"; chown postgres "$PG_HOME"
  else
    mkdir -p "$PG_HOME"
  fi
  local fresh_port_file="$PG_HOME/port"
  [ -f "$fresh_port_file" ] && DB_PORT=$(cat "$fresh_port_file")
  if [ ! -s "$PG_HOME/data/PG_VERSION" ]; then
    say 'making a database cluster'
    pg_as "$PG_BIN/initdb" -D "$PG_HOME/data" -U lively -A trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null
  fi
  if ! pg_as "$PG_BIN/pg_ctl" -D "$PG_HOME/data" status >/dev/null 2>&1; then
    # another checkout may hold the port: take the next free one and remember it
    while (exec 3<>"/dev/tcp/127.0.0.1/$DB_PORT") 2>/dev/null; do DB_PORT=$((DB_PORT + 1)); done
    pg_as "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -w -t 60 -l "$PG_HOME/log" \
      -o "-c listen_addresses=127.0.0.1 -c port=$DB_PORT -c unix_socket_directories=$PG_HOME" start >/dev/null
    pg_as sh -c "echo $DB_PORT > '$fresh_port_file'"
  fi
}

# database_url NAME: makes the database where it is missing and prints its address
database_url() {
  local exists
  exists=$(pg_as "$PG_BIN/psql" -h 127.0.0.1 -p "$DB_PORT" -U lively -d postgres -tAc "select 1 from pg_database where datname = '$1'")
  [ "$exists" = 1 ] || pg_as "$PG_BIN/createdb" -h 127.0.0.1 -p "$DB_PORT" -U lively "$1"
  printf 'postgres://lively@127.0.0.1:%s/%s' "$DB_PORT" "$1"
}

# builds only when a source has changed since the last build
ensure_build() {
  local sum stamp=.next/lively-stamp
  sum=$( (git ls-files -co --exclude-standard -- src next.config.ts postcss.config.mjs package-lock.json tsconfig.json 2>/dev/null || find src -type f) | sort | while read -r f; do [ -f "$f" ] && sha256sum "$f"; done | sha256sum | cut -d' ' -f1)
  if [ ! -f "$stamp" ] || [ "$(cat "$stamp")" != "$sum" ]; then
    say 'building'
    rm -rf .next
    # the solid kernel's code is served as a file of its own, fetched when the first solid is brought in
    mkdir -p public && cp node_modules/replicad-opencascadejs/dist/replicad_single.wasm public/solid-kernel.wasm
    npx next build >.next-build.log 2>&1 || { cat .next-build.log; rm -f .next-build.log; exit 1; }
    rm -f .next-build.log
    echo "$sum" > "$stamp"
  fi
}

setup_database() { DATABASE_URL=$1 node --import ./node_modules/tsx/dist/loader.mjs src/server/setup.ts "${@:2}"; }

# free_port FROM
free_port() { local p=$1; while (exec 3<>"/dev/tcp/127.0.0.1/$p") 2>/dev/null; do p=$((p + 1)); done; echo "$p"; }
