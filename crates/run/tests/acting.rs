//! The steps of a person and of a parent, on real components of both frameworks: which events come, in which order, and
//! what is seen afterwards. Each script is played in a real browser too, where there is one, and must be seen alike there.

#![allow(clippy::print_stderr, reason = "it says what was passed over")]

use std::cell::{OnceCell, RefCell};
use std::path::PathBuf;

use fidelon_browser::{Browser, DriverChoice, is_there};
use fidelon_core::judge::agreement::disagreement;
use fidelon_core::locator::Locator;
use fidelon_core::observation::{Observation, PhaseSnapshot, Tone};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Environment, Parent, Script, Stage, Step};
use fidelon_core::surface::Surface;
use fidelon_core::value::Value;
use fidelon_demo::PACKAGES;
use fidelon_loader::{Aliases, Cache};
use fidelon_reader::NoImports;
use fidelon_source::DiskFiles;
use fidelon_stage::{Embedded, Limits, Options};
use indexmap::IndexMap;

/// A project with Vue and React, and one component in it.
struct Stand {
    folder: tempfile::TempDir,
    surface: Surface,
    stage: OnceCell<RefCell<Embedded>>,
    browser: OnceCell<RefCell<Browser>>,
}

impl Stand {
    fn new(file: &str, source: &str) -> Self {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let tar = zstd::decode_all(PACKAGES).expect("packed by xtask");
        tar::Archive::new(tar.as_slice()).unpack(folder.path()).expect("unpacks");
        let path = folder.path().join(file);
        std::fs::write(&path, source).expect("written");
        let surface = fidelon_reader::surfaces(&DiskFiles, &NoImports, &path, file).expect("reads").remove(0);
        Self { folder, surface, stage: OnceCell::new(), browser: OnceCell::new() }
    }

    fn stage(&self) -> Embedded {
        let root: PathBuf = self.folder.path().canonicalize().expect("there");
        let mut stage = Embedded::new(Options {
            root,
            cache: Cache::at(self.folder.path().join(".cache")),
            aliases: Aliases::default(),
            limits: Limits::default(),
        });
        stage.open(&Scene::alone(self.surface.clone())).unwrap_or_else(|e| panic!("{e}"));
        stage
    }

    /// A stage in a real browser; none where there is no browser, unless there has to be one.
    fn browser(&self) -> Option<&RefCell<Browser>> {
        if !is_there() && std::env::var_os("FIDELON_REQUIRE_BROWSER").is_none_or(|v| v != "1") {
            eprintln!("passed over: no browser can be driven here");
            return None;
        }
        Some(self.browser.get_or_init(|| {
            let root: PathBuf = self.folder.path().canonicalize().expect("there");
            let cache = Cache::at(self.folder.path().join(".cache"));
            let options = fidelon_browser::Options {
                root,
                cache,
                aliases: Aliases::default(),
                deadline: Limits::default().deadline,
                driver: DriverChoice::Found,
                real: false,
            };
            let mut browser = Browser::new(options);
            browser.open(&Scene::alone(self.surface.clone())).unwrap_or_else(|e| panic!("{e}"));
            RefCell::new(browser)
        }))
    }

    fn play(&self, script: &Script) -> Observation {
        let seen = self.stage.get_or_init(|| RefCell::new(self.stage())).borrow_mut().play(script).unwrap_or_else(|e| panic!("{e}"));
        if let Some(browser) = self.browser() {
            let there = browser.borrow_mut().play(script).unwrap_or_else(|e| panic!("{e}"));
            assert_eq!(disagreement(&seen, &there), None, "{script:?}");
        }
        seen
    }

    /// What is seen after these steps, from a mount with no props.
    fn after(&self, steps: Vec<Step>) -> PhaseSnapshot {
        PhaseSnapshot::clone(&self.play(&script(steps)).phases[1])
    }
}

fn script(steps: Vec<Step>) -> Script {
    Script {
        combination: Combination::default(),
        parent: Parent::Obeys,
        phases: vec![steps],
        seed: 1,
        surroundings: Environment::default(),
    }
}

