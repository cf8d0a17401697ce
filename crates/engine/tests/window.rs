//! The window as scripts see it, one table a subject.

use std::time::{Duration, Instant};

use fidelon_engine::modules::NoModules;
use fidelon_engine::{EngineError, Limits, LogLevel, Realm};

fn realm() -> Realm {
    Realm::new(Limits::default(), Box::new(NoModules)).expect("the engine starts")
}

fn check(rows: &[(&str, &str)]) {
    let realm = realm();
    for (script, expected) in rows {
        let got = realm.eval(&format!("(() => {{ document.body.innerHTML = ''; {script} }})()")).unwrap_or_else(|e| format!("threw {e:?}"));
        assert_eq!(&got, expected, "{script}");
    }
}

#[test]
fn nodes_and_attributes() {
    check(&[
        ("const d = document.createElement('DIV'); return d.tagName + d.localName + (d instanceof HTMLDivElement)", "DIVdivtrue"),
        (
            "document.body.innerHTML = '<p>a<b>c</b></p>'; return document.body.firstChild.childNodes.length + document.querySelector('b').parentNode.nodeName",
            "2P",
        ),
        ("const d = document.createElement('div'); d.append('x', document.createElement('i')); return d.outerHTML", "<div>x<i></i></div>"),
        (
            "const d = document.createElement('div'); d.className = 'a b'; d.classList.toggle('b'); d.classList.add('c'); return d.className",
            "a c",
        ),
        (
            "const d = document.createElement('div'); d.style.backgroundColor = 'red'; d.style.setProperty('--x', '1'); return d.getAttribute('style')",
            "background-color: red; --x: 1;",
        ),
        (
            "const d = document.createElement('div'); d.dataset.kilnId = 7; return d.outerHTML + ('kilnId' in d.dataset)",
            "<div data-kiln-id=\"7\"></div>true",
        ),
        (
            "const l = document.createElement('label'); l.htmlFor = 'x'; return ('htmlFor' in l) + l.outerHTML",
            "true<label for=\"x\"></label>",
        ),
        (
            "const b = document.createElement('button'); b.disabled = true; return b.outerHTML + b.type",
            "<button disabled=\"\"></button>submit",
        ),
        (
            "const t = document.createElement('template'); t.innerHTML = '<b>x</b>'; return t.content.firstChild.localName + t.childNodes.length",
            "b0",
        ),
        (
            "const s = document.createElementNS('http://www.w3.org/2000/svg', 'svg'); return s.tagName + (s instanceof SVGElement)",
            "svgtrue",
        ),
        ("try { document.body.appendChild(document.documentElement) } catch (e) { return e.name + e.code }", "HierarchyRequestError3"),
        ("try { document.querySelector('[') } catch (e) { return e.name }", "SyntaxError"),
        ("return Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set !== undefined", "true"),
        (
            "const d = document.createElement('p'); const c = d.children; d.append(document.createElement('i')); return c.length + c[0].localName + (c === d.children)",
            "1itrue",
        ),
        ("const a = document.createElement('a'); a.href = '/kilns?x=1'; return a.href + a.search", "http://stage.test/kilns?x=1?x=1"),
    ]);
}

