//! One component judged on a made-up stage: every law on a component that keeps it and one that breaks it, causes,
//! exemptions, what cannot be judged, and what is left over from an earlier case.

use fidelon_core::UnjudgedCause;
use fidelon_core::Value;
use fidelon_core::finding::{Condition, Verdict};
use fidelon_core::judge::laws::Effort;
use fidelon_core::observation::{Emitted, Note, Observation, PhaseSnapshot, Tone};
use fidelon_core::results::Component;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Opened, Script, Stage, StageError, Step};
use fidelon_core::surface::{Event, Framework, Prop, Surface, Type};
use fidelon_run::Realms;
use fidelon_run::judging::{ContractSource, JudgeOptions, Judged, judge};
use fidelon_run::survey::Job;
use fidelon_stage::Sandbox;
use indexmap::IndexMap;

/// What a made-up component shows: from its first props, its props now, how often it was told props, and how many cases
/// were played in its realm before.
type Shows = fn(&Life) -> String;

/// The life of a component up to now.
struct Life {
    first: IndexMap<String, Value>,
    now: IndexMap<String, Value>,
    passed: usize,
    before: usize,
    seed: i32,
}

impl Life {
    fn word(&self, name: &str) -> String {
        text(&self.now, name)
    }
    fn first_word(&self, name: &str) -> String {
        text(&self.first, name)
    }
}

fn text(props: &IndexMap<String, Value>, name: &str) -> String {
    match props.get(name) {
        Some(Value::Json(serde_json::Value::String(s))) => s.clone(),
        Some(Value::Absent) | None => "none".into(),
        Some(other) => other.to_string(),
    }
}

fn job(surface: Surface) -> Job {
    Job::new(surface)
}

/// A stage whose component is a function.
struct MadeUp {
    shows: Shows,
    played: usize,
    renewed: usize,
    all: usize,
    /// What each case takes, in steps of the engine.
    work: u64,
}

impl MadeUp {
    fn new(shows: Shows) -> Self {
        Self { shows, played: 0, renewed: 0, all: 0, work: 0 }
    }

    /// `!text` is thrown, `?text` is warned of, `>name` is emitted, `~` never rests, the rest is markup.
    fn see(&self, life: &Life, mount: bool) -> PhaseSnapshot {
        let mut seen = PhaseSnapshot { settled: true, ..PhaseSnapshot::default() };
        let mut html = String::new();
        for line in (self.shows)(life).lines() {
            let note = |tone, text: &str| Note { tone, text: text.into(), place: None };
            match line.split_at_checked(1) {
                Some(("!", text)) => seen.notes.push(note(Tone::Failed, text)),
                Some(("?", text)) => seen.notes.push(note(Tone::Warned, text)),
                Some((">", name)) if !mount => {
                    seen.events.push(Emitted { name: name.into(), binding: false, payload: Vec::new(), part: String::new() })
                }
                Some((">", _)) => {}
                Some(("~", _)) => seen.settled = false,
                _ => html.push_str(line),
            }
        }
        seen.tree = fidelon_dom::parse::document(&format!("<div>{html}</div>"));
        seen
    }
}

impl Stage for MadeUp {
    fn open(&mut self, _: &Scene) -> Result<Opened, StageError> {
        Ok(Opened::default())
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        self.all += 1;
        let first = script.combination.props.clone();
        let mut life = Life { now: first.clone(), first, passed: 0, before: self.played, seed: script.seed };
        self.played += 1;
        let mut phases = vec![self.see(&life, true)];
        if phases[0].notes.iter().any(|n| n.text == "hang") {
            return Err(StageError::Unjudged(UnjudgedCause::Deadline { steps: 1_000, deadline: 1 }.into()));
        }
        for steps in &script.phases {
            for step in steps {
                if let Step::Pass { props } = step {
                    life.now.extend(props.clone());
                    life.passed += 1;
                }
            }
            phases.push(self.see(&life, steps.is_empty()));
        }
        Ok(Observation { work: self.work, ..Observation::new(phases) })
    }

    fn renew(&mut self) {
        self.played = 0;
        self.renewed += 1;
    }
}