fn at(locator: &str) -> Locator {
    Locator::parse(locator).unwrap_or_else(|e| panic!("{locator}: {}", e.message))
}

fn press(locator: &str) -> Step {
    Step::Press { at: at(locator), times: 1 }
}

fn key(key: &str, locator: &str) -> Step {
    Step::Key { key: key.into(), at: Some(at(locator)) }
}

fn typed(text: &str, locator: &str, replace: bool) -> Step {
    Step::Type { text: text.into(), at: at(locator), replace }
}

fn html(seen: &PhaseSnapshot, selector: &str) -> String {
    let found = at(selector).find(&seen.tree, fidelon_dom::Document::ROOT, &[]);
    found.iter().map(|n| fidelon_dom::serialize::inner_html(&seen.tree, *n)).collect::<Vec<_>>().join("|")
}

/// A page that tells which events passed it, `<body>` of the component given.
fn listening(template: &str) -> Stand {
    let source = format!(
        r#"<script setup>
import {{ onMounted, ref }} from 'vue'
const root = ref(null)
const heard = []
const TYPES = 'pointerover pointerenter mouseover mouseenter pointermove mousemove pointerdown mousedown pointerup mouseup click focusin focusout keydown keypress beforeinput input keyup change submit pointerout mouseout invalid'.split(' ')
onMounted(() => {{
  for (const type of TYPES) root.value.addEventListener(type, (e) => {{
    if (e.target === root.value) return
    heard.push(type + (e.key && e.key !== 'Unidentified' ? ':' + e.key : '') + (e.inputType ? ':' + e.data : ''))
  }}, true)
}})
defineExpose({{ heard: () => heard, get all() {{ return heard.join(' ') }} }})
</script>
<template><div ref="root" @submit.prevent>{template}</div></template>
"#
    );
    Stand::new("Listening.vue", &source)
}

fn heard(seen: &PhaseSnapshot) -> String {
    assert!(seen.faults.is_empty(), "{:?}", seen.faults);
    match seen.held("").and_then(|h| h.exposed.as_ref()).and_then(|e| e.get("all")) {
        Some(Value::Json(serde_json::Value::String(text))) => text.clone(),
        other => panic!("{other:?}"),
    }
}

#[test]
fn a_click_is_all_that_a_hand_does() {
    let page = listening("<button>Raise</button><button disabled>Lower</button>");
    assert_eq!(
        heard(&page.after(vec![press("button \"Raise\"")])),
        "pointerover pointerenter mouseover mouseenter pointermove mousemove pointerdown mousedown focusin pointerup mouseup click"
    );
    let twice = heard(&page.after(vec![Step::Press { at: at("button \"Raise\""), times: 2 }]));
    assert_eq!(twice.matches("click").count(), 2);
    assert_eq!(twice.matches("focusin").count(), 1, "it has the focus already");
    let dead = heard(&page.after(vec![press("button \"Lower\"")]));
    assert!(!dead.contains("mouse") && !dead.contains("click") && !dead.contains("focus"), "{dead}");
}

#[test]
fn a_key_is_pressed_and_let_go() {
    let page = listening("<input><button>Go</button>");
    assert_eq!(heard(&page.after(vec![key("a", "input")])), "focusin keydown:a keypress:a beforeinput:a input:a keyup:a");
    assert_eq!(heard(&page.after(vec![key("Enter", "button")])), "focusin keydown:Enter keypress:Enter click keyup:Enter");
    assert_eq!(heard(&page.after(vec![key("Space", "button")])), "focusin keydown:  keypress:  keyup:  click");
    assert_eq!(heard(&page.after(vec![key("Escape", "input")])), "focusin keydown:Escape keyup:Escape");
    let left = heard(&page.after(vec![typed("x", "input", false), key("Tab", "input")]));
    assert!(left.ends_with("keydown:Tab change focusout focusin keyup:Tab"), "an edited field tells its change when it is left: {left}");
}