#[test]
fn events_take_their_path() {
    check(&[
        (
            "document.body.innerHTML = '<p><b></b></p>'; const seen = []; const p = document.querySelector('p'); \
             for (const t of [window, document, p]) { t.addEventListener('x', () => seen.push('c'), true); t.addEventListener('x', () => seen.push('b')); } \
             document.querySelector('b').dispatchEvent(new Event('x', { bubbles: true })); return seen.join('')",
            "cccbbb",
        ),
        (
            "const d = document.createElement('div'); let n = 0; d.addEventListener('x', () => n++, { once: true }); d.dispatchEvent(new Event('x')); d.dispatchEvent(new Event('x')); return n",
            "1",
        ),
        (
            "const d = document.createElement('div'); d.onclick = () => false; const e = new MouseEvent('click', { cancelable: true }); return d.dispatchEvent(e)",
            "false",
        ),
        (
            "document.body.innerHTML = '<button onclick=\"this.title=1\">x</button>'; const b = document.body.firstChild; b.setAttribute('onclick', 'this.title = 2'); b.click(); return b.title",
            "2",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox>'; const i = document.body.firstChild; const seen = []; i.oninput = () => seen.push('i' + i.checked); i.onchange = () => seen.push('c'); i.click(); return seen + ''",
            "itrue,c",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox>'; const i = document.body.firstChild; i.onclick = (e) => e.preventDefault(); i.click(); return i.checked",
            "false",
        ),
        (
            "document.body.innerHTML = '<label>x<input type=checkbox></label>'; document.querySelector('label').click(); return document.querySelector('input').checked",
            "true",
        ),
        (
            "document.body.innerHTML = '<button disabled>x</button>'; let n = 0; document.body.firstChild.onclick = () => n++; document.body.firstChild.click(); return n",
            "0",
        ),
        (
            "document.body.innerHTML = '<form><input name=a value=1><button>go</button></form>'; let out; document.forms[0].onsubmit = (e) => { out = [...new FormData(e.target)] + e.submitter.localName }; document.querySelector('button').click(); return out",
            "a,1button",
        ),
        (
            "document.body.innerHTML = '<form><input required><button>go</button></form>'; let n = 0; document.forms[0].onsubmit = () => n++; document.querySelector('button').click(); return n + document.activeElement.localName",
            "0input",
        ),
        (
            "document.body.innerHTML = '<input id=a><input id=b>'; const [a, b] = document.querySelectorAll('input'); const seen = []; for (const t of ['focus', 'blur', 'focusin', 'focusout']) document.body.addEventListener(t, (e) => seen.push(t + e.target.id), true); a.focus(); b.focus(); return seen + ''",
            "focusa,focusina,blura,focusouta,focusb,focusinb",
        ),
    ]);
}

#[test]
fn form_state() {
    check(&[
        (
            "document.body.innerHTML = '<input value=a>'; const i = document.body.firstChild; i.value = 'b'; return i.value + i.getAttribute('value') + i.defaultValue",
            "baa",
        ),
        (
            "document.body.innerHTML = '<select><option>a<option>b</select>'; const s = document.body.firstChild; s.value = 'b'; return s.selectedIndex + s.options[1].text + (s.value = 'z', s.selectedIndex)",
            "1b-1",
        ),
        (
            "document.body.innerHTML = '<input type=radio name=u value=1 checked><input type=radio name=u value=2>'; const [a, b] = document.querySelectorAll('input'); b.click(); return a.checked + '' + b.checked",
            "falsetrue",
        ),
        ("const i = document.createElement('input'); i.type = 'number'; i.value = '3'; i.stepUp(); return i.value + i.valueAsNumber", "44"),
        (
            "const i = document.createElement('input'); i.required = true; return i.validity.valueMissing + '' + i.checkValidity()",
            "truefalse",
        ),
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
    assert_eq!(state, "1|undefined|||<style></style>||0||http://stage.test/", "styles stay: their library holds on to them");
}

#[test]
fn what_never_ends_is_stopped() {
    let limits = Limits { deadline: Duration::from_millis(150), memory_mib: 64, ..Limits::default() };
    for (script, deadline) in [
        ("for (;;) {}", true),
        ("for (;;) { try { for (;;) {} } catch {} }", true),
        ("/(a+)+$/.test('a'.repeat(40) + 'b')", true),
        ("(function f() { Promise.resolve().then(f) })(); ''", true),
        ("const a = []; for (;;) a.push(new Array(1000).fill(1))", false),
        ("'x'.repeat(2 ** 29).split('')", false),
    ] {
        let realm = Realm::new(limits, Box::new(NoModules)).expect("starts");
        let outcome = realm.eval(script).and_then(|_| realm.drain());
        match outcome {
            Err(EngineError::Deadline(_)) if deadline => assert!(realm.is_broken(), "{script}"),
            Err(EngineError::Memory(_)) if !deadline => assert!(realm.is_broken(), "{script}"),
            other => panic!("{script}: {other:?}"),
        }
        drop(realm);
    }
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
