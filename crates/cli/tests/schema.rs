//! The published schema of contracts says the same as the reader, on files that are right and on files that are wrong.

mod studio;

use studio::{Studio, kit};

fn validator(studio: &Studio) -> jsonschema::Validator {
    let run = studio.run(&["schema"]);
    assert_eq!(run.code, 0, "{}", run.err);
    jsonschema::validator_for(&serde_json::from_str(&run.out).expect("JSON")).expect("a schema")
}

/// A contract's text as JSON, read by the reader's own YAML.
fn json(text: &str) -> serde_json::Value {
    fidelon_core::contract::yaml::parse(text).unwrap_or_else(|f| panic!("{text}: {f:?}")).to_json()
}

#[test]
fn right_files_are_right_to_both() {
    let validator = validator(&Studio::empty());
    let mut texts: Vec<String> =
        ["KilnDial", "GlazeBadge", "ShelfCard", "VentSwitch", "FiringTimer", "FiringLog", "OverfireNotice", "KilnSign"]
            .map(|n| kit(&format!("contracts/{n}.contract.yaml")))
            .into();
    texts.extend(["ChattySwitch", "DoubledCard"].map(|n| kit(&format!("flawed/{n}.contract.yaml"))));
    texts.extend(
        [
            "component: ./A.vue",
            "component: [./A.vue, ./B.tsx#B]\ncover: { sample: 40, seed: 7 }\nclock: { starts: 2031-03-01T09:00:00Z }",
            "component: a.vue\nprops: { a: all, b: [1, absent], c: { declared: true }, d: { start: 1, values: [2] }, e: x }\nnever: a === b",
            "component: a.vue\nslots: { default: ['<p/>', absent], note: { fills: [absent], fallback: none } }\nexposes: { a: function, b: { type: number } }",
            "component: a.vue\nevents: { fire: {} }\nbindings: { target: { event: turn } }\nlaws: { prop/live: { except: [a], because: it is initial } }",
            "component: a.vue\nwrap: [./P.vue, { component: [./P.vue, ./P.tsx], props: { theme: dark } }]\nuses: { Badge: ./B.vue, Sign: [./S.vue, ./S.tsx] }\nstyles: ./a.css\nprops: { k: [{ $from: './k.ts#hot' }] }",
            "component: a.vue\nevents: { fire: { payload: { type: object } } }\nbindings: { target: { edit: input, with: [1, 2] } }\nslots: { note: { fills: [absent], exposes: { room: { type: integer } } } }",
            "scene:\n  state: { a: 1 }\n  parts: { form: { component: ./F.vue, props: { x: state.a }, slots: { default: <p/> } }, list: { component: [./L.vue] } }\n  wires: { from: form.added, set: { a: '$event' } }\nwrap: ./P.vue\nprops: { a: [2] }\nclauses: [{ clause: x, do: [{ part: form, press: button }], expect: [{ part: list, text: p, is: x }, { part: form, emitted: added }] }]",
            "component: a.vue\nclauses: [{ clause: x, do: [{ drop: [a.png, { name: b, type: x/y, text: z }], onto: input }, { scroll: page, to: 200 }, { scroll: .a, to: { left: 1 } }, { resize: { width: 300 } }, { edit: input, to: 7 }, { press: 'slot(a) b' }], expect: [{ fills: a, in: .b, times: 2 }, { handed: a, has: room }, { outlasts: li }, { text: ref(field), is: x }] }]",
            "component: a.vue\nnetwork:\n  - { on: GET /api/*, reply: { json: [1], after: 5s } }\n  - { on: POST /api, fail: true, after: 1s }",
            "component: a.vue\nclauses:\n  - clause: x\n    where: a\n    parent: keeps\n    hold: { a: 1, slots: { note: absent } }\n    do: [{ press: button, times: 2 }, { type: a, into: input, replace: true }, { key: Enter }, { choose: a, from: select }, { tick: input }, { signal: x, at: p, detail: 1 }, { pass: { a: 1 } }, { fill: { note: '<b/>' } }, { call: go, with: [1], gives: 2 }, { elapse: 5s }, { remove: true }]\n    expect: [{ text: p, is: a }, { attribute: p, named: id, lacks: x }, { style: p, property: color, is: red }, { count: p, above: 1 }, { present: p }, { visible: p, is: false }, { emitted: nothing }, { emitted: { only: [fire] } }, { emitted: fire, times: 1, with: { a: 1 } }, { bound: a, is: 1 }, { exposed: go }, { warned: nothing }, { failed: true, has: x }, { within: p, expect: [{ text: b, is: x }] }, { requested: POST /api, times: 1 }, { requested: nothing }, { markup: p, is: '<b>x</b>' }]\n    next: [{ do: [{ press: p }], expect: [{ focused: p }] }]",
        ]
        .map(String::from),
    );
    for text in texts {
        if let Err(faults) = fidelon_core::contract::read(&text) {
            panic!("the reader: {text}: {faults:?}");
        }
        let errors: Vec<String> = validator.iter_errors(&json(&text)).map(|e| format!("{}: {e}", e.instance_path())).collect();
        assert!(errors.is_empty(), "the schema: {text}: {errors:#?}");
    }
}

