//! The realm: limits, virtual time, seeded chance, the reset between cases.

mod page;

use std::time::{Duration, Instant};

use fidelon_dom::NodeId;
use fidelon_engine::modules::NoModules;
use fidelon_engine::{EngineError, Limits, LogLevel, Realm};
use page::{check, realm};

#[test]
fn what_the_engine_has_wrong_is_set_right() {
    let made = "const d = { enumerable: true, configurable: true, get: () => 1, set() {} }; const p = new Proxy({}, { getOwnPropertyDescriptor: () => d }); ";
    check(&[
        (
            &format!(
                "{made} const f = Object.getOwnPropertyDescriptor(p, 'x'); return f.get === d.get && f.set === d.set && !('value' in f)"
            ),
            "true",
        ),
        (
            &format!(
                "{made} return Reflect.getOwnPropertyDescriptor(Proxy.revocable({{}}, {{ getOwnPropertyDescriptor: () => d }}).proxy, Symbol.iterator).get === d.get"
            ),
            "true",
        ),
        ("const f = Object.getOwnPropertyDescriptor(new Proxy({ a: undefined }, {}), 'a'); return 'value' in f && f.writable", "true"),
        ("let said; try { Proxy({}, {}) } catch (e) { said = e.name } return said + Proxy.length + Proxy.name", "TypeError2Proxy"),
    ]);
}

#[test]
fn the_clock_is_virtual_and_chance_is_seeded() {
    let realm = realm();
    realm.keep().expect("kept");
    let script = "globalThis.seen = []; globalThis.t0 = Date.now(); setTimeout(() => seen.push('b' + (Date.now() - t0)), 20); setTimeout(() => seen.push('a'), 5); \
                  setTimeout(() => seen.push('late'), 5000); requestAnimationFrame((t) => seen.push('f')); Promise.resolve().then(() => seen.push('m')); seen.push(Math.random()); ''";
    let mut runs = Vec::new();
    let began = Instant::now();
    for _ in 0..2 {
        realm.eval(script).expect("runs");
        let settled = realm.settle(50.0).expect("settles");
        assert!(settled.idle);
        runs.push(realm.eval("seen.slice(1).join() + seen[0]").expect("read"));
        realm.reset(1).expect("reset");
    }
    assert!(runs[0].starts_with("m,a,f,b20"), "{}", runs[0]);
    realm.reset(1).expect("reset");
    assert!(runs[1].len() > 12, "{runs:?}");
    assert!(began.elapsed() < Duration::from_secs(2), "nothing waits for real");
    let random = |seed| {
        realm.reset(seed).expect("reset");
        realm.eval("Math.random() + crypto.randomUUID()").expect("read")
    };
    assert_eq!(random(7), random(7));
    assert_ne!(random(7), random(8));
}

#[test]
fn timers_of_no_time_that_start_one_another_are_not_at_rest() {
    let realm = realm();
    realm.keep().expect("kept");
    let settle = |script: &str| {
        realm.reset(1).expect("reset");
        realm.eval(script).expect("runs");
        let settled = realm.settle(50.0).expect("settles");
        (settled.idle, realm.eval("String(turns)").expect("read"))
    };
    let chain = |until: u32| format!("globalThis.turns = 0; (function turn() {{ if (++turns < {until}) setTimeout(turn) }})(); ''");
    assert_eq!(settle(&chain(100)), (true, "100".into()), "followed to its end, also beyond the window");
    assert!(!settle(&chain(1_000_000)).0, "without an end");
    assert_eq!(settle("globalThis.turns = 0; setInterval(() => turns++, 16); ''"), (true, "3".into()), "a clock is at rest");
    assert!(settle("globalThis.turns = 0; (function turn() { turns++; setTimeout(turn, 16) })(); ''").0, "whoever winds it");
    let messages = |until: u32| {
        format!(
            "globalThis.turns = 0; {{ const c = new MessageChannel(); c.port1.onmessage = () => {{ if (++turns < {until}) c.port2.postMessage(0) }}; c.port2.postMessage(0) }} ''"
        )
    };
    assert_eq!(settle(&messages(200)), (true, "200".into()), "many at one moment, and an end");
    let (idle, turns) = settle(&messages(1_000_000));
    assert!(!idle && turns.parse::<u32>().expect("a number") < 300, "so many that each start the next at one moment have no end: {turns}");
    assert!(!settle(&messages(1_000_000)).0 && settle(&messages(200)).0, "a chain that was cut is not gone on with in the next case");
    let wide = "globalThis.turns = 0; for (let i = 0; i < 1500; i++) setTimeout(() => turns++); ''";
    assert_eq!(settle(wide), (true, "1500".into()), "side by side there may be many");
    realm.reset(1).expect("reset");
    realm.eval(&chain(1_000_000)).expect("runs");
    realm.elapse(1000.0).expect("passes");
    assert_eq!(realm.eval("String(Math.round(performance.now()))").expect("read"), "1000", "time that passes is as long as asked for");
}