#[test]
fn typing_edits_where_the_caret_stands() {
    let page = listening(
        "<input value=\"kiln\"><textarea>a</textarea><input type=\"number\" value=\"6\"><input readonly value=\"r\"><input maxlength=\"3\">",
    );
    for (steps, field, value) in [
        (vec![typed("s", "input[value=kiln]", false)], "textbox", "kilns"),
        (vec![typed("mug", "input[value=kiln]", true)], "textbox", "mug"),
        (vec![key("Backspace", "input[value=kiln]")], "textbox", "kil"),
        (vec![key("Control+a", "input[value=kiln]"), key("x", "input[value=kiln]")], "textbox", "x"),
        (vec![typed("b\nc", "textarea", false)], "textarea", "ab\nc"),
        (vec![typed("10", "role(spinbutton)", true)], "number", "10"),
        (vec![typed("-5", "role(spinbutton)", true)], "number", "-5"),
        (vec![key("ArrowUp", "role(spinbutton)")], "number", "7"),
        (vec![typed("abcd", "input[maxlength]", false)], "maxlength", "abc"),
    ] {
        let seen = page.after(steps.clone());
        assert!(seen.faults.is_empty(), "{steps:?}: {:?}", seen.faults);
        let locator = match field {
            "textbox" => "input[value=kiln]",
            "textarea" => "textarea",
            "number" => "input[type=number]",
            _ => "input[maxlength]",
        };
        let node = at(locator).find(&seen.tree, fidelon_dom::Document::ROOT, &[])[0];
        assert_eq!(fidelon_dom::form::value(&seen.tree, node), value, "{steps:?}");
    }
}

#[test]
fn what_a_person_cannot_do_is_a_fault_that_says_why() {
    let page = listening(
        "<input disabled value=\"d\"><input readonly value=\"r\"><p>text</p><button>a</button><button>a</button><select><option>Cone 6</option></select>",
    );
    for (step, part) in [
        (typed("x", "input[disabled]", false), "the field is disabled"),
        (typed("x", "input[readonly]", false), "cannot type into"),
        (typed("x", "p", false), "cannot type into"),
        (press("button \"a\""), "finds 2 nodes"),
        (press("button \"b\""), "There is: button \"a\""),
        (Step::Focus { at: at("p") }, "cannot take the focus"),
        (Step::Choose { option: "Cone 9".into(), at: at("select") }, "There is: Cone 6"),
        (Step::Call { member: "nudge".into(), with: vec![], gives: None }, "`nudge` is no function"),
    ] {
        let seen = page.after(vec![step.clone(), press("p")]);
        assert_eq!(seen.faults.len(), 1, "{step:?}: {:?}", seen.faults);
        assert!(seen.faults[0].message.contains(part), "{step:?}: {}", seen.faults[0].message);
        assert_eq!(seen.faults[0].step, 0, "the steps after it are not played");
    }
}

#[test]
fn choices_are_made_as_a_person_makes_them() {
    let page = listening(
        "<select><option value=\"c\">Celsius</option><option value=\"f\">Fahrenheit</option></select>\
         <label><input type=\"checkbox\" name=\"v\">Vent</label><label><input type=\"radio\" name=\"g\" value=\"1\">Gloss</label><label><input type=\"radio\" name=\"g\" value=\"2\">Matte</label>",
    );
    let chosen = page.after(vec![Step::Choose { option: "Fahrenheit".into(), at: at("select") }]);
    assert!(heard(&chosen).ends_with("focusin input change"), "{}", heard(&chosen));
    let same = page.after(vec![Step::Choose { option: "Celsius".into(), at: at("select") }]);
    assert!(!heard(&same).contains("change"), "nothing changed: {}", heard(&same));
    let ticked =
        page.after(vec![Step::Tick { at: at("checkbox \"Vent\""), on: true }, Step::Tick { at: at("checkbox \"Vent\""), on: true }]);
    assert_eq!(heard(&ticked).matches("change").count(), 1, "ticking what is ticked does nothing");
    let moved = page.after(vec![press("radio \"Gloss\""), key("ArrowDown", "radio \"Gloss\"")]);
    let matte = at("radio \"Matte\"").find(&moved.tree, fidelon_dom::Document::ROOT, &[])[0];
    assert!(moved.tree.element(matte).is_some_and(fidelon_dom::form::is_checked), "arrows choose within a group");
}