#[test]
fn every_law_can_be_exempted_by_the_schema_and_no_other() {
    let schema: serde_json::Value = serde_json::from_str(fidelon_docs::CONTRACT_SCHEMA).expect("JSON");
    let listed = schema.pointer("/properties/laws/propertyNames/enum").and_then(serde_json::Value::as_array).expect("a list");
    let laws: Vec<&str> = fidelon_core::judge::laws::LAWS.iter().map(|law| law.name).collect();
    assert_eq!(listed.iter().filter_map(serde_json::Value::as_str).collect::<Vec<_>>(), laws);
}

#[test]
fn wrong_files_are_wrong_to_both() {
    let validator = validator(&Studio::empty());
    let mut taken = Vec::new();
    for text in [
        "about: nobody's",
        "component: a.vue\nprosp: {}",
        "component: []",
        "component: a.vue\nprops: { a: [] }",
        "component: a.vue\ncover: some",
        "component: a.vue\ncover: { sample: none }",
        "component: a.vue\ncover: { sample: 4, sede: 1 }",
        "component: a.vue\nclock: noon",
        "component: a.vue\nslots: { note: { fils: [absent] } }",
        "component: a.vue\nexposes: { a: fonction }",
        "component: a.vue\nbindings: { a: { evnt: x } }",
        "component: a.vue\nbindings: { a: { edit: input } }",
        "component: a.vue\nuses: { badge: ./b.vue }",
        "component: a.vue\nwrap: [{ props: {} }]",
        "component: a.vue\nscene: { parts: { a: { component: a.vue } } }",
        "scene: { parts: {} }",
        "scene: { parts: { a: { component: a.vue } }, wires: [{ from: a.x }] }",
        "scene: { parts: { a: { component: a.vue } } }\nslots: { default: [absent] }",
        "component: a.vue\nslots: { note: { fills: [absent], exposes: {} } }",
        "component: a.vue\nclauses: [{ clause: x, do: [{ drop: a.png }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ resize: 300 }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ scroll: page }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ text: p, part: form }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ outlasts: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ warned: true }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ handed: a }] }]",
        "component: a.vue\nlaws: { prop/live: { off: true } }",
        "component: a.vue\nlaws: { prop/lively: { off: true, because: x } }",
        "component: a.vue\nnetwork: [{ on: /api, fail: true }]",
        "component: a.vue\nnetwork: [{ on: GET /api }]",
        "component: a.vue\nnetwork: [{ on: GET /api, reply: { status: 42 } }]",
        "component: a.vue\nclauses: [{ expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expcet: [] }]",
        "component: a.vue\nclauses: [{ clause: x, parent: nags, expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ prss: p }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ press: p, tmes: 2 }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ type: a }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, do: [{ elapse: soon }], expect: [{ count: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ txt: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ text: p }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ text: p, iz: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ attribute: p, is: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ count: p, above: many }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ emitted: fire, tims: 1 }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ requested: everything }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ within: p }] }]",
        "component: a.vue\nclauses: [{ clause: x, expect: [{ warned: loudly }] }]",
    ] {
        if fidelon_core::contract::read(text).is_ok() {
            taken.push(format!("the reader takes this: {text}"));
        }
        if validator.is_valid(&json(text)) {
            taken.push(format!("the schema takes this: {text}"));
        }
    }
    assert!(taken.is_empty(), "{taken:#?}");
}