#[test]
fn events_that_set_one_another_off_are_not_at_rest() {
    let details = "globalThis.turns = 0; const d = document.createElement('details'); document.body.append(d); d.ontoggle = () => { turns++; LOOP }; d.open = true; ''";
    let rejections =
        "globalThis.turns = 0; addEventListener('unhandledrejection', () => { turns++; LOOP }); Promise.reject(new Error('first')); ''";
    for (script, again) in [(details, "d.open = !d.open"), (rejections, "Promise.reject(new Error('again'))")] {
        let realm = realm();
        realm.keep().expect("kept");
        let play = |between: &str| {
            realm.reset(1).expect("reset");
            realm.eval(&format!("{{ {} }}", script.replace("LOOP", between))).expect("runs");
            realm.drain().expect("ends");
            let idle = realm.settle(50.0).expect("settles").idle;
            (idle, realm.eval("String(turns)").expect("read").parse::<u32>().expect("a number"))
        };
        assert_eq!(play(""), (true, 1), "{script}");
        assert_eq!(play(&format!("if (turns < 5) {{ {again} }}")), (true, 5), "{script}");
        let (idle, turns) = play(again);
        assert!(!idle && turns > 200, "{script}: {turns}");
        assert_eq!(play(""), (true, 1), "{script}: nothing of it is left");
    }
}

#[test]
fn a_declaration_list_that_was_written_is_no_matter_of_the_next_case() {
    let realm = realm();
    realm.keep().expect("kept");
    let play = |script: &str| {
        realm.reset(1).expect("reset");
        realm.eval(&format!("{{ const p = document.createElement('p'); {script}; p.getAttribute('style') }}")).expect("runs")
    };
    let read = "p.setAttribute('style', 'margin: 1px 2px 3px 4px; color: red;'); p.style.removeProperty('margin-top')";
    let alone = play(read);
    let written = "for (const [side, width] of [['left', 4], ['top', 1], ['right', 2]]) p.style.setProperty('margin-' + side, width + 'px'); \
        p.style.color = 'red'; p.style.marginBottom = '3px'";
    assert_eq!(play(written), "margin: 1px 2px 3px 4px; color: red;");
    assert_eq!(play(read), alone);
    let many = "for (let i = 0; i < 300; i++) p.style.setProperty('--glaze-' + i, 'cone ' + i); p.style.setProperty('--glaze-7', ''); p.style.color = 'no colour'";
    let told = play(many);
    let ends = told.starts_with("--glaze-0: cone 0; --glaze-1: cone 1;") && told.ends_with("--glaze-299: cone 299;");
    assert!(ends && !told.contains("--glaze-7:"), "{told}");
}

