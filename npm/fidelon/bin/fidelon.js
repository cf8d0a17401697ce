#!/usr/bin/env node
// Runs the program of the package for this platform, which npm installs beside this one. Nothing is downloaded.
'use strict';
const { spawnSync } = require('node:child_process');
const { constants } = require('node:os');

const platform = `${process.platform}-${process.arch}`;
const file = process.platform === 'win32' ? 'fidelon.exe' : 'fidelon';
let program;
try {
  program = require.resolve(`@fidelon/${platform}/bin/${file}`);
} catch {
  console.error(`fidelon: there is no package @fidelon/${platform} here: install without --omit=optional, or build the program (cargo install --path crates/cli)`);
  process.exit(2);
}
const ended = spawnSync(program, process.argv.slice(2), { stdio: 'inherit' });
if (ended.error) {
  console.error(`fidelon: ${program} cannot be started: ${ended.error.message}`);
  process.exit(2);
}
process.exit(ended.status ?? 128 + (constants.signals[ended.signal] ?? 0));
