//! Each law on a made-up component that keeps it and on one that breaks it: a function from what is passed and done to what is seen.

use fidelon_core::finding::Failure;
use fidelon_core::judge::laws::{Effort, LAWS, LawContext, Runs};
use fidelon_core::observation::{Emitted, LeakCounts, Note, Observation, ParentView, PhaseSnapshot, Requested, SlotPlacement, Tone};
use fidelon_core::plan::{Domain, every};
use fidelon_core::stage::{Canned, Combination, Parent, Reply, Script, StageError, Step};
use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type};
use fidelon_core::{Value, locator::Start};
use fidelon_dom::{Document, NodeId, Selectors, parse};
use indexmap::IndexMap;
use serde_json::json;

/// A case up to one of its phases.
struct At<'a> {
    script: &'a Script,
    phase: usize,
}

impl At<'_> {
    fn steps(&self) -> &[Step] {
        if self.phase == 0 { &[] } else { &self.script.phases[self.phase - 1] }
    }

    /// All steps up to here.
    fn so_far(&self) -> impl Iterator<Item = &Step> {
        self.script.phases[..self.phase].iter().flatten()
    }

    fn first(&self, prop: &str) -> Value {
        self.script.combination.props.get(prop).cloned().unwrap_or(Value::Absent)
    }

    /// What the parent passes by now.
    fn now(&self, prop: &str) -> Value {
        let told = self.so_far().filter_map(|s| match s {
            Step::Pass { props } | Step::Assign { props } => props.get(prop).cloned(),
            _ => None,
        });
        told.last().unwrap_or_else(|| self.first(prop))
    }

    /// The same in words, nothing for what is absent.
    fn text(&self, prop: &str) -> String {
        match self.now(prop) {
            Value::Json(serde_json::Value::String(text)) => text,
            Value::Absent => String::new(),
            Value::Js(text) => text.trim_matches('\'').to_owned(),
            other => other.to_string(),
        }
    }

    fn fill(&self, slot: &str) -> Option<String> {
        let told = self.so_far().filter_map(|s| match s {
            Step::Fill { fills } => fills.get(slot).cloned(),
            _ => None,
        });
        told.last().unwrap_or_else(|| self.script.combination.fills.get(slot).cloned().flatten())
    }

    fn passes(&self) -> usize {
        self.so_far().filter(|s| matches!(s, Step::Pass { .. })).count()
    }

    fn presses(&self) -> usize {
        self.so_far().filter(|s| matches!(s, Step::Press { .. })).count()
    }

    fn pressed_now(&self) -> bool {
        self.steps().iter().any(|s| matches!(s, Step::Press { .. }))
    }
}

type Model = fn(&At<'_>) -> PhaseSnapshot;

struct MadeUp(Model);

impl Runs for MadeUp {
    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        Ok(Observation::new((0..=script.phases.len()).map(|phase| (self.0)(&At { script, phase })).collect()))
    }
}

/// A page whose every press makes all nodes anew.
fn made_anew(html: &str, at: &At<'_>) -> PhaseSnapshot {
    let seen = page(html);
    let numbers = seen.numbers.iter().map(|n| NodeId(n.0 + 100 * at.presses() as u32)).collect();
    PhaseSnapshot { numbers, ..seen }
}

/// A page; slot content is what carries `data-slot`, in the order of the page.
fn page(html: &str) -> PhaseSnapshot {
    let tree = parse::document(html);
    let mut held = ParentView { exposed: Some(IndexMap::new()), instance: Some(0), ..ParentView::default() };
    for node in Selectors::parse("[data-slot]").expect("reads").query_all(&tree, Document::ROOT) {
        let slot = tree.attr(node, "data-slot").unwrap_or_default().to_owned();
        let index =
            usize::from(tree.text_content(node).contains("Beaker") && tree.text_content(tree.body().expect("body")).contains("Saucer"));
        held.given.entry(slot).or_default().push(SlotPlacement { index, node });
    }
    let numbers = (0..tree.len() as u32).map(NodeId).collect();
    PhaseSnapshot { tree, numbers, held: [(String::new(), held)].into(), settled: true, ..PhaseSnapshot::default() }
}

fn with(mut seen: PhaseSnapshot, change: impl FnOnce(&mut ParentView)) -> PhaseSnapshot {
    change(seen.held.get_mut("").expect("there"));
    seen
}

fn emits(mut seen: PhaseSnapshot, name: &str, binding: bool, value: Value) -> PhaseSnapshot {
    seen.events.push(Emitted { name: name.into(), binding, payload: vec![value], part: String::new() });
    seen
}

