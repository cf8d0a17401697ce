//! What a person reads: every part of the report, without colour and with it.

use fidelon_core::contract::Fault;
use fidelon_core::finding::{Condition, Failure, Finding, RuleKind, Verdict};
use fidelon_core::results::{Component, Coverage, FileFault, Reason, Results, Rule, Totals};
use fidelon_core::value::Value;
use fidelon_report::{Style, terminal};
use fidelon_source::{Place, Span};

fn place(file: &str, line: u32, column: u32) -> Place {
    Place { file: file.into(), line, column }
}

fn component(name: &str, verdict: Verdict) -> Component {
    let rule = Rule { clause: None, law: Some("render/quiet".into()), verdict, checked: 12, broke: 0 };
    Component {
        component: name.into(),
        contract: None,
        verdict,
        reason: None,
        combinations: 4,
        coverage: Coverage::default(),
        clauses: Vec::new(),
        laws: vec![rule],
        baseline: None,
        findings: Vec::new(),
        notes: Vec::new(),
    }
}

fn finding() -> Finding {
    Finding {
        rule: "a locked dial is inert".into(),
        kind: RuleKind::Clause,
        about: None,
        failure: Failure {
            message: "something was emitted".into(),
            expected: Some("nothing".into()),
            actual: Some("fire { target: 610 }".into()),
            diff: Vec::new(),
            node: Some("div.dial > button.raise".into()),
            place: Some(place("KilnDial.vue", 2, 3)),
            element: None,
        },
        cause: Some(vec![
            Condition { prop: "unit".into(), is: Value::json("F"), or: Vec::new() },
            Condition { prop: "locked".into(), is: Value::json(true), or: Vec::new() },
            Condition { prop: "slots.caption".into(), is: Value::Absent, or: Vec::new() },
        ]),
        also: Vec::new(),
        asked: 0,
        case: "KilnDial@7f3a91".into(),
        combination: "unit = \"F\", locked = true".into(),
        events: vec!["fire { target: 610 }".into(), "target ← 610".into()],
        checked: 24,
        broke: 12,
        cases: Vec::new(),
        written: Some(place("KilnDial.contract.yaml", 31, 13)),
    }
}

fn results(components: Vec<Component>, faults: Vec<FileFault>) -> Results {
    let of = |v: Verdict| components.iter().filter(|c| c.verdict == v).count();
    let totals =
        Totals { components: components.len(), combinations: 8, checks: 48, broken: of(Verdict::Broken), unjudged: of(Verdict::Unjudged) };
    Results { fidelon: "0.1.0".into(), format: 1, part: None, totals, components, faults, notes: Vec::new() }
}

fn told(results: &Results) -> String {
    let read = |file: &str| match file {
        "KilnDial.vue" => Some("<template>\n  <button @click=\"fire\">Raise</button>\n".to_owned()),
        "K.contract.yaml" => Some("component: ./KilnDial.vue\nprosp: {}\n".to_owned()),
        _ => None,
    };
    terminal::report(results, Style { colour: false, width: 80 }, &read)
}

#[test]
fn a_finding_tells_promise_cause_difference_and_place() {
    let mut broken = component("vue/KilnDial.vue", Verdict::Broken);
    broken.findings = vec![finding()];
    let report = told(&results(vec![broken, component("vue/VentSwitch.vue", Verdict::Holds)], Vec::new()));
    let wanted = "\
✗ vue/KilnDial.vue    broken    1 promise of 1 in 4 combinations

vue/KilnDial.vue “a locked dial is inert”
  breaks    exactly when unit = \"F\" and locked and slots.caption is empty (broke
            in 12 of 24 cases)
  so        something was emitted
  expected  nothing
  actual    fire { target: 610 }
  at        div.dial > button.raise
  events    fire { target: 610 }, then target ← 610
  shown by  KilnDial@7f3a91 with unit = \"F\", locked = true
  again     fidelon replay KilnDial@7f3a91
  source    KilnDial.vue:2:3
                 1 <template>
            >    2   <button @click=\"fire\">Raise</button>
  promised  KilnDial.contract.yaml:31:13

✓ vue/VentSwitch.vue  holds     12 checks in 4 combinations

2 components: 1 holds, 1 broken · 8 combinations · 48 checks
";
    assert_eq!(report, wanted, "\n{report}");
}