fn surface() -> Surface {
    let mut surface = Surface::new("KilnDial", "KilnDial.vue", "default", Framework::Vue);
    let prop = |name: &str, ty| Prop { required: true, ..Prop::new(name, ty) };
    surface.props = vec![
        prop("unit", Type::Union { of: vec!["C".into(), "F".into()] }),
        prop("locked", Type::Boolean),
        prop("cone", Type::Union { of: vec![6.into(), 10.into(), 12.into()] }),
    ];
    surface.events = vec![Event::new("fire", "fire")];
    surface
}

fn judged(shows: Shows, contract: Option<&str>) -> Component {
    judged_on(&mut MadeUp::new(shows), contract, Realms::Shared)
}

fn judged_on(stage: &mut MadeUp, contract: Option<&str>, realms: Realms) -> Component {
    let text = contract.map(|c| format!("component: ./KilnDial.vue\n{c}"));
    let read = text.as_ref().map(|t| fidelon_core::contract::read(t).unwrap_or_else(|f| panic!("{f:?}")));
    let held = text.as_ref().map(|text| ContractSource {
        file: "KilnDial.contract.yaml",
        text,
        beside: "",
        contract: read.as_ref(),
        partial: None,
    });
    let Judged { component, faults, .. } =
        judge(&job(surface()), held, stage, None, &mut Sandbox::default(), JudgeOptions { realms, ..JudgeOptions::default() });
    assert!(faults.is_empty(), "{faults:?}");
    component
}

fn broken(component: &Component) -> Vec<&str> {
    component.laws.iter().filter(|l| l.verdict == Verdict::Broken).filter_map(|l| l.law.as_deref()).collect()
}

#[test]
fn each_law_breaks_on_what_breaks_it_and_on_nothing_else() {
    let sound: Shows = |life| format!("<p>{} {}</p>", life.word("unit"), life.word("locked"));
    assert_eq!(judged(sound, None).verdict, Verdict::Holds);
    let rows: [(&str, Shows); 8] = [
        ("render/succeeds", |life| if life.word("unit") == "F" { "!TypeError: no scale".into() } else { "<p>ok</p>".into() }),
        ("render/quiet", |_| "<p>ok</p>\n?Missing key".into()),
        ("render/settles", |_| "<p>ok</p>\n~".into()),
        ("render/repeatable", |life| format!("<p>{}</p>", life.seed)),
        ("prop/live", |life| format!("<p>{}</p>", life.first_word("unit"))),
        ("prop/steady", |life| format!("<p>{}</p>", if life.passed > 1 { "again" } else { "once" })),
        ("prop/steady", |life| if life.passed > 0 && life.first == life.now { "<p>ok</p>\n>fire".into() } else { "<p>ok</p>".into() }),
        // What only the first rendering shows harms nobody.
        ("", |life| if life.passed == 0 { "<p style='animation: none'>ok</p>".into() } else { "<p>ok</p>".into() }),
    ];
    for (law, shows) in rows {
        let component = judged(shows, None);
        let wanted: Vec<&str> = Some(law).into_iter().filter(|l| !l.is_empty()).collect();
        assert_eq!(broken(&component), wanted, "{:#?}", component.findings);
    }
}

#[test]
fn the_cause_is_the_smallest_condition() {
    let rows: [(Shows, Option<&str>); 5] = [
        (|life| if life.word("unit") == "F" { "!hot".into() } else { String::new() }, Some("unit = \"F\"")),
        (
            |life| if life.word("unit") == "F" && life.word("locked") == "true" { "!hot".into() } else { String::new() },
            Some("unit = \"F\" and locked"),
        ),
        (|_| "!hot".into(), Some("")),
        (
            |life| if life.word("unit") == "F" || life.word("cone") == "10" { "!hot".into() } else { String::new() },
            Some("cone = 10 / unit = \"F\""),
        ),
        (|life| if life.word("cone") != "6" { "!hot".into() } else { String::new() }, Some("cone = 10 or 12")),
    ];
    for (shows, cause) in rows {
        let component = judged(shows, None);
        let finding = component.findings.first().expect("broken");
        let words = |c: &Vec<Condition>| c.iter().map(ToString::to_string).collect::<Vec<_>>().join(" and ");
        let told = finding.cause.as_ref().map(|c| std::iter::once(c).chain(&finding.also).map(words).collect::<Vec<_>>().join(" / "));
        assert_eq!(told.as_deref(), cause, "{finding:#?}");
        assert_eq!(finding.rule, "render/succeeds");
        assert!(finding.case.starts_with("KilnDial@"), "{}", finding.case);
    }
}