fn notes(mut seen: PhaseSnapshot, tone: Tone, text: &str) -> PhaseSnapshot {
    seen.notes.push(Note { tone, text: text.into(), place: None });
    seen
}

/// The content of a slot as the page would have it.
fn content(slot: &str, html: Option<String>) -> String {
    html.map(|h| h.replace("<span>", &format!("<span data-slot={slot}>"))).unwrap_or_default()
}

/// A component with a label, a mode of its own, two slots, a member and a two-way `open`.
fn surface() -> Surface {
    let prop = |name: &str, ty, required| Prop { required, ..Prop::new(name, ty) };
    let unit = Type::Union { of: vec![json!("C"), json!("F")] };
    let mut out = Surface::new("Dial", "Dial.vue", "default", Framework::Vue);
    out.props = vec![
        prop("label", Type::String, true),
        Prop { default: Some("'C'".into()), ..prop("unit", unit, false) },
        prop("note", Type::String, false),
        prop("pieces", Type::Array { of: Box::new(Type::String) }, true),
        prop("disabled", Type::Boolean, false),
        Prop { two_way: true, ..prop("open", Type::Boolean, false) },
    ];
    out.events = vec![
        Event { payload: Some(vec![Type::Number]), ..Event::new("fire", "fire") },
        Event { reports: Some("open".into()), ..Event::new("open", "update:open") },
    ];
    out.slots = vec![Slot { exposes: true, fallback: Some("Nothing here yet".into()), ..Slot::new("default") }, Slot::new("footer")];
    out.exposes = vec!["nudge".into()];
    out
}

fn domains() -> Vec<Domain> {
    let values = |list: &[serde_json::Value]| list.iter().cloned().map(Value::Json).collect::<Vec<_>>();
    vec![
        Domain::Prop("label".into(), values(&[json!("Bisque"), json!("Glaze")])),
        Domain::Prop("unit".into(), vec![Value::Absent, Value::json("F")]),
        Domain::Prop("note".into(), vec![Value::Absent, Value::json("hot")]),
        Domain::Prop("pieces".into(), values(&[json!(["mug", "bowl"])])),
        Domain::Prop("disabled".into(), values(&[json!(false), json!(true)])),
        Domain::Prop("open".into(), values(&[json!(false), json!(true)])),
    ]
}

/// What a law says of a made-up component: of each case how it broke, if it did.
fn said(law: &str, surface: &Surface, domains: &[Domain], combinations: &[Combination], model: Model) -> Vec<Option<Failure>> {
    let given: Vec<String> = surface.props.iter().map(|p| p.name.clone()).collect();
    let network = canned();
    let matter = LawContext {
        surface,
        domains,
        combinations,
        scripts: &[],
        except: &[],
        given: if law == "prop/typed" { &given } else { &[] },
        edits: &[],
        children: &[],
        unused: &[],
        network: Some(&network),
        application: &(),
        effort: Effort::Normal,
        is_scene: false,
        is_part: false,
    };
    let law = LAWS.iter().find(|l| l.name == law).unwrap_or_else(|| panic!("{law} is a law"));
    (law.check)(&matter, &mut MadeUp(model)).expect("it can be played").into_iter().map(|c| c.failure).collect()
}

/// In how many cases a law was checked, and in how many it broke.
fn held_to(law: &str, framework: Framework, model: Model) -> (usize, usize) {
    let combinations: Vec<_> = every(&domains()).into_iter().step_by(5).collect();
    let said = said(law, &Surface { framework, ..surface() }, &domains(), &combinations, model);
    (said.len(), said.iter().flatten().count())
}

/// A component that shows the reply which came last, whatever it was asked for.
fn late_note(at: &At<'_>) -> PhaseSnapshot {
    let asked = |open: &Value| format!("/notes/{open}");
    let network = at.script.surroundings.network.clone().unwrap_or_else(canned);
    let reply = |url: &str| network.iter().find(|c| c.path == url || c.path == "/notes/*").and_then(|c| c.replies.last()).expect("canned");
    let passed = |steps: &[Step]| {
        steps.iter().rev().find_map(|s| match s {
            Step::Pass { props } => props.get("open").cloned(),
            _ => None,
        })
    };
    let all: Vec<String> =
        std::iter::once(at.first("open")).chain(at.so_far().filter_map(|s| passed(std::slice::from_ref(s)))).map(|v| asked(&v)).collect();
    let gone: u32 = at.so_far().map(|s| if let Step::Elapse { milliseconds } = s { *milliseconds } else { 0 }).sum();
    let mut come: Vec<(u32, usize)> =
        all.iter().enumerate().map(|(i, url)| (reply(url).after, i)).filter(|(after, _)| *after < gone).collect();
    come.sort_unstable();
    let shown = come.last().map_or("none", |(_, i)| &reply(&all[*i]).text);
    let mut seen = page(&format!("<p>{shown}</p>"));
    let now = if at.phase == 0 { Some(at.first("open")) } else { passed(at.steps()) };
    let request = |open: &Value| Requested { method: "GET".into(), url: asked(open), body: None, answered: true };
    seen.requests.extend(now.as_ref().map(request));
    seen
}