#[test]
fn what_was_told_of_one_component_is_not_told_again_of_another() {
    let of_a_part = || Finding { kind: RuleKind::Law, rule: "access/named".into(), ..finding() };
    let broken = |name: &str, finding: Finding| Component { findings: vec![finding], ..component(name, Verdict::Broken) };
    let reason = |message: &str, at: Option<Place>| Reason { message: message.into(), place: at, file: false };
    let unjudged = |name: &str, reason: Reason| Component { reason: Some(reason), ..component(name, Verdict::Unjudged) };
    let own = Finding { about: Some("unit".into()), ..of_a_part() };
    let all = vec![
        broken("vue/KilnDial.vue", of_a_part()),
        broken("vue/KilnFloor.vue", of_a_part()),
        broken("vue/ShelfCard.vue", own),
        unjudged("vue/A.vue", reason("Vue is not installed", Some(place("vue/A.vue", 1, 1)))),
        unjudged("vue/B.vue", reason("Vue is not installed", Some(place("vue/B.vue", 1, 1)))),
        unjudged("vue/C.vue", reason("a bracket is missing", Some(place("vue/C.vue", 4, 2)))),
        unjudged("vue/D.vue", reason("a bracket is missing", Some(place("vue/D.vue", 7, 1)))),
    ];
    let report = told(&results(all, Vec::new()));
    let again = "vue/KilnFloor.vue access/named (every control has an accessible name)\n  as        told of vue/KilnDial.vue, at KilnDial.vue:2:3\n";
    assert!(report.contains(again), "{report}");
    assert_eq!(report.matches("something was emitted").count(), 2, "what is about a prop is a component's own: {report}");
    assert!(report.contains("vue/B.vue          unjudged\n    for the reason that was told of vue/A.vue\n"), "{report}");
    assert_eq!(report.matches("a bracket is missing").count(), 2, "each stands at a place of its own: {report}");
}

#[test]
fn when_it_breaks_is_told_in_every_shape() {
    for (cause, broke, wanted) in [
        (Some(Vec::new()), 24, "always (broke in 24 of 24 cases)"),
        (None, 3, "in 3 of 24 cases"),
        (
            Some(vec![Condition { prop: "step".into(), is: Value::Absent, or: Vec::new() }]),
            2,
            "exactly when step is not passed (broke in 2 of 24 cases)",
        ),
        (
            Some(vec![Condition { prop: "locked".into(), is: Value::json(false), or: Vec::new() }]),
            2,
            "exactly when not locked (broke in 2 of 24 cases)",
        ),
    ] {
        let mut broken = component("A.vue", Verdict::Broken);
        broken.findings = vec![Finding { cause, broke, ..finding() }];
        let report = told(&results(vec![broken], Vec::new()));
        assert!(report.contains(&format!("  breaks    {wanted}\n")), "{report}");
    }
}

#[test]
fn several_causes_and_what_it_took_to_find_them() {
    let mut broken = component("A.vue", Verdict::Broken);
    let cone = Condition { prop: "cone".into(), is: Value::json(6), or: vec![Value::json(10)] };
    broken.findings = vec![Finding { also: vec![vec![cone]], asked: 12, ..finding() }];
    let report = told(&results(vec![broken], Vec::new()));
    for line in [
        "  breaks    when unit = \"F\" and locked and slots.caption is empty (broke in",
        "; 12 more played",
        "  also      when cone = 6 or 10\n",
    ] {
        assert!(report.contains(line), "{line}: {report}");
    }
}

#[test]
fn a_law_says_what_it_demands() {
    let mut broken = component("A.vue", Verdict::Broken);
    broken.findings = vec![Finding { rule: "prop/live".into(), kind: RuleKind::Law, ..finding() }];
    assert!(told(&results(vec![broken], Vec::new())).contains("A.vue prop/live (a changed prop shows as it would in a fresh mount)"));
}

#[test]
fn long_markup_is_cut_to_where_it_differs() {
    let long = |end: &str| format!("{}<p class=\"reading\">{end}</p>{}", "<i></i>".repeat(60), "<b></b>".repeat(60));
    let mut broken = component("A.vue", Verdict::Broken);
    let mut one = finding();
    one.failure.expected = Some(long("600"));
    one.failure.actual = Some(long("610"));
    broken.findings = vec![one];
    let report = told(&results(vec![broken], Vec::new()));
    let lines: Vec<&str> = report.lines().skip_while(|l| !l.contains("expected")).take_while(|l| !l.contains("  at ")).collect();
    assert!(lines.len() < 12, "{report}");
    assert!(report.contains("600") && report.contains("610") && report.contains("… <"), "{report}");
}