#[test]
fn a_clause_is_played_on_the_combinations_it_applies_to() {
    let shows: Shows = |life| format!("<p class=u>{}</p>", if life.word("locked") == "true" { "-".into() } else { life.word("unit") });
    let contract = "props: { unit: all, locked: all, cone: [6] }\nnever: unit === 'F' && locked\nclauses:\n\
        \x20 - clause: shows its unit\n    expect: [{ text: .u, is: \"${unit}\" }]\n\
        \x20 - clause: shows it while open\n    where: \"!locked\"\n    expect: [{ text: .u, is: \"${unit}\" }]\n\
        \x20 - clause: a locked one hides it\n    hold: { locked: true }\n    expect: [{ text: .u, is: \"-\" }]\n";
    let component = judged(shows, Some(contract));
    let told: Vec<_> = component.clauses.iter().map(|c| (c.clause.as_deref().unwrap_or(""), c.verdict, c.checked, c.broke)).collect();
    assert_eq!(
        told,
        [
            ("shows its unit", Verdict::Broken, 3, 1),
            ("shows it while open", Verdict::Holds, 2, 0),
            ("a locked one hides it", Verdict::Holds, 2, 0)
        ]
    );
    assert_eq!(component.combinations, 3, "one of four never occurs");
    let finding = &component.findings[0];
    assert_eq!(finding.cause.as_ref().map(|c| c.iter().map(ToString::to_string).collect::<Vec<_>>()), Some(vec!["locked".to_owned()]));
    assert_eq!((finding.failure.expected.as_deref(), finding.failure.actual.as_deref()), (Some("\"C\""), Some("\"-\"")));
    assert_eq!(finding.written.as_ref().map(|p| (p.file.as_str(), p.line)), Some(("KilnDial.contract.yaml", 5)));
}

#[test]
fn what_a_contract_exempts_is_not_held_against_it() {
    let stale: Shows = |life| format!("<p>{}{}</p>", life.first_word("unit"), life.first_word("cone"));
    let of = |laws: &str| judged(stale, Some(&format!("props: {{ unit: all, locked: all, cone: all }}\nlaws:\n  prop/live: {laws}\n")));
    assert_eq!(broken(&of("{ except: [unit, cone], because: they are initial }")), Vec::<&str>::new());
    let partly = of("{ except: [unit], because: it is initial }");
    assert_eq!(partly.findings.len(), 1, "cone is stale still");
    let off = of("{ off: true, because: all is initial }");
    assert_eq!(broken(&off), Vec::<&str>::new());
    assert!(off.notes.iter().any(|n| n.contains("`prop/live` is off: all is initial")), "{:?}", off.notes);
}

#[test]
fn names_that_say_initial_are_taken_at_their_word() {
    let mut initial = surface();
    initial.props[0].name = "initialUnit".into();
    let shows: Shows = |life| format!("<p>{}</p>", life.first_word("initialUnit"));
    let job = job(initial);
    let component = judge(&job, None, &mut MadeUp::new(shows), None, &mut Sandbox::default(), JudgeOptions::default()).component;
    assert_eq!(broken(&component), Vec::<&str>::new());
}

/// The notes of a component but for the one of props that change nothing: most made-up components show few of theirs.
fn notes(component: &Component) -> Vec<&str> {
    component.notes.iter().map(String::as_str).filter(|n| !n.contains("nothing that a parent")).collect()
}

#[test]
fn what_changes_nothing_is_told_and_is_no_fault() {
    let of = |shows: Shows| {
        let component = judged(shows, None);
        assert_eq!(component.verdict, Verdict::Holds);
        component.notes
    };
    assert_eq!(
        of(|life| format!("<p>{}</p>", life.word("unit"))),
        [
            "`locked`, `cone` change nothing that a parent or a person can notice, with the values that were tried: give others under `props:` in a contract"
        ]
    );
    // One value of three, in half of the combinations, is enough.
    let seldom: Shows = |life| {
        let warm = life.word("locked") == "true" && life.word("cone") == "12";
        format!("<p>{}{}</p>", life.word("unit"), if warm { "!" } else { "" })
    };
    assert_eq!(of(seldom), Vec::<String>::new());
}

