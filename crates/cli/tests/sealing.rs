//! Component code reads no file, opens no connection, sees no environment and reaches nothing of the host, whatever it tries, on either
//! stage.

mod studio;

use std::net::TcpListener;

use studio::{Studio, has_browser, stages};

/// A component that shows what its script found out.
fn spy(script: &str) -> String {
    format!(
        "<script setup>\nimport {{ ref }} from 'vue'\nconst found = ref('nothing')\nconst tell = (v) => {{ found.value = String(v) }}\n{script}\n</script>\n<template><p>{{{{ found }}}}</p></template>\n"
    )
}

fn shown_on(studio: &Studio, component: &str, stage: &str) -> String {
    let run = studio.run_with(&["render", component, "--as", "raw", "--stage", stage], &[("KILN_SECRET", "raku-1260")]);
    let text = format!("{}{}", run.out, run.err);
    assert!(!text.contains("raku-1260"), "{component} on the {stage} stage: {text}");
    text
}

/// What a component shows, which must be the same on every stage.
fn shown(studio: &Studio, component: &str) -> String {
    let mut texts = stages().into_iter().map(|stage| shown_on(studio, component, stage));
    let first = texts.next().expect("there is a stage");
    texts.for_each(|text| assert_eq!(text, first, "{component}"));
    first
}

#[test]
fn no_file_outside_the_project_is_read() {
    let outside = tempfile::tempdir().expect("a temporary folder");
    let secret = outside.path().join("secret.json");
    std::fs::write(&secret, "{ \"word\": \"raku-1260\" }").expect("written");
    let path = secret.canonicalize().expect("there").to_string_lossy().into_owned();
    let studio = Studio::new()
        .with("Absolute.vue", spy(&format!("import word from '{path}'\ntell(JSON.stringify(word))")))
        .with("Address.vue", spy(&format!("import word from 'file://{path}'\ntell(JSON.stringify(word))")))
        .with("Late.vue", spy(&format!("import('{path}').then((m) => tell(JSON.stringify(m.default)), () => tell('refused'))")))
        .with(
            "Later.vue",
            spy(&format!("const where = ['{path}'].join(''); import(where).then((m) => tell(JSON.stringify(m)), () => tell('refused'))")),
        )
        .with("Node.vue", spy("import { readFileSync } from 'node:fs'\ntell(readFileSync)"));
    let up = format!("{}{}", "../".repeat(studio.path(".").canonicalize().expect("there").components().count()), &path[1..]);
    let studio = studio.with("Up.vue", spy(&format!("import word from './{up}'\ntell(JSON.stringify(word))")));
    #[cfg(unix)]
    std::os::unix::fs::symlink(&secret, studio.path("linked.json")).expect("linked");
    #[cfg(unix)]
    let studio = studio.with("Linked.vue", spy("import word from './linked.json'\ntell(JSON.stringify(word))"));
    // A virtual folder, as Yarn has them, names any place above it: that place counts.
    let root = studio.path(".").canonicalize().expect("there");
    let depth = root.components().count();
    let folder = root.join("node_modules").to_string_lossy().into_owned();
    let virtually = format!("{folder}/__virtual__/a/{depth}{path}");
    let studio = studio.with("Virtual.vue", spy(&format!("import word from '{virtually}'\ntell(JSON.stringify(word))"))).with(
        "LateVirtual.vue",
        spy(&format!("import('{virtually}').then((m) => tell(JSON.stringify(m.default)), () => tell('refused'))")),
    );
    for component in ["Absolute.vue", "Up.vue", "Linked.vue", "Virtual.vue"] {
        let text = shown(&studio, component);
        assert!(text.contains("lies outside the project"), "{component}: {text}");
    }
    assert!(shown(&studio, "Late.vue").contains("refused"));
    assert!(shown(&studio, "LateVirtual.vue").contains("refused"));
    assert!(shown(&studio, "Later.vue").contains("refused"));
    assert!(shown(&studio, "Node.vue").contains("belongs to Node"));
    shown(&studio, "Address.vue");
    // What belongs to the project is read as ever.
    let own = studio.with("own.json", "{ \"word\": \"shino\" }").with("Own.vue", spy("import word from './own.json'\ntell(word.word)"));
    assert!(shown(&own, "Own.vue").contains("shino"));
}