/// What the requests of a made-up component are answered with.
fn canned() -> Vec<Canned> {
    let reply = Reply { status: 200, headers: IndexMap::new(), text: "{\"text\":\"hot\"}".into(), fail: false, after: 10 };
    vec![Canned { method: "GET".into(), path: "/notes/*".into(), replies: vec![reply], messages: Vec::new() }]
}

/// A sound component: all that the laws look at.
fn sound(at: &At<'_>) -> PhaseSnapshot {
    let disabled = at.now("disabled") == Value::json(true);
    let start = at.now("open") == Value::json(true);
    let flips = if disabled { 0 } else { at.presses() };
    let keeps = at.script.parent == Parent::Keeps;
    let open = start ^ (flips % 2 == 1 && !keeps);
    let unit = if at.now("unit") == Value::Absent { "C".to_owned() } else { at.text("unit") };
    let body = at.fill("default").map_or("Nothing here yet".to_owned(), |h| content("default", Some(h)));
    let footer = content("footer", at.fill("footer"));
    // A second life beside the first has ids of its own.
    let copies = 1 + at.so_far().filter(|s| matches!(s, Step::Again)).count();
    let one = |i: usize| {
        format!(
            "<div><label for=f{i}>{}</label><input id=f{i} value={unit}><button role=switch aria-checked={open} {}>Vent</button>{}<main>{body}</main><footer>{footer}</footer></div>",
            at.text("label"),
            if disabled { "disabled" } else { "" },
            at.text("note"),
        )
    };
    let mut seen = page(&(0..copies).map(one).collect::<String>());
    if at.pressed_now() && !disabled {
        seen = emits(emits(seen, "open", true, Value::json(open ^ keeps)), "fire", false, Value::json(600));
    }
    with(seen, |held| {
        held.exposed.as_mut().expect("there").insert("nudge".into(), Value::Other("function".into()));
        held.bound.insert("open".into(), Value::json(open));
        held.handed.insert("default".into(), Value::json(at.text("label")));
    })
}

#[test]
fn a_sound_component_keeps_every_law() {
    for law in LAWS.iter().filter(|l| l.name != "stage/agrees") {
        for framework in [Framework::Vue, Framework::React, Framework::Element] {
            let (checked, broke) = held_to(law.name, framework, sound);
            assert_eq!(broke, 0, "{} ({framework})", law.name);
            // What this component has nothing of: rows, a scoped stylesheet, a control made by hand, something that opens, an event that
            // speaks of what is two-way; and callbacks are no props in Vue.
            let idle = ["list/identity", "list/kept", "style/contained", "access/keys", "access/states", "event/current", "event/latest"];
            // Nor anything that it asks a server for, nor a child.
            let idle = idle.contains(&law.name)
                || ["request/latest", "child/declared", "surface/used", "list/own", "access/modal"].contains(&law.name);
            assert!(
                checked > 0 || idle || framework != Framework::Vue || ["binding/obeys", "ref/released"].contains(&law.name),
                "{} is idle",
                law.name
            );
        }
    }
}

#[test]
fn a_mark_of_the_way_is_not_what_came_late() {
    // A class that names what the note was before, as those do by which a transition is styled.
    let marked: Model = |at| {
        let passed = at.so_far().filter_map(|s| match s {
            Step::Pass { props } => props.get("note").cloned(),
            _ => None,
        });
        let mut ways: Vec<Value> = std::iter::once(at.first("note")).chain(passed).collect();
        ways.dedup();
        let before = ways.len().checked_sub(2).map_or("none", |i| if ways[i] == Value::Absent { "nothing" } else { "hot" });
        page(&format!("<p class='was-{before}'>{}</p>", at.text("note")))
    };
    let (checked, broke) = held_to("prop/late", Framework::Vue, marked);
    assert!(checked > 0 && broke == 0, "{broke} of {checked}");
    let stale: Model = |at| page(&format!("<p class='is-{}'>{}</p>", at.first("note") == Value::Absent, at.text("note")));
    assert!(held_to("prop/late", Framework::Vue, stale).1 > 0, "a class that is stale is told");
}

