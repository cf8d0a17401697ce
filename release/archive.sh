#!/usr/bin/env bash
# Makes the archive of a release: bash release/archive.sh PROGRAM PLATFORM FOLDER, as in `bash release/archive.sh target/dist/fidelon linux-x64 dist`,
# after `cargo build --profile dist --locked -p fidelon`. The folder gets fidelon-VERSION-PLATFORM.tar.gz: the program, completions for shells,
# manual pages, the notices of what it carries, and its bill of materials. The same program gives the same bytes.
set -euo pipefail
[ $# -eq 3 ] || { echo "usage: bash release/archive.sh PROGRAM PLATFORM FOLDER" >&2; exit 2; }
program=$(realpath "$1") platform=$2
mkdir -p "$3"
folder=$(realpath "$3")
root=$(realpath "$(dirname "$0")/..")
version=$(sed -n 's/^version = "\(.*\)"$/\1/p' "$root/Cargo.toml" | head -n 1)
name=fidelon-$version-$platform
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir -p "$work/$name"/{completions,man}
cd "$work/$name"
case $platform in win32-*) file=fidelon.exe ;; *) file=fidelon ;; esac
install -m 755 "$program" "$file"
cp "$root"/LICENSE-* "$root/README.md" "$root/CHANGELOG.md" .
for shell in bash zsh fish powershell elvish; do "$program" completions "$shell" > "completions/fidelon.$shell"; done
"$program" manual man
"$program" licences > NOTICES.txt
# XTASK names one that is built already.
if [ -n "${XTASK:-}" ]; then "$XTASK" sbom; else (cd "$root" && cargo run --quiet --locked -p xtask -- sbom); fi > sbom.cdx.json
cd "$work"
tar --sort=name --owner=0 --group=0 --numeric-owner --mtime=@0 -cf - "$name" | gzip -n9 > "$folder/$name.tar.gz"
(cd "$folder" && sha256sum "$name.tar.gz" > "$name.tar.gz.sha256")
echo "$folder/$name.tar.gz"