const DIAL_VUE: &str = r#"<script setup>
const props = defineProps({ target: { type: Number, default: 600 }, label: String })
const emit = defineEmits(['update:target', 'fire'])
const raise = () => { emit('update:target', props.target + 10); emit('fire', { at: props.target }) }
defineExpose({ raise, double: (n) => n * 2 })
</script>
<template><p class="label">{{ label }}</p><button @click="raise">Raise</button><output>{{ target }}</output><slot name="note" :target="target">no note</slot></template>
"#;
const DIAL_REACT: &str = r#"import { useImperativeHandle, type ReactNode, type Ref } from 'react'
type Props = { target?: number; onTargetChange?: (t: number) => void; onFire?: (p: { at: number }) => void; label?: string; note?: (s: { target: number }) => ReactNode; ref?: Ref<unknown> }
export default function Dial({ target = 600, onTargetChange, onFire, label, note, ref }: Props) {
  const raise = () => { onTargetChange?.(target + 10); onFire?.({ at: target }) }
  useImperativeHandle(ref, () => ({ raise, double: (n: number) => n * 2 }))
  return <><p className="label">{label}</p><button onClick={raise}>Raise</button><output>{target}</output>{note ? note({ target }) : 'no note'}</>
}
"#;

fn dials() -> [Stand; 2] {
    [Stand::new("Dial.vue", DIAL_VUE), Stand::new("Dial.tsx", DIAL_REACT)]
}

fn with(target: Option<i64>) -> Combination {
    let value = target.map_or(Value::Absent, Value::json);
    Combination { props: IndexMap::from([("target".to_owned(), value)]), fills: IndexMap::new() }
}

fn one(name: &str, value: Value) -> IndexMap<String, Value> {
    IndexMap::from([(name.to_owned(), value)])
}

#[test]
fn a_binding_goes_both_ways_in_both_frameworks() {
    for dial in dials() {
        let raised = |parent| {
            dial.play(&Script {
                combination: with(Some(600)),
                parent,
                phases: vec![vec![press("button")]],
                seed: 1,
                surroundings: Environment::default(),
            })
        };
        let obeys = raised(Parent::Obeys).phases.remove(1);
        assert_eq!(
            (html(&obeys, "output"), obeys.held("").and_then(|h| h.bound.get("target"))),
            ("610".into(), Some(&Value::json(610))),
            "{}",
            dial.surface.file
        );
        let events: Vec<_> = obeys.events.iter().map(|e| (e.name.as_str(), e.binding, e.value())).collect();
        assert_eq!(events, [("target", true, Value::json(610)), ("fire", false, Value::Json(serde_json::json!({ "at": 600 })))]);
        let keeps = raised(Parent::Keeps).phases.remove(1);
        assert_eq!(html(&keeps, "output"), "600", "a parent that keeps its value keeps the view");
    }
}

