//! `cargo run -p xtask -- values`: asks Chromium again what it keeps of each value in `crates/css/tests/values.txt`.

use std::path::Path;
use std::process::Command;

use anyhow::{Context as _, bail};

pub fn values() -> anyhow::Result<()> {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../crates/css/tests/values.txt");
    let text = std::fs::read_to_string(&file)?;
    let rows: Vec<[&str; 2]> = text.lines().filter_map(row).collect();
    // What is set is told by the declaration that is there afterwards: a name may be an older one of another property.
    let script = "const out = rows.map(([name, value]) => { const e = document.createElement('div'); e.style.setProperty(name, value); \
                  const kept = e.style[0] === undefined ? '' : e.style.getPropertyValue(name); return kept && `${e.style.cssText.startsWith(`${name}:`) ? name : \
                  e.style.cssText.split(':')[0]}: ${kept}`; }); \
                  document.body.append(Object.assign(document.createElement('pre'), { textContent: JSON.stringify(out) }));";
    let page =
        format!("<!doctype html><body><script>const rows = {}; {script}</script>", serde_json::to_string(&rows)?.replace("</", "<\\/"));
    let folder = tempfile::tempdir()?;
    let path = folder.path().join("values.html");
    std::fs::write(&path, page)?;
    let args = ["--headless", "--no-sandbox", "--disable-gpu", "--dump-dom"];
    let out =
        Command::new("chromium").args(args).arg(format!("file://{}", path.display())).output().context("chromium could not be started")?;
    let out = String::from_utf8_lossy(&out.stdout).into_owned();
    let told = out.split_once("<pre>").and_then(|(_, rest)| rest.split_once("</pre>")).map(|(told, _)| told);
    let Some(told) = told else { bail!("chromium gave no answer") };
    let told = told.replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&");
    let kept: Vec<String> = serde_json::from_str(&told)?;
    let mut kept = kept.into_iter();
    let lines = text.lines().map(|line| match row(line) {
        Some([name, value]) => format!("{name} | {value} | {}", kept.next().unwrap_or_default()),
        None => line.to_owned(),
    });
    let lines: Vec<String> = lines.collect();
    std::fs::write(&file, lines.join("\n") + "\n")?;
    Ok(())
}

/// The property and the value of a line.
fn row(line: &str) -> Option<[&str; 2]> {
    let mut parts = line.split(" | ");
    let row = [parts.next()?, parts.next()?];
    (!line.starts_with('#')).then_some(row)
}
