//! Component code reads no file, opens no connection, sees no environment and reaches nothing of the host, whatever it tries.

mod studio;

use studio::Studio;

/// A component that shows what its script found out.
fn spy(script: &str) -> String {
    format!(
        "<script setup>\nimport {{ ref }} from 'vue'\nconst found = ref('nothing')\nconst tell = (v) => {{ found.value = String(v) }}\n{script}\n</script>\n<template><p>{{{{ found }}}}</p></template>\n"
    )
}

fn shown(studio: &Studio, component: &str) -> String {
    let run = studio.run_with(&["render", component, "--as", "raw"], &[("KILN_SECRET", "raku-1260")]);
    let text = format!("{}{}", run.out, run.err);
    assert!(!text.contains("raku-1260"), "{component}: {text}");
    text
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
        .with(
            "Late.vue",
            spy(&format!("import('{path}').then((m) => tell(JSON.stringify(m.default)), (e) => tell('refused ' + e.message))")),
        )
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
    for component in ["Absolute.vue", "Up.vue", "Linked.vue"] {
        let text = shown(&studio, component);
        assert!(text.contains("lies outside the project"), "{component}: {text}");
    }
    assert!(shown(&studio, "Late.vue").contains("refused"));
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
        (
            "Environment.vue",
            "tell(JSON.stringify(process.env) + JSON.stringify(globalThis.Deno?.env ?? null) + Object.keys(globalThis).join())",
        ),
        ("Constructor.vue", "tell([].constructor.constructor('return typeof require + typeof std + typeof os + typeof Bun')())"),
        (
            "Functions.vue",
            "tell(['require', 'std', 'os', 'loadScript', 'read', 'scriptArgs', '__read', '__types'].filter((n) => n in globalThis).join() || 'none')",
        ),
        (
            "Host.vue",
            "const h = globalThis.__fidelon; try { h.answer = 1; Object.defineProperty(h, 'now', { value: 1 }); tell('changed') } catch { tell('frozen') }",
        ),
        ("Network.vue", "fetch('http://127.0.0.1:9/').then(() => tell('sent'), () => tell('not sent'))"),
        ("Socket.vue", "try { new WebSocket('ws://127.0.0.1:9/'); tell('opened') } catch (e) { tell('not opened') }"),
    ] {
        let studio_file = studio.path(name);
        std::fs::write(studio_file, spy(script)).expect("written");
        let text = shown(&studio, name);
        let wanted = match name {
            "Constructor.vue" => "undefinedundefinedundefinedundefined",
            "Functions.vue" => "none",
            "Host.vue" => "frozen",
            "Network.vue" => "not sent",
            "Socket.vue" => "not opened",
            _ => "{\"NODE_ENV\":\"development\"}null",
        };
        assert!(text.contains(wanted), "{name}: {text}");
    }
}