#[test]
fn each_law_breaks_on_what_it_is_about() {
    let rows: &[(&str, Model)] = &[
        ("render/succeeds", |at| if at.text("label") == "Glaze" { notes(sound(at), Tone::Failed, "TypeError") } else { sound(at) }),
        ("render/succeeds", |at| {
            if at.phase > 0 && at.text("label") == "Glaze" && at.first("label") != at.now("label") {
                notes(sound(at), Tone::Failed, "TypeError")
            } else {
                sound(at)
            }
        }),
        ("render/quiet", |at| notes(sound(at), Tone::Warned, "Missing required prop: \"label\"")),
        ("render/settles", |at| PhaseSnapshot { settled: false, ..sound(at) }),
        ("render/repeatable", |at| page(&format!("<p>{}</p>", at.script.seed))),
        ("render/leaves-nothing", |at| {
            let removed = at.so_far().filter(|s| matches!(s, Step::Remove)).count();
            PhaseSnapshot { left: LeakCounts { listeners: removed as u32, ..LeakCounts::default() }, ..sound(at) }
        }),
        ("prop/live", |at| page(&format!("<p>{}</p>", at.first("label")))),
        ("prop/late", |at| page(&format!("<p>{}</p>", if at.first("note") == Value::Absent { String::new() } else { at.text("note") }))),
        ("prop/late", |at| {
            if at.phase > 0 && at.first("note") == Value::Absent && at.now("note") != Value::Absent {
                notes(sound(at), Tone::Failed, "TypeError")
            } else {
                sound(at)
            }
        }),
        ("prop/default", |at| page(&format!("<p>{}</p>", at.text("unit")))),
        ("prop/steady", |at| if at.phase > 0 { emits(sound(at), "fire", false, Value::json(1)) } else { sound(at) }),
        ("prop/steady", |at| page(&format!("<p>{}</p>", at.passes()))),
        ("prop/untouched", |at| with(sound(at), |held| held.touched.push("pieces".into()))),
        ("prop/contained", |at| page(&format!("<p note='{}'>x</p>", at.text("note")))),
        ("event/declared", |at| {
            let mut seen = sound(at);
            if at.pressed_now() {
                seen.strays.push(Emitted { name: "burn".into(), binding: false, payload: Vec::new(), part: String::new() });
            }
            seen
        }),
        ("event/payload", |at| if at.pressed_now() { emits(sound(at), "fire", false, Value::json("600")) } else { sound(at) }),
        ("event/inert", |at| if at.pressed_now() { emits(sound(at), "fire", false, Value::json(1)) } else { sound(at) }),
        ("binding/shows", |at| page(&format!("<button role=switch aria-checked={}>Vent</button>", at.first("open")))),
        ("binding/reports", |at| PhaseSnapshot { events: Vec::new(), ..sound(at) }),
        ("binding/reports", |at| if at.pressed_now() { emits(sound(at), "open", true, Value::json(true)) } else { sound(at) }),
        ("binding/silent", |at| {
            let told = at.steps().iter().any(|s| matches!(s, Step::Assign { .. }));
            if told { emits(sound(at), "open", true, at.now("open")) } else { sound(at) }
        }),
        ("binding/converges", |at| {
            let later = at.presses() > 0 && at.steps().iter().any(|s| matches!(s, Step::Elapse { .. }));
            if later { with(sound(at), |held| drop(held.bound.insert("open".into(), Value::json("other")))) } else { sound(at) }
        }),
        ("slot/once", |at| page(&format!("<aside>{0}</aside><main>{0}</main>", content("default", at.fill("default"))))),
        ("slot/once", |at| {
            let html = content("default", at.fill("default"));
            page(&format!("<aside>{}</aside><main>{html}</main>", html.replace(" data-slot=default", "")))
        }),
        ("slot/fallback", |at| page(&format!("<main>{} Nothing here yet</main>", content("default", at.fill("default"))))),
        ("slot/fallback", |at| page(&format!("<main>{}</main>", content("default", at.fill("default"))))),
        ("slot/independent", |at| {
            let footer = if at.fill("default").is_some() { String::new() } else { content("footer", at.fill("footer")) };
            page(&format!("<main>{}</main><footer>{footer}</footer>", content("default", at.fill("default"))))
        }),
        ("slot/ordered", |at| {
            let html = content("default", at.fill("default"));
            let turned: Vec<&str> = html.split_inclusive("</span>").collect();
            page(&turned.into_iter().rev().collect::<String>())
        }),
        ("slot/ordered", |at| {
            let html = content("default", at.fill("default"));
            page(html.split_inclusive("</span>").next().unwrap_or_default())
        }),
        ("slot/exposes", |at| with(sound(at), |held| drop(held.handed.insert("default".into(), at.first("label"))))),
        ("slot/live", |at| {
            page(&format!("<main>{}</main>", content("default", at.script.combination.fills.get("default").cloned().flatten())))
        }),
        ("ref/available", |at| with(sound(at), |held| drop(held.exposed.as_mut().expect("there").shift_remove("nudge")))),
        ("ref/stable", |at| with(sound(at), |held| held.instance = Some(at.phase as u32))),
        ("list/identity", |at| {
            let Value::Json(serde_json::Value::Array(items)) = at.now("pieces") else { return sound(at) };
            // The nodes keep their numbers whatever they show.
            let rows: String = items.iter().map(|i| format!("<button>{}</button>", i.as_str().unwrap_or_default())).collect();
            page(&format!("<div>{rows}</div>"))
        }),
        ("list/kept", |at| {
            let Value::Json(serde_json::Value::Array(items)) = at.now("pieces") else { return sound(at) };
            let open = |place: usize| if at.presses() > 0 && place == 0 { " is open" } else { "" };
            let row = |(place, item): (usize, &serde_json::Value)| {
                format!("<button>{}{}</button>", item.as_str().unwrap_or_default(), open(place))
            };
            let seen = page(&format!("<div>{}</div>", items.iter().enumerate().map(row).collect::<String>()));
            // The node of a piece is its own, wherever it stands.
            let number = |n: u32| seen.tree.text_content(NodeId(n)).bytes().next().map_or(1000 + n, u32::from);
            let numbers = (0..seen.tree.len() as u32).map(|n| NodeId(number(n))).collect();
            PhaseSnapshot { numbers, ..seen }
        }),
        ("request/latest", late_note),
        ("style/contained", |_| {
            page("<head><style>.badge[data-v-12] { color: red } button { color: brown }</style></head><p class=badge data-v-12>x</p>")
        }),
        ("access/named", |_| page("<button><svg></svg></button>")),
        ("access/unique-ids", |_| page("<p id=a></p><p id=a></p>")),
        ("access/unique-ids", |_| page("<input aria-label=x aria-describedby=gone>")),
        ("access/unique-ids", |at| page(&"<label for=a>x</label><input id=a>".repeat(1 + at.phase))),
        ("event/once", |at| if at.pressed_now() { emits(sound(at), "fire", false, Value::json(600)) } else { sound(at) }),
        ("event/current", |at| if at.pressed_now() { emits(sound(at), "toggle", false, at.now("open")) } else { sound(at) }),
        ("event/prompted", |at| {
            let told = at.steps().iter().any(|s| matches!(s, Step::Pass { .. }));
            if told { emits(sound(at), "fire", false, Value::json(600)) } else { sound(at) }
        }),
        ("access/keys", |at| {
            let tile = page("<div role=button tabindex=0>Pick</div>");
            if at.pressed_now() { emits(tile, "fire", false, Value::json(600)) } else { tile }
        }),
        ("access/focus", |at| made_anew("<button>Pick</button>", at)),
        ("access/states", |at| {
            page(&format!("<button aria-expanded=false>Tools</button>{}", if at.presses() > 0 { "<p>Rib</p>" } else { "" }))
        }),
    ];
    for (law, model) in rows {
        let (checked, broke) = held_to(law, Framework::Vue, *model);
        assert!(broke > 0, "{law}: broke in none of {checked}");
    }
    let elsewhere: Model = |at| made_anew("<a href='/shelf'>Shelf</a>", at);
    assert_eq!(held_to("access/focus", Framework::Vue, elsewhere).1, 0, "it gives way to another page");
    let here: [Model; 3] = [
        |at| made_anew("<a href='#shelf'>Shelf</a>", at),
        |at| made_anew("<a href='javascript:void 0'>Shelf</a>", at),
        |at| made_anew("<a href='/shelf' role=button>Shelf</a>", at),
    ];
    assert!(here.iter().all(|model| held_to("access/focus", Framework::Vue, *model).1 > 0));
    let keeps: Model = |at| {
        let passed = at.so_far().filter_map(|s| if let Step::Pass { props } = s { props.get("note") } else { None });
        let kept = [at.first("note")].into_iter().chain(passed.cloned()).filter(|v| *v != Value::Absent).last();
        page(&format!("<p>{}</p>", kept.unwrap_or(Value::Absent)))
    };
    assert_eq!(held_to("prop/live", Framework::React, keeps).1, 0, "what is no longer passed is its own");
    assert!(held_to("prop/live", Framework::Vue, keeps).1 > 0);
    let changed: Model = |at| {
        let told = at.pressed_now() || at.steps().iter().any(|s| matches!(s, Step::Pass { .. }));
        let seen = page("<button>Vent</button>");
        if told { emits(seen, "labelChanged", false, Value::json("Vent")) } else { seen }
    };
    assert_eq!(held_to("event/prompted", Framework::Element, changed).1, 0, "it tells of every change");
    assert!(held_to("event/prompted", Framework::Vue, changed).1 > 0);
    let fewer: Model = |at| made_anew(&"<li><button>Take away</button></li>".repeat(3 - usize::from(at.presses() > 0)), at);
    assert_eq!(held_to("access/focus", Framework::Vue, fewer).1, 0, "the row that it stood in is gone");
    let closes: [Model; 2] = [
        |at| if at.pressed_now() { emits(sound(at), "close", false, Value::json("outside")) } else { sound(at) },
        |at| if at.pressed_now() { emits(sound(at), "open", true, Value::json(false)) } else { sound(at) },
    ];
    assert!(closes.iter().all(|model| held_to("event/inert", Framework::Vue, *model).1 == 0), "a press beside it closes it");
    let loose: Model =
        |at| PhaseSnapshot { ..sound(&At { script: &Script { parent: Parent::Obeys, ..at.script.clone() }, phase: at.phase }) };
    assert!(held_to("binding/obeys", Framework::React, loose).1 > 0);
    let kept: Model = |at| {
        let mut seen = sound(at);
        if at.pressed_now() && at.so_far().any(|s| matches!(s, Step::Relisten)) {
            seen.strays.append(&mut seen.events);
        }
        seen
    };
    let unseen: Model = |at| {
        let turned = at.pressed_now() || at.presses() > 0;
        let anew = at.steps().iter().any(|s| matches!(s, Step::Refresh));
        page(&format!("<button>Turn</button><p>{}</p>", u8::from(turned && anew)))
    };
    assert!(held_to("render/current", Framework::React, unseen).1 > 0 && held_to("render/current", Framework::React, sound).1 == 0);
    assert!(held_to("event/latest", Framework::React, kept).1 > 0 && held_to("event/latest", Framework::React, sound).0 > 0);
    assert!(held_to("ref/released", Framework::React, |at| with(sound(at), |held| held.kept = true)).1 > 0);
}