#[test]
fn what_listened_when_the_state_was_kept_listens_in_every_case() {
    let realm = realm();
    let set_up = "globalThis.heard = []; globalThis.first = () => heard.push('first'); addEventListener('fire', first); addEventListener('fire', () => heard.push('second')); \
                  globalThis.place = document.createElement('div'); place.addEventListener('fire', () => heard.push('place')); __fidelon.lasts(place); ''";
    realm.eval(set_up).expect("runs");
    realm.keep().expect("kept");
    let fire = "heard.length = 0; for (const t of [window, place]) t.dispatchEvent(new Event('fire')); heard.join()";
    let cases = [
        ("", "first,second,place"),
        ("removeEventListener('fire', first);", "second,place"),
        ("addEventListener('fire', () => heard.push('third'));", "first,second,third,place"),
        ("place.addEventListener('fire', () => heard.push('inner')); place.heat = 9;", "first,second,place,inner"),
        (
            "addEventListener('fire', () => { heard.push('once'); }, { once: true }); dispatchEvent(new Event('fire'));",
            "first,second,place",
        ),
        ("heard.push(place.heat);", "first,second,place"),
    ];
    for (change, told) in cases {
        assert_eq!(realm.eval(&format!("{change} {fire}")).expect("runs"), told, "{change}");
        assert_eq!(realm.eval("String(place.heat)").expect("runs"), if change.contains("heat = 9") { "9" } else { "undefined" });
        realm.reset(1).expect("reset");
    }
}

#[test]
fn a_reset_leaves_nothing_of_the_case_before() {
    let realm = realm();
    realm.eval("globalThis.own = 1; const s = document.createElement('style'); document.head.append(s); ''").expect("runs");
    realm.keep().expect("kept");
    realm
        .eval(
            "own = 2; globalThis.left = 3; document.marker = 4; document.body.innerHTML = '<p>x</p>'; document.head.append(document.createElement('style'), document.createElement('meta')); \
             document.documentElement.className = 'dark'; localStorage.a = 'b'; setTimeout(() => { document.title = 'late' }, 10); \
             window.addEventListener('x', () => { document.title = 'heard' }); location.hash = 'here'; Array.isArray = null; ''",
        )
        .expect("runs");
    realm.reset(1).expect("reset");
    realm.settle(100.0).expect("settles");
    let state = realm
        .eval(
            "window.dispatchEvent(new Event('x')); [own, typeof left, document.marker, document.body.innerHTML, document.head.innerHTML, document.documentElement.className, \
             localStorage.length, document.title, location.href].join('|')",
        )
        .expect("read");
    assert_eq!(state, "1|undefined|||<style></style><style></style>||0||http://stage.test/", "styles stay: their library holds on to them");
}

#[test]
fn what_a_module_holds_of_an_earlier_case_lives_on() {
    let realm = realm();
    realm.eval("globalThis.kept = {}; ''").expect("runs");
    realm.keep().expect("kept");
    realm
        .eval(
            "document.body.innerHTML = '<ul><li>one</li><li>two</li></ul><template><i>in</i></template>'; kept.item = document.querySelector('li'); \
             kept.text = document.createTextNode('lone'); kept.template = document.querySelector('template'); \
             for (let i = 0; i < 50; i++) document.body.append(document.createElement('p')); ''",
        )
        .expect("runs");
    realm.reset(1).expect("reset");
    realm.collect().expect("collected");
    let state = realm
        .eval("[kept.item.nextSibling.textContent, kept.item.parentNode.outerHTML, kept.text.data, kept.template.innerHTML, kept.item.parentNode.firstChild === kept.item].join('|')")
        .expect("read");
    assert_eq!(state, "two|<ul><li>one</li><li>two</li></ul>|lone|<i>in</i>|true");
    let doc = realm.document();
    let paragraphs = (0..doc.len()).filter(|n| doc.is_html(NodeId(*n as u32), "p")).count();
    assert_eq!(paragraphs, 0, "what nobody holds is gone");
}

#[test]
fn what_never_ends_is_stopped() {
    let limits = Limits { deadline: Duration::from_millis(150), memory_mib: 64, ..Limits::default() };
    for (script, deadline) in [
        ("for (;;) {}", true),
        ("for (;;) { try { for (;;) {} } catch {} }", true),
        ("/(a+)+$/.test('a'.repeat(40) + 'b')", true),
        ("Promise.resolve().then(() => { for (;;) {} }); ''", true),
        ("const a = []; for (;;) a.push(new Array(1000).fill(1))", false),
        ("'x'.repeat(2 ** 29).split('')", false),
        ("for (let i = 0; ; i++) document.body.append('x'.repeat(1e6) + i)", false),
        ("for (let i = 0; ; i++) document.body.title = 'x'.repeat(1e6) + i", false),
        ("const p = document.createElement('p'); p.append('x'.repeat(1e6)); const all = []; for (;;) all.push(p.cloneNode(true))", false),
    ] {
        // Filling the memory takes work, too.
        let limits = if deadline { limits } else { Limits { deadline: Duration::from_secs(50), ..limits } };
        let realm = Realm::new(limits, Box::new(NoModules)).expect("starts");
        let outcome = realm.eval(script).and_then(|_| realm.drain());
        match outcome {
            Err(EngineError::Deadline { steps: 3_000_000, deadline: 150 }) if deadline => assert!(realm.is_broken(), "{script}"),
            Err(EngineError::Memory(_)) if !deadline => assert!(realm.is_broken(), "{script}"),
            other => panic!("{script}: {other:?}"),
        }
        drop(realm);
    }
}

