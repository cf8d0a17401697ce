#!/bin/sh
# Wall time of a warm `render`, ten runs each, in seconds. Run in a folder made by `fidelon demo`; FIDELON names the program.
program=${FIDELON:-fidelon}
for component in vue/KilnDial.vue react/KilnDial.tsx; do
  "$program" render "$component" >/dev/null 2>&1
  for _ in 1 2 3 4 5 6 7 8 9 10; do
    begin=$(date +%s%N)
    "$program" render "$component" >/dev/null 2>&1
    end=$(date +%s%N)
    echo "$component $(((end - begin) / 1000000)) ms"
  done | sort -k2 -n | sed -n '5p'
done