#[test]
fn a_failure_left_over_from_an_earlier_case_is_not_believed() {
    // The first case in a realm is fine; later ones trip over what it left in a variable of the module.
    let mut leaves = MadeUp::new(|life| if life.before > 0 { "!left over".into() } else { "<p>ok</p>".into() });
    let component = judged_on(&mut leaves, None, Realms::Shared);
    assert_eq!(component.verdict, Verdict::Holds, "{:#?}", component.findings);
    assert!(notes(&component)[0].contains("a realm of its own"), "{:?}", component.notes);
    assert!(leaves.renewed > 10, "every case had a fresh realm in the end");

    let mut true_fault = MadeUp::new(|life| if life.word("unit") == "F" { "!hot".into() } else { "<p>ok</p>".into() });
    let component = judged_on(&mut true_fault, None, Realms::Shared);
    assert_eq!((component.verdict, broken(&component)), (Verdict::Broken, vec!["render/succeeds"]));
    assert!(notes(&component).is_empty(), "{:?}", component.notes);
    assert!(true_fault.renewed <= 4, "only what is told is played again afresh: {}", true_fault.renewed);
}

#[test]
fn two_stages_that_disagree_are_told_apart_by_cause() {
    let shows: Shows = |life| format!("<p>{}</p>", life.word("cone"));
    let elsewhere: Shows = |life| if life.word("unit") == "F" { "<p>wide</p>".into() } else { format!("<p>{}</p>", life.word("cone")) };
    let of = |other: Shows, contract: Option<&str>| {
        let text = contract.map(|c| format!("component: ./KilnDial.vue\n{c}"));
        let read = text.as_ref().map(|t| fidelon_core::contract::read(t).unwrap_or_else(|f| panic!("{f:?}")));
        let held = text.as_ref().map(|text| ContractSource {
            file: "KilnDial.contract.yaml",
            text,
            beside: "",
            contract: read.as_ref(),
            partial: None,
        });
        let (mut here, mut there) = (MadeUp::new(shows), MadeUp::new(other));
        judge(&job(surface()), held, &mut here, Some(&mut there), &mut Sandbox::default(), JudgeOptions::default()).component
    };
    let same = of(shows, None);
    assert!(same.laws.iter().any(|l| l.law.as_deref() == Some("stage/agrees") && l.checked == same.combinations), "{:?}", same.laws);
    assert!(!broken(&same).contains(&"stage/agrees"));
    let differ = of(elsewhere, None);
    let finding = differ.findings.iter().find(|f| f.rule == "stage/agrees").expect("told");
    let cause: Vec<String> = finding.cause.iter().flatten().map(ToString::to_string).collect();
    assert_eq!(cause, ["unit = \"F\""]);
    assert_eq!(finding.failure.expected.as_deref(), Some("<p>wide</p>"), "the other stage is the measure");
    let exempt = of(elsewhere, Some("laws: { stage/agrees: { off: true, because: it measures itself } }"));
    assert!(!broken(&exempt).contains(&"stage/agrees"));
    assert!(
        !judged(shows, None).laws.iter().any(|l| l.law.as_deref() == Some("stage/agrees")),
        "without another stage nothing is said of it"
    );
}

#[test]
fn a_realm_for_each_case_can_be_asked_for() {
    let mut stage = MadeUp::new(|life| if life.before > 0 { "!left over".into() } else { "<p>ok</p>".into() });
    let component = judged_on(&mut stage, None, Realms::Fresh);
    assert_eq!((component.verdict, notes(&component).len()), (Verdict::Holds, 0));
    assert_eq!(stage.renewed, stage.all);
}

#[test]
fn no_script_is_played_twice() {
    let mut stage = MadeUp::new(|life| format!("<p>{}</p>", life.word("unit")));
    let component = judged_on(&mut stage, None, Realms::Shared);
    let checks: usize = component.laws.iter().map(|l| l.checked).sum();
    assert_eq!(component.combinations, 12);
    // Several laws look at the same 12 mounts, and at the same props told once more; all together play no more than seven times as much
    // as rendering the plan.
    assert!(stage.all < checks, "{} scripts for {checks} checks", stage.all);
    assert!(stage.all <= 7 * 12, "{}", stage.all);
}

