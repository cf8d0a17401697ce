//! The contract language: every step and check in the form that the reference gives, and every slip that a person makes.

use fidelon_core::contract::{read, yaml};
use fidelon_core::stage::Step;

fn clause(body: &str) -> String {
    format!("component: ./KilnDial.vue\nclauses:\n  - clause: x\n    {body}\n")
}

fn steps(of: &str) -> Vec<Step> {
    let contract = read(&clause(&format!("do: {of}\n    expect: [{{ count: p, is: 1 }}]"))).unwrap_or_else(|f| panic!("{of}: {f:?}"));
    let phase = &contract.clauses[0].phases[0];
    phase.steps.iter().map(|n| fidelon_core::contract::steps::read_step(n).unwrap_or_else(|f| panic!("{of}: {f:?}"))).collect()
}

#[test]
fn steps_mean_what_they_say() {
    for (written, debug) in [
        ("[{ press: button }]", "Press"),
        ("[{ press: button, times: 3 }]", "times: 3"),
        ("[{ type: 600, into: input }]", "text: \"600\""),
        ("[{ type: a, into: input, replace: true }]", "replace: true"),
        ("[{ key: Control+a }]", "key: \"Control+a\", at: None"),
        ("[{ untick: input }]", "on: false"),
        ("[{ elapse: 2min }]", "milliseconds: 120000"),
        ("[{ elapse: 1.5s }]", "milliseconds: 1500"),
        ("[{ fill: { note: absent } }]", "\"note\": None"),
        ("[{ pass: { step: absent } }]", "\"step\": Absent"),
        ("[{ call: nudge, with: 3 }]", "with: [Json(Number(3))]"),
        ("[{ signal: settle, at: p, detail: { a: 1 } }]", "event: \"settle\""),
        ("[{ remove: true }]", "Remove"),
        ("[{ press: button, part: form }]", "In { part: \"form\""),
        ("[{ drop: mug.png, onto: input }]", "media: \"image/png\""),
        ("[{ drop: [{ name: a.txt, text: hot }], onto: input }]", "text: \"hot\""),
        ("[{ scroll: page, to: 200 }]", "at: None, left: 0.0, top: 200.0"),
        ("[{ scroll: .list, to: { left: 5 } }]", "left: 5.0, top: 0.0"),
        ("[{ resize: { width: 375 } }]", "width: 375, height: 800"),
        ("[{ edit: input, to: 700 }]", "Edit"),
        ("[{ press: 'slot(note) button \"Buy\"' }]", "Some(Slot(\"note\"))"),
        ("[{ press: ref(field) }]", "Some(Ref(\"field\"))"),
        ("[{ pass: { kiln: { $from: './kilns.ts#hot' } } }]", "From(\"./kilns.ts#hot\")"),
    ] {
        let read = format!("{:?}", steps(written));
        assert!(read.contains(debug), "{written}: {read}");
    }
}

#[test]
fn slips_are_told_with_what_to_write() {
    for (text, message, help) in [
        (clause("do: [{ pres: button }]\n    expect: [{ count: p, is: 1 }]"), "`pres` is no step", "did you mean `press`?"),
        (clause("do: [{ press: button, time: 2 }]\n    expect: [{ count: p, is: 1 }]"), "`time` is no step", "did you mean `times`?"),
        (
            clause("do: [{ press: [type=submit] }]\n    expect: [{ count: p, is: 1 }]"),
            "`press` needs a locator",
            "put the selector in quotes",
        ),
        (clause("do:\n      - press: #raise\n    expect: [{ count: p, is: 1 }]"), "`press` needs a locator", "for a comment"),
        (clause("where: !locked\n    expect: [{ count: p, is: 1 }]"), "`where` needs an expression", "in quotes"),
        (clause("do: [{ elapse: 5 }]\n    expect: [{ count: p, is: 1 }]"), "a time is a number with its unit", "`5s`"),
        (clause("expect: [{ text: p, iss: a }]"), "`iss` is no check", "did you mean `is`?"),
        (clause("expect: [{ text: p }]"), "what should be true", "add one of"),
        (clause("expect: [{ text: p, matches: '[' }]"), "no regular expression", ""),
        (clause("expect: [{ exposed: a, fits: { type: numbre } }]"), "no JSON Schema", ""),
        (clause("expect: [{ outlasts: p, is: 1 }]"), "`is` is no check", "outlasts"),
        (clause("do: [{ pass: { a: 1 }, part: [] }]\n    expect: [{ count: p, is: 1 }]"), "`part` needs a text", ""),
        (clause("hold: locked\n    expect: [{ count: p, is: 1 }]"), "`hold` needs", ""),
        (clause("do: [{ press: button }]"), "this clause expects nothing", "add `expect:`"),
        (clause("expect: [{ count: 'buton \"Raise\"', is: 1 }]"), "no WAI-ARIA role", "a locator is"),
        ("component: a.vue\nclause: []".into(), "`clause` is no key", "did you mean `clauses`?"),
        ("component: a.vue\nprops: [a]".into(), "`props` needs a mapping", ""),
        ("component: a.vue\nuses: ./B.vue".into(), "`uses` needs a mapping", ""),
        ("component: http://kiln.example:80/dial".into(), "only `http:` addresses of this machine", "start the server"),
        ("component: a.vue\ncover: evry".into(), "no way to cover", "did you mean `every`?"),
        ("compnent: a.vue".into(), "`compnent` is no key", "did you mean `component`?"),
        ("- a".into(), "the file", ""),
        ("component: a.vue\nclauses: { a: 1 }".into(), "`clauses` needs a list", ""),
        ("component: a.vue\nlaws: { prop/live: off }".into(), "`because` is missing", "because: …"),
    ] {
        let faults = read(&text).expect_err(&text);
        let found = faults.iter().find(|f| f.message.contains(message)).unwrap_or_else(|| panic!("{text}: {faults:#?}"));
        assert!(found.help.as_deref().unwrap_or("").contains(help), "{text}: {found:?}");
        assert!(found.span.end <= text.len() && found.span.start <= found.span.end, "{text}: {found:?}");
    }
}

#[test]
fn every_fault_of_a_file_is_told_in_its_order() {
    let text = "component: ./A.vue\nprosp: {}\ncover: most\nclauses:\n  - clause: a\n    do: [{ pres: b }]\n    expect: [{ tex: p }]\n  - clause: a\n    expcet: []\n";
    let faults = read(text).expect_err("wrong");
    assert_eq!(faults.len(), 7, "{faults:#?}");
    assert!(faults.windows(2).all(|w| w[0].span <= w[1].span));
    assert_eq!(&text[faults[0].span.start..faults[0].span.end], "prosp", "the text at fault is what is underlined");
}

#[test]
fn no_text_makes_the_reader_fall() {
    let right = "component: ./A.vue\nprops: { a: [1, absent] }\nclauses:\n  - clause: x\n    do: [{ press: 'button \"R\"' }]\n    expect: [{ text: p, is: \"${a}\" }]\n";
    assert!(read(right).is_ok());
    for end in 0..right.len() {
        let _ = read(&right[..end]);
        for bad in ["\u{0}", "é", ": ", "[", "\"", "\t", "${", "- "] {
            let _ = read(&format!("{}{bad}{}", &right[..end], &right[end..]));
        }
    }
    assert!(yaml::parse(&"- ".repeat(100_000)).is_err(), "nesting has an end");
}