#[test]
fn laws_keep_to_their_frameworks() {
    let spring: Model = |at| with(sound(at), |held| held.instance = Some(at.phase as u32));
    assert_eq!(held_to("ref/stable", Framework::React, spring).1, 0, "React makes handles anew");
    let loose: Model =
        |at| PhaseSnapshot { ..sound(&At { script: &Script { parent: Parent::Obeys, ..at.script.clone() }, phase: at.phase }) };
    assert_eq!(held_to("binding/obeys", Framework::Vue, loose).0, 0, "a field keeps what was typed");
}

#[test]
fn what_a_contract_passes_is_held_against_the_types() {
    let domains = [Domain::Prop("label".into(), vec![Value::json("Bisque"), Value::json(7), Value::Absent])];
    let said = said("prop/typed", &surface(), &domains, &every(&domains), sound);
    let told: Vec<Option<String>> = said.into_iter().map(|f| f.and_then(|f| f.actual)).collect();
    assert_eq!(told, [None, Some("7".into()), Some("nothing passed".into())]);
}

#[test]
fn laws_point_at_controls_by_their_path() {
    let doc = parse::document("<p><button>Raise</button><button>Lower</button></p>");
    let second = Selectors::parse("button + button").expect("reads").query(&doc, Document::ROOT).expect("there");
    let at = fidelon_core::locator::Locator::at(&doc, second);
    assert_eq!((at.written.as_str(), at.find(&doc, Document::ROOT, &[])), ("button \"Lower\"", vec![second]));
    assert!(matches!(at.start, Some(Start::At(_))));
}