#[test]
fn a_parent_passes_assigns_fills_calls_and_removes_in_both_frameworks() {
    for dial in dials() {
        let fill = |content: Option<&str>| Step::Fill { fills: IndexMap::from([("note".to_owned(), content.map(str::to_owned))]) };
        let phases = vec![
            vec![Step::Pass { props: one("label", Value::json("Bisque")) }],
            vec![Step::Assign { props: one("target", Value::json(700)) }],
            vec![fill(Some("<b>at ${target}</b>"))],
            vec![Step::Call { member: "raise".into(), with: vec![], gives: None }],
            vec![Step::Call { member: "double".into(), with: vec![Value::json(4)], gives: Some(Value::json(8)) }],
            vec![Step::Call { member: "double".into(), with: vec![Value::json(4)], gives: Some(Value::json(9)) }],
            vec![fill(None), Step::Pass { props: one("label", Value::Absent) }],
            vec![Step::Remove],
        ];
        let played = dial.play(&Script {
            combination: with(Some(600)),
            parent: Parent::Obeys,
            phases,
            seed: 1,
            surroundings: Environment::default(),
        });
        let told: Vec<String> =
            played.phases.iter().map(|p| format!("{} {} {}", html(p, ".label"), html(p, "output"), html(p, "b"))).collect();
        let file = &dial.surface.file;
        assert_eq!(told[1], "Bisque 600 ", "{file}");
        assert_eq!(told[2], "Bisque 700 ", "{file}");
        assert_eq!(told[3], "Bisque 700 at 700", "{file}");
        assert_eq!(told[4], "Bisque 710 at 710", "{file}: what the slot exposes follows");
        assert!(played.phases[5].faults.is_empty(), "{file}: {:?}", played.phases[5].faults);
        assert!(played.phases[6].faults[0].message.contains("gave 8 instead of 9"), "{file}: {:?}", played.phases[6].faults);
        assert_eq!(told[7], " 710 ", "{file}");
        assert_eq!(html(&played.phases[8], "p"), "", "{file}");
        assert!(played.phases[8].held("").is_some_and(|h| h.exposed.is_none()), "{file}: the ref is empty after removal");
    }
}

#[test]
fn one_case_leaves_nothing_for_the_next() {
    for dial in dials() {
        let mut stage = dial.stage();
        let mounted = |stage: &mut Embedded| stage.play(&script(Vec::new())).unwrap_or_else(|e| panic!("{e}"));
        let first = mounted(&mut stage);
        stage.play(&script(vec![press("button"), press("button"), Step::Focus { at: at("button") }])).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(mounted(&mut stage), first, "{}", dial.surface.file);
        stage.renew();
        assert_eq!(mounted(&mut stage), first, "{}: a fresh realm shows the same", dial.surface.file);
        assert_eq!(stage.spent().cases, 4);
    }
}

#[test]
fn time_is_virtual_and_errors_have_their_place() {
    let timer = Stand::new(
        "Timer.vue",
        "<script setup>\nimport { ref, onMounted } from 'vue'\nconst n = ref(0)\nonMounted(() => {\n  setInterval(() => {\n    n.value++\n    if (n.value === 3) throw new Error('done')\n  }, 1000)\n})\n</script>\n<template><p>{{ n }}</p></template>\n",
    );
    let began = std::time::Instant::now();
    let seen = timer.after(vec![Step::Elapse { milliseconds: 2500 }]);
    assert_eq!(html(&seen, "p"), "2");
    let seen = timer.after(vec![Step::Elapse { milliseconds: 3_600_000 }]);
    assert!(began.elapsed().as_secs() < 20, "an hour does not take an hour");
    let failed = seen.notes.iter().find(|n| n.tone == Tone::Failed).expect("told");
    assert_eq!(failed.place.as_ref().map(|p| (p.file.as_str(), p.line)), Some(("Timer.vue", 7)), "{failed:?}");
}

#[test]
fn a_framework_that_watches_its_controls_hears_a_person() {
    // React lays a setter of its own over `checked` and `value`, and tells of a change only where these did not see it.
    let source = "import { useState } from 'react'\nexport default function Kiln() { const [heard, hear] = useState('');\n\
        const say = (e: any) => hear(heard + ` ${e.target.id}=${e.target.type === 'text' ? e.target.value : e.target.checked}`);\n\
        return <form><input id='box' type='checkbox' onChange={say} /><input id='on' type='checkbox' defaultChecked onChange={say} />\
        <input id='a' type='radio' name='g' onChange={say} /><input id='b' type='radio' name='g' onChange={say} /><input id='t' onChange={say} /><output>{heard}</output></form> }";
    let page = Stand::new("Kiln.tsx", source);
    let seen = page.after(vec![press("#box"), press("#on"), press("#a"), press("#b"), press("#a"), press("#a"), typed("x", "#t", false)]);
    assert_eq!(html(&seen, "output"), " box=true on=false a=true b=true a=true t=x");
}

