# Shared set-up, sourced by ./start, ./check and ./bench. Everything it makes lives in .venv/ and var/.
# It can be run again at any time: it installs only what is missing and never deletes data.

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
VAR="${SUNDIAL_VAR:-$ROOT/var}"
DATA="$VAR/mariadb"
PY="$ROOT/.venv/bin/python"
DB_MINE=""

say() { printf '%s\n' "$*" >&2; }
die() { say "crooked sundial: $*"; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"
  else die "these Debian packages are missing and neither root nor sudo is at hand: $MISSING"; fi
}

need_packages() { # name of a Debian package : a test that it is there
  MISSING=""
  command -v mariadbd >/dev/null || MISSING="$MISSING mariadb-server"
  command -v redis-server >/dev/null || MISSING="$MISSING redis-server"
  command -v mariadb_config >/dev/null || MISSING="$MISSING libmariadb-dev"
  command -v pkg-config >/dev/null || MISSING="$MISSING pkg-config"
  command -v gcc >/dev/null || MISSING="$MISSING build-essential"
  have_library libpangoft2-1.0.so.0 || MISSING="$MISSING libpango-1.0-0 libpangoft2-1.0-0"
  have_library libharfbuzz-subset.so.0 || MISSING="$MISSING libharfbuzz-subset0"
  python3.11 -c 'import ensurepip, venv' 2>/dev/null || MISSING="$MISSING python3.11-venv"
  [ -f "$(python3.11 -c 'import sysconfig; print(sysconfig.get_path("include"))')/Python.h" ] || MISSING="$MISSING python3.11-dev"
  if [ "${1:-}" = browser ]; then
    [ -x /usr/bin/chromium ] || MISSING="$MISSING chromium"
    command -v node >/dev/null || MISSING="$MISSING nodejs"
    command -v npm >/dev/null || MISSING="$MISSING npm"
  fi
  [ -z "$MISSING" ] && return 0
  say "Installing Debian packages:$MISSING"
  as_root apt-get update -qq
  # The system-wide server that the package would start is not wanted: ours is private to var/.
  as_root env DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y -qq --no-install-recommends $MISSING >&2
}

have_library() { [[ "$(ldconfig -p 2>/dev/null || /sbin/ldconfig -p)" == *"$1"* ]]; }

make_venv() {
  local stamp="$ROOT/.venv/.lock-installed" want
  want="$(sha256sum <"$ROOT/requirements.lock")"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$want" ] && return 0
  say "Installing Python packages into .venv"
  [ -x "$PY" ] || python3.11 -m venv "$ROOT/.venv"
  "$ROOT/.venv/bin/pip" install --quiet --disable-pip-version-check --require-hashes -r "$ROOT/requirements.lock" >&2
  printf '%s\n' "$want" >"$stamp"
}

make_node_modules() { # the linter of the scripts, for ./check only
  local stamp="$ROOT/node_modules/.lock-installed" want
  want="$(sha256sum <"$ROOT/package-lock.json")"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$want" ] && return 0
  say "Installing npm packages into node_modules"
  (cd "$ROOT" && npm ci --silent --no-fund --no-audit >&2)
  printf '%s\n' "$want" >"$stamp"
}

disk_of() { df -Pk -- "$1" 2>/dev/null | awk 'NR==2 {print $6, int($4/1024)}'; } # mount point and free MB

ROOM=150 # MB that a start wants free: less, and the database would stop in the middle of a write
enough_room() { local mount free; read -r mount free <<<"$(disk_of "$(dirname "$VAR")")"; [ "${free:-$ROOM}" -ge "$ROOM" ]; }

need_room() {
  local mount free; enough_room && return 0
  read -r mount free <<<"$(disk_of "$(dirname "$VAR")")"
  die "the disk at $mount, which holds $VAR, is full: $free MB are free, $ROOM are needed. Make room and start again; nothing was touched."
}