#[test]
fn promises_that_never_end_are_no_rest() {
    for chain in [
        "(function f() { Promise.resolve().then(f) })(); ''",
        "(async () => { for (;;) { await null; for (let i = 0; i < 5000; i++); } })(); ''",
    ] {
        let realm = realm();
        realm.eval(chain).expect("begins");
        assert_eq!(realm.drain(), Ok(false), "{chain}");
        assert_eq!(
            realm.eval("document.body.append('seen'); document.body.textContent"),
            Ok("seen".into()),
            "what it shows can be looked at"
        );
    }
}

#[test]
fn a_full_heap_is_known_whoever_catches_it() {
    let realm = Realm::new(Limits { memory_mib: 32, ..Limits::default() }, Box::new(NoModules)).expect("starts");
    let error = realm.eval("try { 'x'.repeat(2 ** 28).split('') } catch {} 'all is well'").expect_err("nothing of it can be believed");
    assert_eq!(error, EngineError::Memory(32));
    // An error that ends in `null` is none of it.
    let realm = Realm::new(Limits { memory_mib: 64, ..Limits::default() }, Box::new(NoModules)).expect("starts");
    let error = realm.eval("globalThis.held = new Array(2e6).fill(1.5); const o = null; o.x").expect_err("throws");
    assert!(matches!(&error, EngineError::Thrown(t) if t.message.ends_with("null")), "{error:?}");
}

#[test]
fn deep_recursion_is_an_error_like_any_other() {
    let worker = std::thread::Builder::new().stack_size(16 << 20).spawn(|| {
        let realm = realm();
        let error = realm.eval("(function f() { f() })()").expect_err("too deep");
        assert!(matches!(&error, EngineError::Thrown(t) if t.message.contains("stack")), "{error:?}");
        assert_eq!(realm.eval("1 + 1"), Ok("2".into()), "the realm lives on");
    });
    worker.expect("spawns").join().expect("no panic");
}

#[test]
fn errors_and_rejections_are_on_record() {
    let realm = realm();
    realm.eval("setTimeout(() => { throw new Error('in a timer') }); Promise.reject(new TypeError('unheard')); const p = Promise.reject(1); p.catch(() => {}); console.error('%s is %d', 'kiln', 7.9, { a: [1] }); ''").expect("runs");
    realm.settle(10.0).expect("settles");
    let log: Vec<_> = realm.take_log().into_iter().map(|e| (e.level, e.text)).collect();
    assert_eq!(
        log,
        [
            (LogLevel::Error, "kiln is 7 {a: [1]}".to_owned()),
            (LogLevel::Rejected, "TypeError: unheard".to_owned()),
            (LogLevel::Uncaught, "Error: in a timer".to_owned()),
        ]
    );
}