#[test]
fn what_a_case_used_is_free_for_the_next() {
    for (file, source) in [
        (
            "Sign.vue",
            "<script setup>\nimport { reactive } from 'vue'\nconst kiln = reactive({ target: 600 })\n</script>\n<template><p v-for=\"i in 20\" :key=\"i\">{{ kiln.target }}</p></template>\n",
        ),
        (
            "Sign.tsx",
            "import { useState } from 'react'\nexport default function Sign() { const [n] = useState(600); return <div>{Array.from({ length: 20 }, (_, i) => <p key={i}>{n}</p>)}</div> }\n",
        ),
    ] {
        let page = Stand::new(file, source);
        let mut stage = page.stage();
        let mut heap = Vec::new();
        for i in 0..600 {
            stage.play(&script(Vec::new())).unwrap_or_else(|e| panic!("{e}"));
            if i % 150 == 149 {
                let realm = stage.realm().expect("open");
                realm.collect().expect("collected");
                heap.push(realm.usage().1);
            }
        }
        assert!(heap[3] < heap[0] + (2 << 20), "{file}: what is reachable grows with the cases: {heap:?}");
    }
}

/// Controls in a closed and in an open shadow tree, slotted ones between, a dialog and a popover.
const BENCH: &str = r#"
class InnerDial extends HTMLElement {
  constructor() { super(); this.attachShadow({ mode: 'closed', delegatesFocus: true }).innerHTML = '<input aria-label=Heat><button>Set</button>' }
}
customElements.define('inner-dial', InnerDial)
class WorkBench extends HTMLElement {
  constructor() {
    super()
    const root = this.attachShadow({ mode: 'open' })
    root.innerHTML = `<style>.gone { display: none } p { visibility: hidden }</style><button id=first>First</button><slot></slot><inner-dial></inner-dial>
      <button class=gone>Gone</button><p><button>Unseen</button></p><button id=ask>Ask</button><output></output>
      <dialog><button id=yes>Yes</button></dialog><button popovertarget=menu>Menu</button><div popover id=menu><button>Cut</button></div>`
    const said = []
    const say = (what) => { said.push(what); root.querySelector('output').textContent = said.join(' ') }
    for (const type of ['focusin', 'mouseenter', 'input', 'close', 'toggle']) root.addEventListener(type, (e) => say(`${type}:${e.target.id || e.target.localName}`), true)
    this.addEventListener('focusin', (e) => say(`outside:${e.target.localName}`))
    root.querySelector('#ask').addEventListener('click', () => root.querySelector('dialog').showModal())
    root.querySelector('#yes').addEventListener('click', () => root.querySelector('dialog').close())
  }
}
customElements.define('work-bench', WorkBench)
"#;

fn bench() -> Stand {
    let mut stand = Stand::new("work-bench.js", BENCH);
    let path = stand.folder.path().join("work-bench.js");
    let surfaces = fidelon_reader::surfaces(&DiskFiles, &NoImports, &path, "work-bench.js").expect("reads");
    stand.surface = surfaces.into_iter().find(|s| s.export == "work-bench").expect("it is registered");
    stand
}

fn filled(stand: &Stand, steps: Vec<Step>) -> PhaseSnapshot {
    let mut script = script(steps);
    script.combination.fills.insert("default".into(), Some("<button>Slotted</button>".into()));
    PhaseSnapshot::clone(&stand.play(&script).phases[1])
}

#[test]
fn a_person_goes_through_shadow_trees_by_tab() {
    let stand = bench();
    let tab = || Step::Key { key: "Tab".into(), at: None };
    let mut steps = vec![press("button \"First\"")];
    steps.extend((0..6).map(|_| tab()));
    let seen = filled(&stand, steps);
    let said = html(&seen, "output");
    // What is not shown is passed over; what has the focus in the closed tree is its host to those outside.
    for word in ["focusin:first", "outside:work-bench", "outside:button", "focusin:inner-dial", "focusin:ask"] {
        assert!(said.contains(word), "{word}: {said}");
    }
    assert!(!said.contains("undefined"), "{said}");
}

