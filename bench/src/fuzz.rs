//! Random texts for the reader of contracts: it must tell what is wrong with each, and never fall.

use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use fidelon_core::contract::{check_names, read_all};
use fidelon_core::scene::Scene;
use fidelon_core::surface::{Framework, Surface};

/// Pieces that break what they are put into.
const PIECES: [&str; 40] = [
    "\n",
    "  ",
    "- ",
    ": ",
    "[",
    "]",
    "{",
    "}",
    "\"",
    "'",
    "#",
    "&a ",
    "*a",
    "!x ",
    "|\n",
    ">\n",
    "%",
    "@",
    "`",
    "${",
    "}",
    "${a}",
    "absent",
    "all",
    "component: ",
    "scene: ",
    "clauses:\n  - clause: x\n",
    "expect: [",
    "do: [",
    "press: ",
    "role(",
    "slot(",
    "ref(",
    "text(\"",
    "$from",
    "$file",
    "\u{0}",
    "é\u{301}",
    "🏺",
    "\t",
];

/// A sequence that its seed alone decides (splitmix64).
struct Chance(u64);

impl Chance {
    fn below(&mut self, end: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) % end.max(1) as u64) as usize
    }
}

/// A place between two characters.
fn place(text: &str, chance: &mut Chance) -> usize {
    let mut at = chance.below(text.len() + 1);
    while !text.is_char_boundary(at) {
        at -= 1;
    }
    at
}

fn changed(text: &str, others: &[String], chance: &mut Chance) -> String {
    let mut out = text.to_owned();
    for _ in 0..=chance.below(6) {
        let (a, b) = (place(&out, chance), place(&out, chance));
        let (a, b) = (a.min(b), a.max(b));
        match chance.below(5) {
            0 => out.insert_str(a, PIECES[chance.below(PIECES.len())]),
            1 => out.replace_range(a..b, ""),
            2 => {
                let other = &others[chance.below(others.len())];
                let (c, d) = (place(other, chance), place(other, chance));
                out.insert_str(a, &other[c.min(d)..c.max(d)]);
            }
            3 => out.truncate(b),
            _ => {
                let piece = out[a..b].to_owned();
                out.insert_str(place(&out, chance), &piece);
            }
        }
        if out.len() > 20_000 {
            out.truncate(place(&out[..20_000.min(out.len())], chance));
        }
        while !out.is_char_boundary(out.len()) {
            out.pop();
        }
    }
    out
}

/// Reads texts made from the contracts of a folder, for so long.
pub fn contracts(folder: &Path, seconds: u64, seed: u64) -> Result<()> {
    let mut seeds: Vec<String> = Vec::new();
    for entry in folder.read_dir()?.flatten() {
        if entry.path().extension().is_some_and(|e| e == "yaml") {
            seeds.push(std::fs::read_to_string(entry.path())?);
        }
    }
    seeds.sort();
    ensure!(!seeds.is_empty(), "`{}` holds no contracts", folder.display());
    let scene = Scene::alone(Surface::new("KilnDial", "KilnDial.vue", "default", Framework::Vue));
    let (mut chance, began) = (Chance(seed), Instant::now());
    let (mut texts, mut sound) = (0u64, 0u64);
    while began.elapsed() < Duration::from_secs(seconds) {
        let text = changed(&seeds[chance.below(seeds.len())], &seeds, &mut chance);
        let read = std::panic::catch_unwind(|| {
            let (contract, faults) = read_all(&text, &|_| Ok("[1]".into()));
            for fault in &faults {
                let within = fault.span.start <= fault.span.end && fault.span.end <= text.len();
                assert!(within && text.is_char_boundary(fault.span.start) && text.is_char_boundary(fault.span.end), "{fault:?}");
            }
            contract.as_ref().map(|c| check_names(c, &scene));
            faults.is_empty()
        });
        match read {
            Ok(is_sound) => sound += u64::from(is_sound),
            Err(_) => {
                println!("{text}");
                anyhow::bail!("the reader fell on this text (number {texts}, seed {seed})");
            }
        }
        texts += 1;
    }
    println!("{texts} texts in {seconds} s, {sound} of them sound: the reader never fell, and every fault has its place");
    Ok(())
}