#[test]
fn nothing_of_the_host_is_reached() {
    let studio = Studio::new();
    for (name, script) in [
        ("Environment.vue", "tell(JSON.stringify(process.env) + JSON.stringify(globalThis.Deno?.env ?? null))"),
        ("Constructor.vue", "tell([].constructor.constructor('return typeof require + typeof std + typeof os + typeof Bun')())"),
        (
            "Functions.vue",
            "tell(['require', 'std', 'os', 'loadScript', 'read', 'scriptArgs', '__read', '__types'].filter((n) => n in globalThis).join() || 'none')",
        ),
        (
            "Host.vue",
            "tell(Object.getOwnPropertyNames(globalThis).filter((n) => /^__(fidelon|stage|find|send|native)/.test(n)).join() || 'nothing of the host')",
        ),
    ] {
        let studio_file = studio.path(name);
        std::fs::write(studio_file, spy(script)).expect("written");
        let text = shown(&studio, name);
        let wanted = match name {
            "Constructor.vue" => "undefinedundefinedundefinedundefined",
            "Functions.vue" => "none",
            "Host.vue" => "nothing of the host",
            _ => "{\"NODE_ENV\":\"development\"}null",
        };
        assert!(text.contains(wanted), "{name}: {text}");
    }
}

#[test]
fn nothing_is_sent_anywhere() {
    let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
    listener.set_nonblocking(true).expect("set");
    let port = listener.local_addr().expect("bound").port();
    let script = format!(
        "const to = (what) => `http://127.0.0.1:{port}/${{what}}`\nconst ways = [\n\
         () => fetch(to('fetch')).catch(() => {{}}),\n\
         () => {{ const r = new XMLHttpRequest(); r.open('GET', to('xhr')); r.send() }},\n\
         () => new WebSocket(`ws://127.0.0.1:{port}/socket`),\n\
         () => new EventSource(to('events')),\n\
         () => navigator.sendBeacon(to('beacon'), 'x'),\n\
         () => {{ new Image().src = to('image') }},\n\
         () => {{ for (const [tag, where] of [['script', 'src'], ['iframe', 'src'], ['img', 'src'], ['object', 'data'], ['video', 'src'], ['embed', 'src']]) {{ const e = document.createElement(tag); e[where] = to(tag); document.body.append(e) }} }},\n\
         () => {{ const l = document.createElement('link'); l.rel = 'stylesheet'; l.href = to('style'); document.head.append(l) }},\n\
         () => {{ const l = document.createElement('link'); l.rel = 'prefetch'; l.href = to('prefetch'); document.head.append(l) }},\n\
         () => {{ const s = document.createElement('style'); s.textContent = `@import url(${{to('import')}}); body {{ background: url(${{to('background')}}) }}`; document.head.append(s) }},\n\
         () => {{ const f = document.createElement('form'); f.action = to('form'); document.body.append(f); f.submit() }},\n\
         () => {{ const a = document.createElement('a'); a.href = to('link'); a.ping = to('ping'); a.click() }},\n\
         () => {{ const a = document.createElement('a'); a.href = to('link'); document.body.append(a); a.click() }},\n\
         () => new Worker(to('worker')),\n\
         () => window.open(to('window')),\n\
         () => {{ const i = document.createElement('iframe'); document.body.append(i); i.contentWindow?.fetch?.(to('frame')).catch(() => {{}}) }},\n\
         () => {{ location.href = to('location') }},\n\
         () => {{ location.assign(to('assign')) }},\n\
         ]\nlet tried = 0\nfor (const way of ways) {{ try {{ way() }} catch {{}} tried++ }}\ntell(`tried ${{tried}}`)"
    );
    let studio = Studio::new().with("Ways.vue", spy(&script));
    for stage in stages() {
        let text = shown_on(&studio, "Ways.vue", stage);
        assert!(text.contains("tried 18"), "on the {stage} stage: {text}");
        let heard: Vec<String> = std::iter::from_fn(|| listener.accept().ok()).map(|(socket, _)| first_line(&socket)).collect();
        assert_eq!(heard, Vec::<String>::new(), "sent from the {stage} stage");
    }
}

/// What a connection asks for.
fn first_line(socket: &std::net::TcpStream) -> String {
    let _ = socket.set_nonblocking(false);
    let _ = socket.set_read_timeout(Some(std::time::Duration::from_millis(500)));
    let mut line = String::new();
    let _ = std::io::BufRead::read_line(&mut std::io::BufReader::new(socket), &mut line);
    line
}

#[test]
fn the_server_of_the_browser_stage_gives_no_file_of_others() {
    if !has_browser() {
        return;
    }
    let outside = tempfile::tempdir().expect("a temporary folder");
    let secret = outside.path().canonicalize().expect("there").join("secret.json");
    std::fs::write(&secret, "{ \"word\": \"raku-1260\" }").expect("written");
    let path = secret.to_string_lossy();
    let script = format!(
        "const base = /\\/[0-9a-f]{{32}}/.exec(new Error().stack)?.[0]\n\
         globalThis.__import(`${{base}}/m/{path}`).then((m) => tell(JSON.stringify(m.default)), () => tell(base ? 'refused' : 'lost'))"
    );
    let studio = Studio::new().with("Server.vue", spy(&script));
    let text = shown_on(&studio, "Server.vue", "browser");
    assert!(text.contains("refused"), "{text}");
}
