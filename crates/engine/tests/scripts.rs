//! Scripts that gave the same in a browser. Each stands in a text file as a title, the body of an asynchronous function and what it
//! returns.

mod page;

#[test]
fn shadow_trees_and_custom_elements_are_as_in_a_browser() {
    check(include_str!("shadow.txt"));
}

#[test]
fn stylesheets_and_computed_styles_are_as_in_a_browser() {
    check(include_str!("styles.txt"));
}

#[test]
fn dialogs_and_popovers_are_as_in_a_browser() {
    check(include_str!("dialogs.txt"));
}

fn check(scripts: &str) {
    let mut wrong = Vec::new();
    let blocks: Vec<&str> = scripts.split("\n\n").filter(|b| !b.trim().is_empty()).collect();
    for block in &blocks {
        let (title, rest) = block.trim().split_once('\n').expect("a title");
        let (script, expected) = rest.rsplit_once("\n=> ").unwrap_or_else(|| panic!("{title}: what is expected"));
        let realm = page::realm();
        let wrapped = format!(
            "globalThis.given = 'nothing'; (async () => {{ {script} }})().then((v) => {{ given = String(v) }}, (e) => {{ given = 'threw ' + e + e.stack }}); ''"
        );
        realm.eval(&wrapped).unwrap_or_else(|e| panic!("{title}: {e}"));
        realm.settle(50.0).expect("settles");
        let got = realm.eval("given").expect("read");
        if got != expected {
            wrong.push(format!("{title}\n  expected {expected}\n  actual   {got}"));
        }
    }
    assert!(wrong.is_empty(), "{} of {} differ:\n{}", wrong.len(), blocks.len(), wrong.join("\n"));
}
