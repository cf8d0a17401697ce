//! Components as strangers write them, in every framework: sound they hold, and a fault that is planted in one is found by a law.

mod studio;

use std::collections::BTreeMap;

use serde_json::Value as Json;
use studio::Studio;

/// Each with its source.
const PIECES: [(&str, &str); 10] = [
    ("GlazePicker.vue", include_str!("../../../bench/pieces/GlazePicker.vue")),
    ("PieceTable.vue", include_str!("../../../bench/pieces/PieceTable.vue")),
    ("FiringTabs.tsx", include_str!("../../../bench/pieces/FiringTabs.tsx")),
    ("RecipeForm.tsx", include_str!("../../../bench/pieces/RecipeForm.tsx")),
    ("ConeStepper.svelte", include_str!("../../../bench/pieces/ConeStepper.svelte")),
    ("NoticeStack.svelte", include_str!("../../../bench/pieces/NoticeStack.svelte")),
    ("KilnMenu.jsx", include_str!("../../../bench/pieces/KilnMenu.jsx")),
    ("PieceRating.jsx", include_str!("../../../bench/pieces/PieceRating.jsx")),
    ("clay-tags.js", include_str!("../../../bench/pieces/clay-tags.js")),
    ("booking-list.component.ts", include_str!("../../../bench/pieces/booking-list.component.ts")),
];

/// The faults of the bench, and here the laws that some of them break: one for each way to look.
const FAULTS: &str = include_str!("../../../bench/faults.json");
const FOUND: [(&str, &str); 14] = [
    // What a press opens is pressed, too.
    ("a glaze that is sold out can be picked", "event/inert"),
    ("what is picked is emitted twice", "event/once"),
    ("a glaze is no longer picked by the keyboard", "access/keys"),
    ("it says that it is open when it is closed", "access/states"),
    ("the title is told in the place of the key", "event/payload"),
    // What is open follows what is passed.
    ("the list is copied at the start", "prop/live"),
    // A list of which nothing is declared has what is read of it.
    ("the array that was passed is sorted in place", "prop/untouched"),
    ("rows are keyed by their place", "list/identity"),
    ("the caption is doubled", "slot/once"),
    // What is chosen shows where there is something to choose from.
    ("a controlled tab is taken once", "binding/shows"),
    ("the star before is reported", "binding/reports"),
    ("the name is reported without what was typed last", "binding/reports"),
    ("a step is not held by the most", "binding/reports"),
    ("arrows up and down are turned round", "access/keys"),
];

/// The rules that break in each component.
fn broken(studio: &Studio) -> BTreeMap<String, Vec<String>> {
    let results = studio.results(&["."]);
    let rules =
        |c: &Json| c["findings"].as_array().expect("findings").iter().filter_map(|f| Some(f["rule"].as_str()?.to_owned())).collect();
    let of = |c: &Json| (c["component"].as_str().expect("text").to_owned(), rules(c));
    results["components"].as_array().expect("components").iter().map(of).collect()
}

#[test]
fn sound_pieces_hold() {
    let studio = PIECES.iter().fold(Studio::new(), |studio, (file, source)| studio.with(file, source));
    let results = studio.results(&["."]);
    let components = results["components"].as_array().expect("components");
    assert_eq!(components.len(), PIECES.len());
    for component in components {
        assert_eq!(component["verdict"], "holds", "{component:#}");
        assert!(component["combinations"].as_u64().is_some_and(|n| n > 8), "{component:#}");
    }
}

#[test]
fn faults_that_strangers_make_are_found() {
    let faults: Vec<Json> = serde_json::from_str(FAULTS).expect("a list");
    let mut studio = Studio::new();
    for (number, (fault, _)) in FOUND.iter().enumerate() {
        let found = faults.iter().find(|f| f["fault"] == *fault && f["file"].as_str().is_some_and(|f| f.starts_with("pieces/")));
        let planted = found.unwrap_or_else(|| panic!("`{fault}` is no fault of the bench"));
        let file = planted["file"].as_str().expect("text").trim_start_matches("pieces/");
        let mut source = PIECES.iter().find(|(name, _)| *name == file).expect("one of them").1.to_owned();
        for patch in planted["patch"].as_array().expect("a list") {
            let (find, put) = (patch["find"].as_str().expect("text"), patch["put"].as_str().expect("text"));
            assert!(source.contains(find), "{fault}: {find}");
            source = source.replacen(find, put, 1);
        }
        studio = studio.with(&format!("f{number}/{file}"), &source);
    }
    let broken = broken(&studio);
    for (number, (fault, rule)) in FOUND.iter().enumerate() {
        let (component, rules) = broken.iter().find(|(c, _)| c.contains(&format!("f{number}/"))).expect("it was checked");
        assert!(rules.iter().any(|r| r == rule), "{fault} in {component}: {rules:?}");
    }
}