make_secrets() {
  mkdir -p "$VAR" && chmod 700 "$VAR"
  if [ ! -s "$VAR/secrets.env" ]; then
    (umask 077; python3.11 -c 'import secrets
print("SUNDIAL_SECRET_KEY=" + secrets.token_urlsafe(50))
print("SUNDIAL_DB_PASSWORD=" + secrets.token_urlsafe(24))
print("SUNDIAL_REDIS_PASSWORD=" + secrets.token_urlsafe(24))' >"$VAR/secrets.env.new")
    mv "$VAR/secrets.env.new" "$VAR/secrets.env"
  fi
  if ! grep -q SUNDIAL_REDIS_PASSWORD "$VAR/secrets.env"; then # made before there was a broker
    python3.11 -c 'import secrets; print("SUNDIAL_REDIS_PASSWORD=" + secrets.token_urlsafe(24))' >>"$VAR/secrets.env"
  fi
  set -a; . "$VAR/secrets.env"; set +a
}

free_port() { # the first free loopback port at or after $1
  python3.11 - "$1" <<'PYTHON'
import socket, sys
for port in range(int(sys.argv[1]), 65536):
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind(("127.0.0.1", port))
        except OSError:
            continue
        print(port)
        break
PYTHON
}

# Up, and its start-up file run through: on a first start the server answers before our user has all its rights.
database_answers() {
  mariadb --no-defaults --protocol=tcp -h127.0.0.1 -P"$SUNDIAL_DB_PORT" -usundial -p"$SUNDIAL_DB_PASSWORD" -N -e 'SHOW GRANTS' 2>/dev/null | grep -q 'test'
}

database_pid() { # the process that holds our data folder, if one is alive (a left-over one counts)
  local pid; pid="$(cat "$VAR/mariadb.pid" 2>/dev/null)" || return 1
  [ -n "$pid" ] && { tr '\0' ' ' <"/proc/$pid/cmdline"; } 2>/dev/null | grep -F -- "--datadir=$DATA" >/dev/null && echo "$pid"
}

start_database() {
  need_room
  make_secrets
  export SUNDIAL_DB_PORT
  export SUNDIAL_DB_PORT_FILE="$VAR/mariadb.port" # where processes that live on find it, should it come back on another port
  if [ ! -d "$DATA/mysql" ]; then
    say "Making a private database folder"
    rm -rf "$DATA.new" # only ever a half-made folder of an interrupted first run
    local plain; plain="$(mktemp -d)"; ln -s "$VAR" "$plain/var" # Debian's script takes a name with a space apart
    mariadb-install-db --no-defaults --user="$(id -un)" --datadir="$plain/var/$(basename "$DATA").new" --skip-test-db --auth-root-authentication-method=socket \
      >"$VAR/mariadb-install.log" 2>&1 || die "the database folder could not be made; see var/mariadb-install.log"
    rm -rf "$plain"
    mv "$DATA.new" "$DATA"
  fi
  exec 9>"$VAR/database.lock"; flock -w 60 9 || die "another start is busy with the database"
  if database_pid >/dev/null; then
    SUNDIAL_DB_PORT="$(cat "$VAR/mariadb.port")"
    for _ in $(seq 100); do database_answers && break; sleep 0.1; done
    if database_answers; then use_database; exec 9>&-; return 0; fi
    kill -- "$(database_pid)"; while database_pid >/dev/null; do sleep 0.1; done # does not answer: stop it, it recovers on the next start
  fi
  SUNDIAL_DB_PORT="$(free_port "${SUNDIAL_DB_PORT:-33070}")"
  (umask 077; cat >"$VAR/init.sql" <<SQL
CREATE DATABASE IF NOT EXISTS sundial CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
CREATE USER IF NOT EXISTS 'sundial'@'127.0.0.1' IDENTIFIED BY '$SUNDIAL_DB_PASSWORD';
CREATE USER IF NOT EXISTS 'sundial'@'localhost' IDENTIFIED BY '$SUNDIAL_DB_PASSWORD';
GRANT ALL ON sundial.* TO 'sundial'@'127.0.0.1';
GRANT ALL ON sundial.* TO 'sundial'@'localhost';
GRANT ALL ON \`test\_sundial%\`.* TO 'sundial'@'127.0.0.1';
GRANT ALL ON \`test\_sundial%\`.* TO 'sundial'@'localhost';
SQL
)
  local socket="$VAR/mariadb.sock"
  [ ${#socket} -lt 100 ] || socket="$(mktemp -d)/mariadb.sock"
  setsid mariadbd --no-defaults --user="$(id -un)" --datadir="$DATA" --bind-address=127.0.0.1 --port="$SUNDIAL_DB_PORT" \
    --socket="$socket" --pid-file="$VAR/mariadb.pid" --init-file="$VAR/init.sql" --skip-name-resolve=OFF \
    --innodb-buffer-pool-size=128M --innodb-log-file-size=96M --max-allowed-packet=64M --performance-schema=OFF \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --log-error="$VAR/mariadb.log" 9>&- >/dev/null 2>&1 &
  echo "$SUNDIAL_DB_PORT" >"$VAR/mariadb.port"
  for _ in $(seq 600); do database_answers && break; sleep 0.1; done
  database_answers || { need_room; die "the database did not start; see $VAR/mariadb.log (no data was touched)"; }
  use_database
  exec 9>&-
}

broker_answers() { redis-cli -h 127.0.0.1 -p "$SUNDIAL_REDIS_PORT" --no-auth-warning -a "$SUNDIAL_REDIS_PASSWORD" ping 2>/dev/null | grep -q PONG; }

broker_pid() { # the process of our own broker, if one is alive
  local pid; pid="$(cat "$VAR/redis/redis.pid" 2>/dev/null)" || return 1
  [ -n "$pid" ] && { tr '\0' ' ' <"/proc/$pid/cmdline"; } 2>/dev/null | grep -F "redis-server" >/dev/null && echo "$pid"
}

# Redis for long work and the throttling counters: private to var/, loopback only, with a password, every write kept in an
# append-only file. Without it the product goes on, but for long work.
start_broker() {
  make_secrets
  mkdir -p "$VAR/redis" && chmod 700 "$VAR/redis"
  exec 8>"$VAR/redis.lock"; flock -w 60 8 || die "another start is busy with the broker"
  if broker_pid >/dev/null; then
    SUNDIAL_REDIS_PORT="$(cat "$VAR/redis/port")"
    for _ in $(seq 50); do broker_answers && break; sleep 0.1; done
    if ! broker_answers; then kill -- "$(broker_pid)"; while broker_pid >/dev/null; do sleep 0.1; done; fi
  fi
  if ! broker_pid >/dev/null; then
    SUNDIAL_REDIS_PORT="$(free_port "$(cat "$VAR/redis/port" 2>/dev/null || echo 36379)")"
    (umask 077; cat >"$VAR/redis/redis.conf" <<CONF
bind 127.0.0.1
port $SUNDIAL_REDIS_PORT
requirepass $SUNDIAL_REDIS_PASSWORD
dir "$VAR/redis"
pidfile "$VAR/redis/redis.pid"
logfile "$VAR/redis/redis.log"
daemonize no
appendonly yes
appendfsync everysec
save ""
maxmemory 256mb
maxmemory-policy noeviction
CONF
)
    setsid redis-server "$VAR/redis/redis.conf" 8>&- 9>&- >/dev/null 2>&1 &
    echo "$!" >"$VAR/redis/redis.pid"
    echo "$SUNDIAL_REDIS_PORT" >"$VAR/redis/port"
    for _ in $(seq 100); do broker_answers && break; sleep 0.1; done
    broker_answers || say "The broker did not start (see var/redis/redis.log): long work waits, everything else goes on."
  fi
  export SUNDIAL_REDIS="redis://:$SUNDIAL_REDIS_PASSWORD@127.0.0.1:$SUNDIAL_REDIS_PORT"
  exec 8>&-
}

# ./start and ./check may run side by side on one database and one broker: the last one to leave stops them.
# A user is told by its number and by when it began: a number may be another program's by now.
began() { cut -d' ' -f22 "/proc/$1/stat" 2>/dev/null; }
use_database() { mkdir -p "$VAR/users" && began "$$" >"$VAR/users/$$"; DB_MINE=1; }
still_uses() { local told; [ -e "$1" ] && told="$(cat "$1" 2>/dev/null)" && kill -0 "${1##*/}" 2>/dev/null && { [ -z "$told" ] || [ "$told" = "$(began "${1##*/}")" ]; }; }

clear_left_behind() { # folders of that name whose script was killed: NAME.PID.XXXXXX
  local folder pid
  for folder in "$VAR/$1".*; do
    pid="${folder#"$VAR/$1."}"; pid="${pid%%.*}"
    [ -d "$folder" ] && { ! [[ "$pid" =~ ^[0-9]+$ ]] || ! kill -0 "$pid" 2>/dev/null; } && rm -rf "$folder"
  done
  return 0
}

others_use_database() {
  local user
  for user in "$VAR"/users/*; do
    [ -e "$user" ] || continue
    if still_uses "$user"; then return 0; else rm -f "$user"; fi
  done
  return 1
}

stop_database() {
  [ -n "$DB_MINE" ] || return 0
  DB_MINE=""
  rm -f "$VAR/users/$$"
  if others_use_database; then return 0; fi
  local pid; pid="$(database_pid)" || return 0
  kill "$pid" 2>/dev/null
  for _ in $(seq 300); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
}

stop_services() {
  local mine="$DB_MINE"
  stop_database
  [ -n "$mine" ] && ! others_use_database || return 0
  local pid; pid="$(broker_pid)" || return 0
  kill "$pid" 2>/dev/null
  for _ in $(seq 100); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
}