#[test]
fn web_helpers() {
    check(&[
        ("return new URL('../b?x=1#y', 'https://kiln.test/a/c').href", "https://kiln.test/b?x=1#y"),
        ("const u = new URL('https://kiln.test/'); u.searchParams.set('q', 'a b'); return u.href", "https://kiln.test/?q=a+b"),
        ("return btoa('kiln') + atob('a2lsbg==')", "a2lsbg==kiln"),
        (
            "const a = { d: new Date(0), m: new Map([[1, { x: 1 }]]) }; a.self = a; const b = structuredClone(a); return b !== a && b.self === b && b.m.get(1).x",
            "1",
        ),
        ("return new TextDecoder().decode(new TextEncoder().encode('öß€'))", "öß€"),
        (
            "const c = new AbortController(); let n = 0; c.signal.onabort = () => n++; c.abort(); return n + c.signal.reason.name",
            "1AbortError",
        ),
        ("return matchMedia('(min-width: 600px)').matches + '' + matchMedia('(prefers-color-scheme: dark)').matches", "truefalse"),
        ("return new Date().toISOString() + typeof Date() + (new Date() instanceof Date)", "2031-03-01T09:00:00.000Zstringtrue"),
        ("return CSS.escape('1a.b')", "\\31 a\\.b"),
    ]);
}

#[test]
fn requests_are_answered_from_a_list() {
    let realm = realm();
    realm.keep().expect("kept");
    realm
        .eval(
            "__fidelon.answer([{ method: 'GET', path: '/api/*', replies: [{ status: 200, headers: { 'x-cone': '6' }, text: '{\"hot\":true}', after: 100 }] }, \
             { method: 'POST', path: '/api/pieces', replies: [{ fail: true, after: 10 }] }]); globalThis.seen = []; \
             fetch('/api/kilns?a=1').then((r) => r.json().then((j) => seen.push(r.status + r.headers.get('X-Cone') + j.hot + r.ok))); \
             fetch('/api/pieces', { method: 'post', body: new URLSearchParams({ a: 1 }) }).catch((e) => seen.push(e.name)); \
             fetch('/nowhere').catch((e) => seen.push(e.message.includes('no reply is canned'))); \
             const c = new AbortController(); fetch('/api/x', { signal: c.signal }).catch((e) => seen.push(e.name)); c.abort(); \
             const x = new XMLHttpRequest(); x.open('GET', '/api/x'); x.responseType = 'json'; x.onload = () => seen.push('xhr' + x.status + x.response.hot); x.send(); ''",
        )
        .expect("runs");
    realm.elapse(200.0).expect("passes");
    assert_eq!(realm.eval("seen.join()").expect("read"), "AbortError,true,TypeError,2006truetrue,xhr200true");
    let asked = realm.eval("__fidelon.takeRequests().map((r) => r.method + r.url + (r.body ?? '') + r.answered).join()").expect("read");
    assert_eq!(asked, "GET/api/kilns?a=1true,POST/api/piecesa=1true,GET/nowherefalse,GET/api/xtrue,GET/api/xtrue");
    realm.reset(1).expect("reset");
    assert_eq!(realm.eval("__fidelon.takeRequests().length").expect("read"), "0");
}

#[test]
fn a_function_that_is_made_of_a_named_text_stands_under_that_name_in_stacks() {
    let realm = realm();
    let stack = realm
        .eval("try { new Function('a', 'return a.heat\\n//# sourceURL=kiln:///dial.js')(undefined) } catch (error) { error.stack }")
        .expect("it is caught");
    // As in browsers, what is made begins with two lines of its own.
    assert!(stack.contains("(kiln:///dial.js:3:"), "{stack}");
    let map = "new Function('return 1\\n//# sourceURL=kiln:///lid.js\\n//# sourceMappingURL=data:application/json;base64,e30=')()";
    assert_eq!(realm.eval(map).expect("it runs"), "1");
    assert_eq!(realm.map_of_made("kiln:///lid.js").as_deref(), Some("e30="));
    assert_eq!(realm.map_of_made("kiln:///dial.js"), None);
    // It is the same constructor as ever.
    for (expression, wanted) in [
        ("(function () {}).constructor === Function", "true"),
        ("(() => 1) instanceof Function", "true"),
        ("Function.length + Function.name", "1Function"),
        ("new Function('a, b', 'return a + b')(1, 2)", "3"),
        ("Function('return 4')()", "4"),
        ("new (class extends Function {})('return 5')()", "5"),
        ("try { new Function('}) //# sourceURL=a', '\\n//# sourceURL=kiln:///b.js') } catch (e) { e.name }", "SyntaxError"),
    ] {
        assert_eq!(realm.eval(expression).expect(expression), wanted, "{expression}");
    }
}
