# Sourced by the commands: installs what is missing, once. Sets ROOT and PYTHON.
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
VENV="$ROOT/.venv"
PYTHON="$VENV/bin/python"
export PYTHONPATH="$ROOT" DJANGO_SETTINGS_MODULE=workshop.settings

say() { printf '%s\n' "$*" >&2; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else
    say "These packages are missing and need root or sudo to install: $*"; exit 1; fi
}

# need_packages COMMAND PACKAGE...: installs the packages if the command is not there
need_packages() {
  local probe="$1"; shift
  eval "$probe" >/dev/null 2>&1 && return
  say "Installing: $*"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

# need_python FILE: a virtual environment with the packages of a requirements file
need_python() {
  local wanted="$1" stamp="$VENV/installed-$1.sha256" sum
  sum="$(cat "$ROOT"/requirements*.txt | sha256sum)"
  [ -x "$PYTHON" ] && [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  need_packages 'python3 -c "import venv, ensurepip"' python3-venv
  need_packages 'command -v gcc && command -v pkg-config && pkg-config --exists libmariadb && python3-config --includes' \
    gcc pkg-config libmariadb-dev python3-dev
  say "Installing Python packages from $wanted (once)"
  [ -x "$PYTHON" ] || python3 -m venv "$VENV"
  # Only a whole installation is stamped; one that failed half way is tried again at the next start.
  if ! "$VENV/bin/pip" install --quiet --disable-pip-version-check -r "$ROOT/$wanted" >"$VENV/install.log" 2>&1; then
    grep -v '^WARNING' "$VENV/install.log" >&2 || true
    say "The Python packages could not be installed; see above."; exit 1
  fi
  printf '%s' "$sum" > "$stamp"
}

# need_node: the linter of the page scripts, as package.json pins it
need_node() {
  local stamp="$ROOT/node_modules/installed.sha256" sum
  sum="$(sha256sum < "$ROOT/package.json")"
  [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  say "Installing the linter of the page scripts (once)"
  (cd "$ROOT" && npm install --no-package-lock --no-audit --no-fund --loglevel=error >&2) || {
    say "The packages of package.json could not be installed; see above."; exit 1; }
  printf '%s' "$sum" > "$stamp"
}
