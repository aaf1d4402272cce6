#!/usr/bin/env bash
# Says in one line what is missing on this machine; silent when all is there.
python="$1"
"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null ||
  { echo "Python 3.11 or newer is needed ('$python' is older or missing): install it, or say PYTHON=/path/to/python3.11."; exit 1; }
"$python" -c 'import venv, ensurepip' 2>/dev/null ||
  { echo "Python's venv module is missing: on Debian, install the package python3-venv."; exit 1; }
command -v node >/dev/null || { echo "Node.js 20 or newer is needed and was not found: install it first."; exit 1; }
major=$(node -p 'process.versions.node.split(".")[0]')
[ "$major" -ge 20 ] || { echo "Node.js 20 or newer is needed; this is $(node --version)."; exit 1; }
command -v npm >/dev/null || { echo "npm is missing; it usually comes with Node.js."; exit 1; }
