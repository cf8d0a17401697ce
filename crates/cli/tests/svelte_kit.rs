//! Components of SvelteKit import modules that only its build makes: they are there, and do what an application does.

mod studio;

use serde_json::Value as Json;
use studio::{Studio, stages};

fn application() -> Studio {
    Studio::new()
        .with("package.json", "{ \"name\": \"studio\", \"type\": \"module\" }")
        .with("tsconfig.json", "{ \"extends\": \"./.svelte-kit/tsconfig.json\" }")
        .with(".env.example", "PUBLIC_STUDIO=North kiln\nKEY=secret\n")
        .with("src/lib/paths.ts", "export const paths = ['/', '/pieces']")
        .with(
            "src/lib/Nav.svelte",
            "<script lang=\"ts\">\nimport { page } from '$app/state'\nimport { resolve } from '$app/paths'\nimport { paths } from '$lib/paths'\nimport { PUBLIC_STUDIO } from '$env/static/public'\nimport { env } from '$env/dynamic/public'\n</script>\n\
             <nav aria-label={PUBLIC_STUDIO + (env.PUBLIC_NONE ?? '')}>{#each paths as path (path)}<a href={resolve(path)} aria-current={page.url.pathname === path ? 'page' : undefined}>{path}</a>{/each}</nav>\n",
        )
        .with(
            "src/lib/Search.svelte",
            "<script lang=\"ts\">\nimport { goto, beforeNavigate } from '$app/navigation'\nimport { page } from '$app/state'\nlet text = $state(''), held = $state(0)\n\
             beforeNavigate(({ to, cancel }) => { if (to?.url.searchParams.get('q') === 'secret') { held += 1; cancel() } })\n</script>\n\
             <form onsubmit={(e) => { e.preventDefault(); goto(`?q=${encodeURIComponent(text)}`) }}><label>Piece <input bind:value={text}></label><button>Go</button></form>\n\
             <output>{page.url.searchParams.get('q') ?? 'nothing'}, held {held}</output>\n",
        )
        .with(
            "src/lib/Search.contract.yaml",
            "component: ./Search.svelte\nclauses:\n  - clause: it goes where it is told\n    do: [{ type: tall vase, into: textbox }, { press: button }]\n    expect: [{ text: output, is: 'tall vase, held 0' }]\n\
             \x20 - clause: who is asked before may refuse\n    do: [{ type: secret, into: textbox }, { press: button }]\n    expect: [{ text: output, is: 'nothing, held 1' }]\n",
        )
        .with("src/lib/Where.svelte", "<script>\nimport { page } from '$app/stores'\n</script>\n<p>{$page.url.pathname}</p>\n")
        .with(
            "src/lib/Login.svelte",
            "<script lang=\"ts\">\nimport { enhance } from '$app/forms'\nimport { page } from '$app/state'\nlet busy = $state(false)\n</script>\n\
             <form method=\"POST\" action=\"?/login\" use:enhance={() => { busy = true; return async ({ update }) => { await update(); busy = false } }}>\n\
             <label>Name <input name=\"name\"></label><button disabled={busy}>Go</button></form>\n<output>{page.form?.said ?? ''}</output>\n",
        )
        .with("src/lib/Login.contract.yaml", login("{ \"type\": \"failure\", \"status\": 400, \"data\": \"[{\\\"said\\\":1},\\\"No such potter\\\"]\" }"))
}

fn login(reply: &str) -> String {
    format!(
        "component: ./Login.svelte\nnetwork:\n  - on: POST /\n    reply: {{ json: {reply} }}\nclauses:\n  - clause: what the server says is shown\n    do: [{{ type: Rya, into: textbox }}, {{ press: button }}]\n\
         \x20   expect: [{{ text: output, is: No such potter }}, {{ requested: POST / }}]\n"
    )
}

/// What came of each component, in the order of their names.
fn verdicts(results: &Json) -> Vec<String> {
    let all = results["components"].as_array().expect("components");
    let mut out: Vec<String> =
        all.iter().map(|c| format!("{} {}", c["component"].as_str().expect("text"), c["verdict"].as_str().expect("text"))).collect();
    out.sort_unstable();
    out
}

#[test]
fn an_application_of_svelte_kit_is_judged_as_it_is() {
    let studio = application();
    for stage in stages() {
        let results = studio.results(&["src", "--stage", stage, "--effort", "quick"]);
        let hold = ["Login", "Nav", "Search", "Where"].map(|name| format!("src/lib/{name}.svelte holds"));
        assert_eq!(verdicts(&results), hold, "{stage}: {results:#}");
    }
    let nav = studio.run(&["render", "src/lib/Nav.svelte", "--as", "outline"]);
    assert!(nav.out.contains("North kiln") && nav.out.contains("/pieces"), "{}{}", nav.out, nav.err);
    // An answer in plain words does as well.
    let studio = studio.with("src/lib/Login.contract.yaml", login("{ type: failure, status: 400, data: { said: No such potter } }"));
    let again = studio.results(&["src/lib/Login.svelte", "--effort", "quick"]);
    assert_eq!(verdicts(&again), ["src/lib/Login.svelte holds"], "{again:#}");
}

#[test]
fn what_the_project_says_of_such_a_name_counts() {
    let studio = application().with("fidelon.toml", "[alias]\n\"$app\" = \"test/app\"\n").with(
        "test/app/stores.js",
        "import { readable } from 'svelte/store'\nexport const page = readable({ url: { pathname: '/of-the-test' } })\n",
    );
    let where_it_is = studio.run(&["render", "src/lib/Where.svelte"]);
    assert!(where_it_is.out.contains("/of-the-test"), "{}{}", where_it_is.out, where_it_is.err);
    // What only a server knows is told as before.
    let studio = application().with("src/lib/Key.svelte", "<script>\nimport { KEY } from '$env/static/private'\n</script>\n<p>{KEY}</p>\n");
    let told = studio.run(&["check", "src/lib/Key.svelte"]);
    assert_eq!(told.code, 2, "{}{}", told.out, told.err);
    assert!(told.out.contains("`$env/static/private` is made by the project's build"), "{}", told.out);
    for (import, said) in [
        ("{ PUBLIC_NONE } from '$env/static/public'", "write it into the project's `.env`: `PUBLIC_NONE=…`"),
        ("{ none } from '$lib/none'", "`$lib/none` is imported, but there is no such file"),
    ] {
        let studio = application().with("src/lib/Lost.svelte", format!("<script>\nimport {import}\n</script>\n<p>x</p>\n"));
        let told = studio.run(&["check", "src/lib/Lost.svelte"]);
        let flat = told.out.split_whitespace().collect::<Vec<_>>().join(" ");
        assert!(flat.contains(said), "{}", told.out);
    }
}