#[test]
fn a_person_types_and_presses_in_a_closed_tree() {
    let stand = bench();
    let seen = filled(&stand, vec![typed("1240", "textbox \"Heat\"", true), press("button \"Set\"")]);
    let field = at("textbox \"Heat\"").find(&seen.tree, fidelon_dom::Document::ROOT, &[]);
    assert_eq!(fidelon_dom::form::value(&seen.tree, field[0]), "1240");
    assert!(html(&seen, "output").contains("input:inner-dial"), "{}", html(&seen, "output"));
    // What style hides is found by no role.
    assert!(at("button \"Gone\"").find(&seen.tree, fidelon_dom::Document::ROOT, &[]).is_empty());
    assert!(at("button \"Unseen\"").find(&seen.tree, fidelon_dom::Document::ROOT, &[]).is_empty());
}

#[test]
fn dialogs_and_popovers_open_and_close_under_a_person() {
    let stand = bench();
    let open = filled(&stand, vec![press("button \"Ask\"")]);
    assert!(open.tree.focused.is_some_and(|f| open.tree.attr(f, "id") == Some("yes")));
    let shut = filled(&stand, vec![press("button \"Ask\""), Step::Key { key: "Escape".into(), at: None }]);
    assert!(html(&shut, "output").contains("close:dialog"), "{}", html(&shut, "output"));
    assert!(shut.tree.focused.is_some_and(|f| shut.tree.attr(f, "id") == Some("ask")), "the focus is back");
    let menu = filled(&stand, vec![press("button \"Menu\"")]);
    assert_eq!(at("button \"Cut\"").find(&menu.tree, fidelon_dom::Document::ROOT, &[]).len(), 1);
    let elsewhere = filled(&stand, vec![press("button \"Menu\""), press("button \"First\"")]);
    assert!(at("button \"Cut\"").find(&elsewhere.tree, fidelon_dom::Document::ROOT, &[]).is_empty());
}

