//! Tables of scripts and what they give. Every row gives the same in a browser, with `document.body` empty before it.

use fidelon_engine::modules::NoModules;
use fidelon_engine::{Limits, Realm};

/// A realm with a blank page.
pub fn realm() -> Realm {
    Realm::new(Limits::default(), Box::new(NoModules)).expect("the engine starts")
}

/// Checks every row and tells all that differ.
#[allow(dead_code, reason = "some test files need a realm only")]
pub fn check(rows: &[(&str, &str)]) {
    let realm = realm();
    let mut wrong = Vec::new();
    for (script, expected) in rows {
        let got = realm.eval(&format!("(() => {{ document.body.innerHTML = ''; {script} }})()")).unwrap_or_else(|e| format!("threw {e}"));
        if got != *expected {
            wrong.push(format!("{script}\n  expected {expected}\n  actual   {got}"));
        }
    }
    assert!(wrong.is_empty(), "{} of {} rows differ:\n{}", wrong.len(), rows.len(), wrong.join("\n"));
}