#[test]
fn what_could_not_be_judged_says_why_and_where() {
    let mut lost = component("A.vue", Verdict::Unjudged);
    lost.reason = Some(Reason { message: "it needed more than 96 MiB of memory".into(), place: Some(place("A.vue", 4, 5)), file: false });
    lost.notes = vec!["`prop/live` is off: all is initial".into()];
    let report = told(&results(vec![lost], Vec::new()));
    assert_eq!(
        report,
        "? A.vue  unjudged\n    A.vue:4:5: it needed more than 96 MiB of memory\n    `prop/live` is off: all is initial\n\n1 component: 1 unjudged · 8 combinations · 48 checks\n"
    );
}

#[test]
fn a_fault_of_a_file_underlines_the_text() {
    let fault = FileFault {
        place: place("K.contract.yaml", 2, 1),
        fault: Fault::new(Span::new(26, 31), "`prosp` is no key of a contract").help("did you mean `props`?"),
    };
    let report = told(&results(Vec::new(), vec![fault]));
    for part in [
        "error: `prosp` is no key of a contract",
        "K.contract.yaml:2:1",
        "2 | prosp: {}",
        "^^^^^",
        "help: did you mean `props`?",
        "1 fault in files",
    ] {
        assert!(report.contains(part), "{part}: {report}");
    }
    let nowhere = FileFault { place: place("gone.yaml", 1, 1), fault: Fault::new(Span::default(), "there is no such file") };
    let report = told(&results(Vec::new(), vec![nowhere]));
    assert!(report.contains("error: there is no such file") && report.contains("in gone.yaml"), "{report}");
}

#[test]
fn nothing_found_says_what_to_do() {
    assert!(told(&results(Vec::new(), Vec::new())).contains("fidelon check src"));
}

#[test]
fn colour_changes_no_word() {
    let mut broken = component("vue/KilnDial.vue", Verdict::Broken);
    broken.findings = vec![finding()];
    let results = results(vec![broken], Vec::new());
    let coloured = terminal::report(&results, Style { colour: true, width: 80 }, &|_| None);
    let mut plain = String::new();
    let mut rest = coloured.as_str();
    while let Some((before, after)) = rest.split_once('\u{1b}') {
        plain.push_str(before);
        rest = after.split_once('m').map_or("", |(_, r)| r);
    }
    plain.push_str(rest);
    assert!(coloured.contains('\u{1b}'));
    assert_eq!(plain, terminal::report(&results, Style { colour: false, width: 80 }, &|_| None));
}

#[test]
fn where_two_texts_differ_is_marked_below_them_or_in_colour() {
    let report = |colour| {
        let mut broken = component("A.vue", Verdict::Broken);
        let mut one = finding();
        one.failure.expected = Some("\"600 °C\"".into());
        one.failure.actual = Some("\"610 °C\"".into());
        broken.findings = vec![one];
        terminal::report(&results(vec![broken], Vec::new()), Style { colour, width: 80 }, &|_| None)
    };
    assert!(report(false).contains("  expected  \"600 °C\"\n  actual    \"610 °C\"\n              ^\n"), "{}", report(false));
    assert!(
        report(true).contains("\"6\u{1b}[32m0\u{1b}[0m0 °C\"") && report(true).contains("\"6\u{1b}[1;31m1\u{1b}[0m0 °C\""),
        "{}",
        report(true)
    );
}

#[test]
fn a_terminal_of_forty_columns_has_no_line_that_is_wider() {
    let mut broken = component("vue/dials/KilnDialWithALongName.vue", Verdict::Broken);
    let mut one = finding();
    one.failure.place = Some(place("KilnDial.vue", 2, 3));
    broken.findings = vec![one];
    let all = results(vec![broken, component("vue/VentSwitch.vue", Verdict::Holds)], Vec::new());
    let read = |_: &str| Some(format!("<template>\n  <button {}>Raise</button>\n", "class=\"x\" ".repeat(20)));
    let report = terminal::report(&all, Style { colour: false, width: 40 }, &read);
    for line in report.lines() {
        assert!(line.chars().count() <= 40 || !line.trim().contains(' '), "{line}\n{report}");
    }
    assert!(report.contains("✗ vue/dials/KilnDialWithALongName.vue\n    broken    1 promise of 1\n"), "{report}");
}