#[test]
fn what_hangs_with_one_value_is_judged_without_it() {
    let component = judged(|life| if life.word("cone") == "10" { "!hang".into() } else { "<p>ok</p>".into() }, None);
    assert_eq!((component.verdict, component.combinations), (Verdict::Holds, 8));
    let [note] = notes(&component)[..] else { panic!("{:?}", component.notes) };
    assert!(note.starts_with("not judged with cone = 10: it did not come to an end within"), "{note}");
    // What else breaks is found.
    let shows: Shows = |life| match (life.word("cone").as_str(), life.word("unit").as_str()) {
        ("10", _) => "!hang".into(),
        (_, "F") => "!hot".into(),
        _ => "<p>ok</p>".into(),
    };
    let component = judged(shows, None);
    assert_eq!((component.verdict, component.findings[0].rule.as_str()), (Verdict::Broken, "render/succeeds"));
    // Values that a contract asks for are not silently passed over.
    let component =
        judged(|life| if life.word("cone") == "10" { "!hang".into() } else { String::new() }, Some("props: { cone: [6, 10] }\n"));
    assert_eq!(component.verdict, Verdict::Unjudged);
    assert!(component.reason.is_some_and(|r| r.message.starts_with("not judged with cone = 10")), "{:?}", component.notes);
}

#[test]
fn what_hangs_with_two_values_together_is_left_out_alone() {
    let component = judged(|life| if life.word("cone") == "10" && life.word("unit") == "F" { "!hang".into() } else { String::new() }, None);
    assert_eq!((component.verdict, component.combinations), (Verdict::Holds, 10), "{:?}", component.notes);
    assert!(notes(&component).iter().all(|n| n.contains("unit = \"F\"") && n.contains("cone = 10")), "{:?}", component.notes);
}

#[test]
fn what_always_hangs_is_unjudged_and_says_with_what() {
    let component = judged(|_| "!hang".into(), None);
    assert_eq!(component.verdict, Verdict::Unjudged);
    let reason = component.reason.expect("told").message;
    assert!(reason.contains("did not come to an end") && reason.contains("cone = 6"), "{reason}");
}

#[test]
fn the_same_component_gives_the_same_bytes() {
    let shows: Shows = |life| if life.word("unit") == "F" { "!hot".into() } else { format!("<p>{}</p>", life.first_word("cone")) };
    let json = |c: &Component| serde_json::to_string(c).expect("plain data");
    assert_eq!(json(&judged(shows, None)), json(&judged(shows, None)));
}

#[test]
fn a_required_prop_of_unknown_type_needs_a_contract() {
    let mut unknown = surface();
    unknown.props[1].name = "kiln".into();
    unknown.props[1].ty = Type::Unresolved { text: "Kiln".into() };
    let job = job(unknown);
    let component =
        judge(&job, None, &mut MadeUp::new(|_| String::new()), None, &mut Sandbox::default(), JudgeOptions::default()).component;
    assert_eq!(component.verdict, Verdict::Unjudged);
    assert!(component.reason.is_some_and(|r| r.message.contains("`kiln`") && r.message.contains("props:")));
}

#[test]
fn faults_that_only_the_component_or_the_engine_can_tell() {
    for (contract, part) in [
        ("props: { unti: [C] }\n", "`unti` is no prop of KilnDial"),
        ("props: { unit: all }\nnever: unit ===\n", "this is no expression"),
        ("props: { unit: all }\nnever: nope.nope\n", "the expression fails"),
        (
            "props: { unit: all }\nclauses: [{ clause: a, where: unit === 'K', expect: [{ count: p, is: 1 }] }]\n",
            "applies to no combination",
        ),
        ("props: { unit: all }\nclauses: [{ clause: a, expect: [{ emitted: fired }] }]\n", "`fired` is no event"),
    ] {
        let text = format!("component: ./KilnDial.vue\n{contract}");
        let read = fidelon_core::contract::read(&text).unwrap_or_else(|f| panic!("{contract}: {f:?}"));
        let held = ContractSource { file: "K.contract.yaml", text: &text, beside: "", contract: Some(&read), partial: None };
        let job = job(surface());
        let Judged { component, faults, .. } =
            judge(&job, Some(held), &mut MadeUp::new(|_| String::new()), None, &mut Sandbox::default(), JudgeOptions::default());
        assert_eq!(component.verdict, Verdict::Unjudged, "{contract}");
        assert!(faults.iter().any(|f| f.fault.message.contains(part)), "{contract}: {faults:?}");
        assert!(faults.iter().all(|f| f.place.line >= 2), "{contract}: {faults:?}");
    }
}

