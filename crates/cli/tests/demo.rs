//! `fidelon demo`, from an empty folder, with no network.

mod studio;

use studio::Studio;

#[test]
fn the_tour_shows_what_it_should_and_can_be_taken_again() {
    let studio = Studio::empty();
    let first = studio.run(&["demo"]);
    assert_eq!(first.code, 0, "{}{}", first.out, first.err);
    assert!(first.out.contains("81 components: 81 hold"), "{}", first.out);
    for told in [
        "ChattySwitch.tsx “the parent's own change is not told back”",
        "exactly when disabled (broke in 1 of 2 cases)",
        "DoubledCard.vue “each piece stands in one place”",
        "exactly when wide and framed (broke in 1 of 4 cases)",
        "StaleDial.vue prop/live",
        "after `label` changed",
    ] {
        assert!(first.out.contains(told), "{told}: {}", first.out);
    }
    let results: serde_json::Value =
        serde_json::from_str(&std::fs::read_to_string(studio.path("kiln-studio/flawed.results.json")).expect("written")).expect("JSON");
    assert_eq!(results["totals"]["broken"], 3);

    let file = studio.path("kiln-studio/vue/VentSwitch.vue");
    let changed = std::fs::read_to_string(&file).expect("unpacked") + "<!-- mine -->\n";
    std::fs::write(&file, &changed).expect("changed");
    let second = studio.run(&["demo"]);
    assert_eq!((second.code, second.out.replace('\r', "")), (0, first.out), "the same again, byte for byte");
    assert!(second.err.contains("left as it is"), "{}", second.err);
    assert_eq!(std::fs::read_to_string(&file).expect("there"), changed, "nobody's work is overwritten");
}

#[test]
fn a_foreign_folder_is_left_alone() {
    let studio = Studio::empty().with("kiln-studio/thesis.txt", "years of work");
    let run = studio.run(&["demo"]);
    assert_eq!(run.code, 2);
    assert!(run.err.contains("was not made by the demo"), "{}", run.err);
    assert_eq!(std::fs::read_dir(studio.path("kiln-studio")).expect("there").count(), 1);
}
