#!/usr/bin/env bash
# Installs the packages of a folder in an empty project, without a network, and runs the demo: bash npm/try.sh FOLDER
set -euo pipefail
[ $# -eq 1 ] || { echo "usage: bash npm/try.sh FOLDER" >&2; exit 2; }
folder=$(realpath "$1")
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
echo '{ "name": "pottery", "private": true }' > package.json
npm install --offline --silent --no-audit --no-fund --save-dev "$folder"/*.tgz
FIDELON_CACHE=$work/cache npx --no-install fidelon demo > demo.txt
tail -n 8 demo.txt
status=0
FIDELON_CACHE=$work/cache npx --no-install fidelon check kiln-studio/flawed > check.txt || status=$?
[ "$status" = 1 ] || { echo "the exit code of a check that finds faults is $status" >&2; exit 1; }
