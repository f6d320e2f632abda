# Sourced after setup.sh: a private MariaDB in a folder of its own, reached by its socket only.

need_mariadb() { need_packages 'command -v mariadbd || ls /usr/sbin/mariadbd' mariadb-server; }

# db_socket FOLDER: sets DB_SOCKET. A socket's path has a short limit, so it lies under the temporary folder where the
# clone's own path is long.
db_socket() {
  DB_SOCKET="$1/mariadb.sock"
  if [ ${#DB_SOCKET} -gt 100 ]; then DB_SOCKET="/tmp/mosaic-$(printf '%s' "$1" | sha256sum | cut -c1-16).sock"; fi
}

# db_run FOLDER: becomes the server
db_run() {
  local folder="$1" server
  server="$(command -v mariadbd || echo /usr/sbin/mariadbd)"
  db_socket "$folder"
  exec "$server" --no-defaults --user="$(id -un)" --datadir="$folder/data" --socket="$DB_SOCKET" --pid-file="$folder/mariadb.pid" \
    --skip-networking --log-error="$folder/mariadb.log" \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_bin --max-allowed-packet=64M \
    --sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO \
    --innodb-buffer-pool-size=128M --innodb-log-file-size=96M ${DB_OPTIONS:-} >/dev/null 2>&1
}

# db_pid FOLDER: the number of the server of this folder that runs now; nothing where none does, whatever a file says
db_pid() {
  local pid
  pid="$(cat "$1/mariadb.pid" 2>/dev/null)" || return 0
  if tr '\0' '\n' <"/proc/$pid/cmdline" 2>/dev/null | grep -qxF -- "--datadir=$1/data"; then printf '%s' "$pid"; fi
}

# db_prepare FOLDER PASSWORD: lays the folder out where it is new; sets DB_SOCKET
db_prepare() {
  db_socket "$1"
  if [ -f "$1/laid-out" ]; then return; fi
  # An older folder, or one whose layout was cut short: all of this can be done twice.
  db_start "$1" "$2"
  db_stop "$1"
}

# db_start FOLDER PASSWORD: starts the server there and makes the user "mosaic"; sets DB_SOCKET
db_start() {
  local folder="$1" password="$2" try
  db_socket "$folder"
  mkdir -p "$folder"; chmod 700 "$folder"
  if [ -S "$DB_SOCKET" ] && mariadb-admin --no-defaults --socket="$DB_SOCKET" -u mosaic -p"$password" ping >/dev/null 2>&1; then return; fi
  if [ ! -d "$folder/data/mysql" ]; then
    mariadb-install-db --no-defaults --user="$(id -un)" --datadir="$folder/data" --skip-test-db \
      --auth-root-authentication-method=socket --auth-root-socket-user="$(id -un)" >"$folder/install.log" 2>&1 \
      || { say "MariaDB could not be set up; see $folder/install.log"; exit 1; }
  fi
  db_run "$folder" &
  disown
  for try in $(seq 600); do [ -S "$DB_SOCKET" ] && mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1 && break; sleep 0.05; done
  mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1 || { say "MariaDB did not start; see $folder/mariadb.log"; exit 1; }
  if [ ! -f "$folder/laid-out" ]; then
    mariadb --no-defaults --socket="$DB_SOCKET" <<SQL
CREATE DATABASE IF NOT EXISTS mosaic CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;
CREATE USER IF NOT EXISTS mosaic@localhost;
ALTER USER mosaic@localhost IDENTIFIED BY '$password';
GRANT ALL ON \`mosaic\`.* TO mosaic@localhost;
GRANT ALL ON \`mosaic\_%\`.* TO mosaic@localhost;
GRANT ALL ON \`test\_mosaic%\`.* TO mosaic@localhost;
SQL
    touch "$folder/laid-out"
  fi
}

# db_stop FOLDER
db_stop() {
  local pid try
  pid="$(db_pid "$1")"
  [ -n "$pid" ] || return 0
  kill "$pid" 2>/dev/null || return 0
  for try in $(seq 1200); do kill -0 "$pid" 2>/dev/null || return 0; sleep 0.05; done
}