#[test]
fn an_element_reports_by_its_detail_or_by_its_property() {
    let source = r#"
customElements.define('clay-field', class extends HTMLElement {
  #value = ''
  constructor() {
    super()
    this.attachShadow({ mode: 'open' }).innerHTML = '<input aria-label=Clay><button>Heat</button>'
    this.shadowRoot.querySelector('input').addEventListener('input', (e) => { this.#value = e.target.value; this.dispatchEvent(new Event('change')) })
    this.shadowRoot.querySelector('button').addEventListener('click', () => {
      this.heat = 5
      this.dispatchEvent(new CustomEvent('heat-change'))
      this.dispatchEvent(new CustomEvent('cone-change', { detail: 10 }))
    })
  }
  get value() { return this.#value }
  set value(value) { this.#value = value }
  heat = 1
  cone = 6
})
"#;
    let stand = Stand::new("clay-field.js", source);
    let seen = stand.after(vec![typed("raku", "textbox \"Clay\"", false), press("button \"Heat\"")]);
    let bound = &seen.held("").expect("the element").bound;
    for (prop, value) in [("value", serde_json::json!("raku")), ("heat", serde_json::json!(5)), ("cone", serde_json::json!(10))] {
        assert_eq!(bound.get(prop), Some(&Value::json(value)), "{prop}");
    }
}

#[test]
fn an_element_that_lasts_is_as_new_in_each_case() {
    let page = Stand::new(
        "KilnSign.tsx",
        r#"import { useEffect, useRef, useState } from 'react';
export default function KilnSign({ leaves = 'nothing' }: { leaves?: 'nothing' | 'listener' | 'attribute' | 'content' }) {
  const at = useRef<HTMLButtonElement>(null);
  const [pressed, setPressed] = useState(0);
  const [found, setFound] = useState('');
  useEffect(() => {
    const around = at.current!.parentElement as HTMLElement & { heat?: number };
    setFound(`${around.heat ?? 'cold'} ${around.getAttributeNames().length} ${around.childNodes.length}`);
    if (leaves === 'listener') { around.heat = 900; around.addEventListener('click', () => { document.title = 'heard'; }); }
    if (leaves === 'attribute') around.title = 'hot';
    if (leaves === 'content') around.append('ash');
  }, []);
  return <button ref={at} onClick={() => setPressed((n) => n + 1)}>{pressed} {found}</button>;
}
"#,
    );
    let case = |leaves: &str| {
        let mut script = script(vec![press("button"), press("button")]);
        script.combination.props.insert("leaves".into(), Value::json(leaves));
        let seen = page.play(&script).phases.remove(1);
        assert!(seen.faults.is_empty() && seen.notes.is_empty(), "{leaves}: {:?} {:?}", seen.faults, seen.notes);
        let title = html(&seen, "title");
        (html(&seen, "button"), title)
    };
    // Each but the first comes after a case that has left something.
    for leaves in ["nothing", "listener", "listener", "nothing", "attribute", "nothing", "content", "listener", "nothing"] {
        let title = if leaves == "listener" { "heard" } else { "" };
        assert_eq!(case(leaves), ("2 cold 0 1".to_owned(), title.to_owned()), "{leaves}");
    }
}

#[test]
fn the_same_script_is_seen_alike_whatever_was_played_before() {
    let page = Stand::new("ClayShelf.vue", "<template><section><h2>Shelf</h2><slot>empty</slot></section></template>");
    let filled = |html: &str| {
        let mut script = script(vec![Step::Again]);
        script.combination.fills.insert("default".into(), Some(html.into()));
        script
    };
    let mut stage = page.stage();
    let mut play = |script: &Script| stage.play(script).unwrap_or_else(|e| panic!("{e}"));
    // What a slot is filled with is read at its first use, which makes nodes that later cases do not make.
    let first = play(&filled("<b>mug</b> and <i>bowl</i>"));
    play(&filled("<p>vase</p>"));
    let later = play(&filled("<b>mug</b> and <i>bowl</i>"));
    assert_eq!(html(&first.phases[0], "section"), "<h2>Shelf</h2><b>mug</b> and <i>bowl</i>");
    assert_eq!(first, later);
}

/// A kiln whose first user heats it, at a cost, and whose last one lets it go cold: the way of libraries that keep styles as long as they are used.
const KILN: &str = "let users = 0\nlet heat = 0\nexport default function Kiln({ rows = 1, onLit }: { rows?: number; onLit?: (by: number) => void }) {\n  if (!users) for (heat = 0; heat < 4e6;) heat++\n  useLayoutEffect(() => { users++; onLit?.(rows); return () => { users-- } }, [])\n  return <ul>{Array.from({ length: rows }, (_, i) => <li key={i}>{heat}</li>)}</ul>\n}\n";

#[test]
fn an_instance_of_a_costly_component_stays_and_nobody_hears_or_sees_it() {
    let stand = Stand::new("Kiln.tsx", &format!("import {{ useLayoutEffect }} from 'react'\n{KILN}"));
    let script = |rows: usize| Script {
        combination: Combination { props: [("rows".to_owned(), Value::json(rows))].into_iter().collect(), ..Combination::default() },
        parent: Parent::Obeys,
        phases: Vec::new(),
        seed: 1,
        surroundings: Environment::default(),
    };
    let mut stage = stand.stage();
    let shared: Vec<Observation> = [1, 2, 3, 2].map(|rows| stage.play(&script(rows)).expect("plays")).into();
    assert!(shared[0].work > 4_000_000, "the first mount is costly: {}", shared[0].work);
    assert!(
        shared[1..].iter().all(|o| o.work < 1_000_000),
        "those that follow are not: {:?}",
        shared.iter().map(|o| o.work).collect::<Vec<_>>()
    );
    for (rows, seen) in [1, 2, 3, 2].into_iter().zip(&shared) {
        stage.renew();
        let apart = stage.play(&script(rows)).expect("plays");
        assert!(apart.work > 4_000_000, "a realm of its own has no instance before it: {}", apart.work);
        assert_eq!(seen.phases, apart.phases, "{rows} rows are seen alike in both");
        assert_eq!(seen.phases[0].events.len(), 1, "the other instance is not heard");
    }
}