#[test]
fn a_warning_that_is_told_once_is_counted_in_every_case() {
    // As frameworks do: the first case of a realm hears of it, the others do not.
    let shows: Shows = |life| if life.before == 0 { "<p>ok</p>\n?Missing key".into() } else { "<p>ok</p>".into() };
    let component = judged(shows, None);
    let rule = component.laws.iter().find(|l| l.law.as_deref() == Some("render/quiet")).expect("checked");
    assert_eq!((rule.broke, rule.checked), (12, 12), "{rule:?}");
    assert_eq!(component.findings[0].cause, Some(Vec::new()), "it always warns");
    let contract =
        "clauses: [{ clause: is quiet, expect: [{ warned: nothing }] }, { clause: warns, expect: [{ warned: true, has: key }] }]";
    let component = judged(shows, Some(contract));
    let told: Vec<_> = component.clauses.iter().map(|c| (c.broke, c.checked)).collect();
    assert_eq!(told, [(1, 1), (0, 1)], "a promise about warnings is seen in a realm of its own");
}

#[test]
fn what_it_looked_like_is_kept_where_that_is_asked_for() {
    let shows: Shows = |life| format!("<style>p {{ top: 0 }}</style><p class=u>{}</p>", life.word("unit"));
    let text = "component: ./KilnDial.vue\nprops: { unit: all, locked: [false], cone: [6, 10] }\ncover: every\nclauses:\n\
        \x20 - clause: follows its unit\n    do:\n      - pass: { unit: C }\n    expect: [{ text: .u, is: K }]\n";
    let read = fidelon_core::contract::read(text).unwrap_or_else(|f| panic!("{f:?}"));
    let held = ContractSource { file: "K.contract.yaml", text, beside: "", contract: Some(&read), partial: None };
    let judged = |pictures| {
        judge(
            &job(surface()),
            Some(held),
            &mut MadeUp::new(shows),
            None,
            &mut Sandbox::default(),
            JudgeOptions { pictures, ..JudgeOptions::default() },
        )
    };
    assert!(judged(false).gallery.is_none());
    let Judged { component, gallery, .. } = judged(true);
    assert_eq!(component, judged(false).component, "to look costs no verdict");
    let gallery = gallery.expect("asked for");
    let axes: Vec<(&str, usize)> = gallery.axes.iter().map(|(name, values)| (name.as_str(), values.len())).collect();
    assert_eq!(axes, [("unit", 2), ("locked", 1), ("cone", 2)]);
    // Four combinations, two pages, one set of rules.
    assert_eq!((gallery.shots.len(), gallery.pages.len(), gallery.styles.len()), (4, 2, 1), "{gallery:#?}");
    assert_eq!(gallery.shots[1].values["unit"], "\"C\"");
    let page = |shot: usize| &gallery.pages[gallery.shots[shot].page.expect("rendered")].body;
    assert!(page(0).contains("<p class=\"u\">C</p>") && page(3).contains("<p class=\"u\">F</p>"), "{} {}", page(0), page(3));
    // What broke, step by step: the mount, and the step after which the check fails.
    let [film] = gallery.films.as_slice() else { panic!("{:?}", gallery.films) };
    assert_eq!((film.rule.as_str(), &film.case), ("follows its unit", &component.findings[0].case));
    let steps: Vec<_> = film.moments.iter().map(|m| (m.step.as_deref(), m.broke.len())).collect();
    assert_eq!(steps, [(None, 0), (Some("pass unit = \"C\""), 1)]);
    // All combinations in which it broke are named, in the order of the plan.
    let cases: Vec<&String> = gallery.shots.iter().map(|s| &s.case).collect();
    assert_eq!(component.findings[0].cases.iter().collect::<Vec<_>>(), cases);
}

