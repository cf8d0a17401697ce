//! What judging costs as clauses and combinations grow.

use std::fmt::Write as _;
use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_run::{Request, check};
use fidelon_run::{StageKind, StageOptions};

const PROPS: usize = 12;

/// A component of 12 props of three values, which shows each, with a button.
fn component() -> String {
    let declared: String = (0..PROPS).map(|i| format!("p{i}: Number, ")).collect();
    let shown: String = (0..PROPS).map(|i| format!("<b class=\"p{i}\">{{{{ p{i} }}}}</b>")).collect();
    format!(
        "<script setup>\nimport {{ ref }} from 'vue'\ndefineProps({{ {declared} }})\nconst n = ref(0)\n</script>\n\
         <template><div>{shown}<button @click=\"n++\">{{{{ n }}}}</button></div></template>\n"
    )
}

/// Half of the clauses look, half press first.
fn contract(clauses: usize, cover: &str) -> String {
    let mut out = format!("component: ./Panel.vue\ncover: {cover}\nprops:\n");
    for i in 0..PROPS {
        let _ = writeln!(out, "  p{i}: [0, 1, 2]");
    }
    out.push_str("clauses:\n");
    for c in 0..clauses {
        let prop = c % PROPS;
        let steps = if c % 2 == 0 { String::new() } else { format!("do: [{{ press: button, times: {} }}], ", c / 2 + 1) };
        let _ = writeln!(out, "  - {{ clause: number {c}, {steps}expect: [{{ text: .p{prop}, is: '${{p{prop}}}' }}] }}");
    }
    out
}

/// Prints the time for each clause and combination.
pub fn figures(folder: &Path) -> Result<()> {
    ensure!(folder.join("node_modules/vue").is_dir(), "`{}` is no folder made by `fidelon demo`", folder.display());
    let place = tempfile::tempdir_in(folder)?;
    let root = place.path().canonicalize()?;
    std::fs::write(root.join("Panel.vue"), component())?;
    println!("clauses  combinations       judged   for each clause and combination");
    let mut first = true;
    for (clauses, cover) in [
        (10, "pairs"),
        (10, "pairs"),
        (20, "pairs"),
        (40, "pairs"),
        (40, "{ sample: 50, seed: 7 }"),
        (40, "{ sample: 100, seed: 7 }"),
        (40, "{ sample: 200, seed: 7 }"),
    ] {
        std::fs::write(root.join("Panel.contract.yaml"), contract(clauses, cover))?;
        let stage = StageOptions::new(root.clone(), Some(root.join(".cache")), Duration::from_secs(5), 512, StageKind::Embedded);
        let request = Request { workers: 1, anew: true, ..Request::new(root.clone(), vec![".".into()], stage) };
        let began = Instant::now();
        let results = check(&request, &|_| {}).map_err(|e| anyhow!("{e}"))?.results;
        let took = began.elapsed();
        let component = results.components.first().context("the component was found")?;
        ensure!(component.findings.is_empty() && component.reason.is_none(), "{:?}", component.reason);
        let combinations = component.combinations;
        // The first one compiles what no cache holds yet.
        if std::mem::take(&mut first) {
            continue;
        }
        let each = took.as_secs_f64() * 1e6 / (clauses * combinations) as f64;
        println!("{clauses:7}  {combinations:12}  {:>8.0} ms   {each:.0} µs", took.as_secs_f64() * 1000.0);
    }
    Ok(())
}
