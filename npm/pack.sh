#!/usr/bin/env bash
# Packs the two npm packages: bash npm/pack.sh PROGRAM PLATFORM FOLDER, as in `bash npm/pack.sh target/dist/fidelon linux-x64 dist`.
# The folder gets fidelon-VERSION.tgz, the same for every platform, and fidelon-PLATFORM-VERSION.tgz, which carries the program.
set -euo pipefail
[ $# -eq 3 ] || { echo "usage: bash npm/pack.sh PROGRAM PLATFORM FOLDER" >&2; exit 2; }
program=$(realpath "$1") platform=$2
mkdir -p "$3"
folder=$(realpath "$3")
root=$(realpath "$(dirname "$0")/..")
version=$(sed -n 's/^version = "\(.*\)"$/\1/p' "$root/Cargo.toml" | head -n 1)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp -r "$root/npm/fidelon" "$work/fidelon"
cp "$root"/LICENSE-* "$work/fidelon/"
# One version of all: that of the workspace.
sed -i "s/\"0\\.1\\.0\"/\"$version\"/" "$work/fidelon/package.json"
mkdir -p "$work/platform/bin"
case $platform in win32-*) file=fidelon.exe ;; *) file=fidelon ;; esac
install -m 755 "$program" "$work/platform/bin/$file"
"$program" licences > "$work/platform/NOTICES.txt"
cp "$root"/LICENSE-* "$work/platform/"
cat > "$work/platform/package.json" <<END
{
  "name": "@fidelon/$platform",
  "version": "$version",
  "description": "The program of fidelon for $platform",
  "license": "MIT OR Apache-2.0",
  "os": ["${platform%-*}"],
  "cpu": ["${platform#*-}"],
  "files": ["bin", "NOTICES.txt", "LICENSE-MIT", "LICENSE-APACHE"]
}
END
for package in fidelon platform; do
    (cd "$work/$package" && npm pack --silent --pack-destination "$folder")
done