#[test]
fn a_first_look_takes_few_combinations_and_asks_for_no_cause() {
    let shows: Shows = |life| if life.word("unit") == "F" && life.word("cone") == "12" { "!hot".into() } else { "<p>ok</p>".into() };
    let look = |glance| {
        let mut stage = MadeUp::new(shows);
        let judged =
            judge(&job(surface()), None, &mut stage, None, &mut Sandbox::default(), JudgeOptions { glance, ..JudgeOptions::default() });
        (judged.component, stage.all)
    };
    let ((whole, all), (first, few)) = (look(false), look(true));
    assert!(few * 5 < all, "{few} of {all}");
    assert_eq!((whole.verdict, first.verdict, first.combinations), (Verdict::Broken, Verdict::Broken, 2));
    assert!(whole.findings[0].cause.is_some() && first.findings[0].cause.is_none(), "{:?}", first.findings[0].cause);
    // A clause that none of the few is for is no fault.
    let text = "component: ./KilnDial.vue\nprops: { unit: [C, F], locked: [false], cone: [6, 10, 12] }\ncover: every\nclauses:\n\
        \x20 - clause: in between\n    where: cone === 10\n    expect: [{ present: p }]\n";
    let read = fidelon_core::contract::read(text).unwrap_or_else(|f| panic!("{f:?}"));
    let held = ContractSource { file: "K.contract.yaml", text, beside: "", contract: Some(&read), partial: None };
    let how = JudgeOptions { glance: true, ..JudgeOptions::default() };
    let judged = judge(&job(surface()), Some(held), &mut MadeUp::new(|_| "<p>ok</p>".into()), None, &mut Sandbox::default(), how);
    assert_eq!((judged.component.verdict, judged.faults.len()), (Verdict::Holds, 0), "{:?}", judged.faults);
}

/// A law that plays each case in a realm of its own does not ask for every value of every prop there.
#[test]
fn many_props_cost_no_realm_for_each_of_their_changes() {
    let props = |count: usize| {
        let mut surface = surface();
        let one = |i: usize| Prop::new(format!("shade{i}"), Type::Union { of: vec!["light".into(), "dark".into(), "none".into()] });
        surface.props.extend((0..count).map(one));
        surface
    };
    let realms = |count: usize, shows: Shows| {
        let mut stage = MadeUp::new(shows);
        let judged = judge(&job(props(count)), None, &mut stage, None, &mut Sandbox::default(), JudgeOptions::default());
        (stage.renewed, judged.component)
    };
    let warns: Shows = |life| format!("<p>{}</p>\n?Missing key", life.word("shade0"));
    let (renewed, component) = realms(150, warns);
    assert!(broken(&component).contains(&"render/quiet"), "{:#?}", component.laws);
    assert!(renewed < 60, "{renewed} realms");
    // Where only some cases break, the others are asked about as well.
    let seldom: Shows = |life| format!("<p>ok</p>{}", if life.word("shade3") == "dark" { "\n?Missing key" } else { "" });
    let (renewed, component) = realms(150, seldom);
    assert!(broken(&component).contains(&"render/quiet"), "{:#?}", component.laws);
    assert!(renewed < 200, "{renewed} realms");
    // What a module keeps, and breaks only what comes after.
    let carries: Shows =
        |life| if life.before > 3 && life.word("shade7") == "dark" { "!it was dark before".into() } else { "<p>ok</p>".into() };
    let (renewed, component) = realms(150, carries);
    assert_eq!(broken(&component), Vec::<&str>::new(), "{:#?}", component.findings);
    assert!(renewed < 500, "{renewed} realms");
    assert!(notes(&component).iter().any(|n| n.contains("changes of")), "{:?}", component.notes);
}

/// However much a case costs, laws together take about twice their budget, and say what they left out; none of them is asked for nothing.
#[test]
fn laws_take_no_more_than_they_may() {
    let budget = Effort::Normal.budget().expect("it is limited");
    let shades = |count: usize| {
        let mut surface = surface();
        let one = |i: usize| Prop::new(format!("shade{i}"), Type::Union { of: vec!["light".into(), "dark".into(), "none".into()] });
        surface.props.extend((0..count).map(one));
        surface
    };
    // Stale: what it shows first it shows for ever.
    let stale: Shows = |life| format!("<p>{}</p><button>{}</button>", life.first_word("unit"), life.word("cone"));
    for work in [10_000, 1_000_000, 10_000_000, 60_000_000] {
        let mut stage = MadeUp { work, ..MadeUp::new(stale) };
        let judged = judge(&job(shades(40)), None, &mut stage, None, &mut Sandbox::default(), JudgeOptions::default()).component;
        let taken = stage.all as u64 * work;
        // Some are played whatever they cost: the first of each kind, and before the laws begin.
        assert!(taken <= budget * 4 + 40 * work, "{work} a case: {} cases, {:.1} budgets", stage.all, taken as f64 / budget as f64);
        assert!(broken(&judged).contains(&"prop/live"), "{work} a case: {:?} {:?}", broken(&judged), judged.notes);
        let says = judged.notes.iter().any(|note| note.contains("it costs much to play: laws looked at"));
        assert_eq!(says, work > 10_000, "{work} a case: {:?}", judged.notes);
    }
}
