# Sourced by scripts that work on the running installation under var/: manage WORDS...
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"
. "$ROOT/bin/mariadb.sh"
VAR="$ROOT/var"
manage() {
  [ -f "$VAR/secrets" ] || { say "Nothing was started here yet; begin with bin/start."; exit 1; }
  . "$VAR/secrets"
  db_socket "$VAR/db"
  [ -S "$DB_SOCKET" ] || { say "Fine Mosaic is not running; start it first with bin/start."; exit 1; }
  need_python requirements.txt
  # A backup is read back in a database beside the real one.
  mariadb --no-defaults --socket="$DB_SOCKET" -e "GRANT ALL ON \`mosaic\\_%\`.* TO mosaic@localhost" 2>/dev/null || true
  cd "$ROOT"
  MOSAIC_DB_SOCKET="$DB_SOCKET" MOSAIC_DB_PASSWORD="$DB_PASSWORD" MOSAIC_SECRET_KEY="$SECRET_KEY" "$PYTHON" manage.py "$@"
}
