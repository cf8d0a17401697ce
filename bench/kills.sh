#!/bin/bash
# Kills each command that writes at random moments and compares what the next run gives with what a clean one gave.
# `bash bench/kills.sh [TIMES [COMMANDS]]`, in a folder made by `fidelon demo`; FIDELON names the program. Exits 1 when anything differs or is left running.
set -u
program=$(realpath "$(command -v "${FIDELON:-fidelon}")") times=${1:-100} bad=0
work=$(mktemp -d) && trap 'rm -rf "$work"' EXIT
export FIDELON_CACHE="$work/cache"

# A small copy of the studio: three components and one contract; the packages are the demo's own.
studio() {
  rm -rf "$work/kiln" && mkdir -p "$work/kiln/contracts"
  cp -r vue react "$work/kiln/" && cp contracts/KilnDial.contract.yaml "$work/kiln/contracts/" && cp package.json "$work/kiln/"
  find "$work/kiln/vue" "$work/kiln/react" -type f ! -name 'KilnDial*' ! -name 'ShelfCard.vue' -delete
  ln -s "$PWD/node_modules" "$work/kiln/node_modules"
}
# All that lies in the project and in no package, by content.
digest() { (cd "$work/kiln" && find . -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum); }
# What is printed, without how long a look took. What `accept` prints depends on what is accepted already; its files do not.
said() { [ "$1" = accept ] || sed -E 's/[0-9.]+ m?s( of| for)?//g' "$2" | sha256sum; }

run() { # run COMMAND [PREFIX…]: one whole run in the studio
  local command=$1 && shift
  cd "$work/kiln" && case $command in
    check) "$@" "$program" check vue react --json out.json ;;
    accept) "$@" "$program" accept vue react ;;
    draft) "$@" "$program" draft vue/ShelfCard.vue ;;
    merge) "$@" "$program" merge ../p1.json ../p2.json --json all.json ;;
    watch) (echo; sleep 0.3; echo q) | "$@" "$program" watch vue ;;
  esac
}

for command in ${2:-check accept draft merge watch}; do
  studio && rm -rf "$FIDELON_CACHE"
  if [ "$command" = merge ]; then
    (cd "$work/kiln" && for part in 1 2; do "$program" check vue react --part $part/2 --json ../p$part.json; done) >/dev/null 2>&1
  fi
  began=$(date +%s%N)
  (run "$command") >"$work/clean" 2>&1
  long=$((($(date +%s%N) - began) / 1000000 + 1)) clean=$(digest) same=0
  for _ in $(seq "$times"); do
    studio
    # The cache is new every other time, so that runs are killed while they write it, too.
    ((RANDOM % 2)) && rm -rf "$FIDELON_CACHE"
    delay=$((RANDOM * long / 32768)) signal=$(printf 'KILL\nINT\nTERM\n' | shuf -n1)
    # In the foreground: the program alone gets the signal, its processes have to see by themselves that it is gone.
    (run "$command" timeout --foreground -s "$signal" "$(printf '%d.%03d' $((delay / 1000)) $((delay % 1000)))") >/dev/null 2>&1
    # A draft never takes the place of a file, so that a whole one is taken away first.
    rm -f "$work/kiln/vue/ShelfCard.contract.yaml"
    (run "$command") >"$work/again" 2>&1
    if [ "$(digest)" = "$clean" ] && [ "$(said "$command" "$work/again")" = "$(said "$command" "$work/clean")" ]; then
      same=$((same + 1))
    else
      diff "$work/clean" "$work/again" | head -5
    fi
  done
  sleep 1
  left=$(pgrep -fc -- "$program --play-components")
  echo "$command: killed $times times (a whole run takes $long ms), $same times the next run gives what a clean one gave; left running: $left"
  { [ "$same" = "$times" ] && [ "$left" = 0 ]; } || bad=1
done
exit $bad
