# Sourced after setup.sh: a private MariaDB in a folder of its own, reached by its socket only.

need_mariadb() { need_packages 'command -v mariadbd || ls /usr/sbin/mariadbd' mariadb-server; }

# db_start FOLDER PASSWORD: starts the server there and makes the user "mosaic"; sets DB_SOCKET
db_start() {
  local folder="$1" password="$2" data="$1/data" first="" server
  server="$(command -v mariadbd || echo /usr/sbin/mariadbd)"
  # A socket's path has a short limit, so it lies under the temporary folder where the clone's own path is long.
  DB_SOCKET="$folder/mariadb.sock"
  if [ ${#DB_SOCKET} -gt 100 ]; then DB_SOCKET="/tmp/mosaic-$(printf '%s' "$folder" | sha256sum | cut -c1-16).sock"; fi
  mkdir -p "$folder"; chmod 700 "$folder"
  if [ -S "$DB_SOCKET" ] && mariadb-admin --no-defaults --socket="$DB_SOCKET" -u mosaic -p"$password" ping >/dev/null 2>&1; then return; fi
  if [ ! -d "$data/mysql" ]; then
    first=1
    mariadb-install-db --no-defaults --user="$(id -un)" --datadir="$data" --skip-test-db \
      --auth-root-authentication-method=socket --auth-root-socket-user="$(id -un)" >"$folder/install.log" 2>&1 \
      || { say "MariaDB could not be set up; see $folder/install.log"; exit 1; }
  fi
  "$server" --no-defaults --user="$(id -un)" --datadir="$data" --socket="$DB_SOCKET" --pid-file="$folder/mariadb.pid" \
    --skip-networking --log-error="$folder/mariadb.log" \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_bin --max-allowed-packet=64M \
    --sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO \
    --innodb-buffer-pool-size=128M --innodb-log-file-size=96M ${DB_OPTIONS:-} >/dev/null 2>&1 &
  disown
  local try
  for try in $(seq 600); do [ -S "$DB_SOCKET" ] && mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1 && break; sleep 0.05; done
  mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1 || { say "MariaDB did not start; see $folder/mariadb.log"; exit 1; }
  if [ -n "$first" ]; then
    mariadb --no-defaults --socket="$DB_SOCKET" <<SQL
CREATE DATABASE mosaic CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;
CREATE USER mosaic@localhost IDENTIFIED BY '$password';
GRANT ALL ON \`mosaic\`.* TO mosaic@localhost;
GRANT ALL ON \`test\_mosaic%\`.* TO mosaic@localhost;
SQL
  fi
}

# db_stop FOLDER
db_stop() {
  local pid try
  pid="$(cat "$1/mariadb.pid" 2>/dev/null)" || return 0
  kill "$pid" 2>/dev/null || return 0
  for try in $(seq 200); do kill -0 "$pid" 2>/dev/null || return 0; sleep 0.05; done
}
