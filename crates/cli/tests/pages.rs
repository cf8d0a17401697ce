//! The report and the contact sheet in a real browser, as a person uses them. Passed over where no browser can be driven, unless
//! FIDELON_REQUIRE_BROWSER=1.

mod studio;

use std::time::{Duration, Instant};

use fidelon_browser::{DriverChoice, Page};
use fidelon_core::Surface;
use fidelon_core::gallery::{Gallery, Page as GalleryPage, Shot};
use fidelon_core::surface::Framework;
use serde_json::Value as Json;
use studio::{Studio, has_browser, kit};

fn shop() -> Studio {
    Studio::new()
        .with("src/DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("src/DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"))
        .with("src/ChattySwitch.tsx", kit("flawed/ChattySwitch.tsx"))
        .with("src/ChattySwitch.contract.yaml", kit("flawed/ChattySwitch.contract.yaml"))
        .with("src/GlazeBadge.vue", kit("vue/GlazeBadge.vue"))
        // Its rules are adopted, its state is in no attribute, and it tries what a page must not let it.
        .with(
            "src/kiln-lamp.js",
            "class KilnLamp extends HTMLElement {\n  static observedAttributes = ['lit']\n  constructor() { super(); this.attachShadow({ mode: 'open' }); const s = new CSSStyleSheet(); s.replaceSync('b { color: rgb(1, 2, 3) }'); this.shadowRoot.adoptedStyleSheets = [s] }\n  get lit() { return this.hasAttribute('lit') }\n  set lit(lit) { this.toggleAttribute('lit', lit) }\n  attributeChangedCallback() { this.draw() }\n  connectedCallback() { this.draw() }\n  draw() { this.shadowRoot.innerHTML = `<b>${this.lit ? 'lit' : 'dark'}</b><input aria-label=\"Watts\"><img src=x onerror=\"parent.hacked = 1\">`; this.shadowRoot.querySelector('input').value = 'typed' }\n}\ncustomElements.define('kiln-lamp', KilnLamp)\n",
        )
        .with("src/Lost.vue", "<script setup>\nimport x from './nowhere'\n</script>\n<template><p>{{ x }}</p></template>\n")
}

struct Seen(Page);

impl Seen {
    fn open(studio: &Studio, file: &str) -> Self {
        let page = Page::open(&DriverChoice::Found).expect("a browser");
        page.resize(1280, 900).expect("resized");
        page.go(&format!("file://{}", studio.path(file).display())).expect("opens");
        Self(page)
    }

    fn run(&self, script: &str) -> Json {
        self.0.run(script, Vec::new()).expect("runs")
    }

    /// What an expression comes to once it is what is waited for.
    #[track_caller]
    fn wait(&self, expression: &str, wanted: &Json) {
        let end = Instant::now() + Duration::from_secs(20);
        let mut last = Json::Null;
        while Instant::now() < end {
            last = self.run(&format!("return {expression}"));
            if last == *wanted {
                return;
            }
            std::thread::sleep(Duration::from_millis(30));
        }
        panic!("{expression}: {last} instead of {wanted}");
    }
}

#[test]
fn the_report_is_searched_filtered_and_read_from_disk() {
    if !has_browser() {
        return;
    }
    let studio = shop();
    let run = studio.run(&["check", "src", "--html", "report"]);
    assert_eq!(run.code, 2, "one cannot be loaded: {}", run.err);
    let page = Seen::open(&studio, "report/index.html");
    let listed = "[...document.querySelectorAll('#list a span:nth-child(2)')].map((a) => a.textContent)";
    let all = ["ChattySwitch.tsx", "DoubledCard.vue", "GlazeBadge.vue", "Lost.vue", "kiln-lamp.js#kiln-lamp"];
    page.wait(listed, &serde_json::json!(all));
    let text = page.run("return document.querySelector('main').innerText");
    assert!(
        text.as_str()
            .is_some_and(|t| t.contains("5 components: 2 hold, 2 broken, 1 unjudged") && t.contains("exactly when wide and framed")),
        "{text}"
    );

    // Filter by verdict, then search in what was promised.
    page.run("document.querySelector('[data-verdict=broken]').click()");
    page.wait(listed, &serde_json::json!(all[..2]));
    page.run("const s = document.getElementById('search'); s.value = 'piece framed'; s.dispatchEvent(new Event('input'))");
    page.wait(listed, &serde_json::json!([all[1]]));
    page.wait("document.getElementById('shown').textContent", &"1 of 5 components".into());

    // A finding, with its steps played, its difference and its command.
    page.run("document.querySelector('#list a').click()");
    page.wait("document.querySelectorAll('.finding[id]').length", &2.into());
    page.wait("document.title", &"src/DoubledCard.vue · Fidelon".into());
    page.wait("document.querySelector('.film iframe')?.contentDocument?.body?.innerText?.match(/Mug/g)?.length ?? 0", &2.into());
    page.wait("[...document.querySelectorAll('.finding .pair pre')].slice(0, 2).map((p) => p.textContent)", &serde_json::json!(["1", "2"]));
    assert_eq!(page.run("return document.activeElement.id"), "main", "whoever uses a keyboard goes on there");

    // Combinations: only the broken ones, then those of a pair of values that is pressed in the picture.
    page.wait("document.querySelectorAll('.shot').length", &8.into());
    page.run("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Only broken').click()");
    page.wait("[...document.querySelectorAll('.shot')].map((s) => s.className)", &serde_json::json!(["shot broke", "shot broke"]));
    page.run("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Only broken').click()");
    page.run("[...document.querySelectorAll('rect[data-pair]')].find((r) => r.textContent.startsWith('framed = true with wide = true')).dispatchEvent(new MouseEvent('click'))");
    page.wait("document.querySelectorAll('.shot').length", &2.into());
    page.run("const s = document.getElementById('axis-1'); s.value = ''; s.dispatchEvent(new Event('change'))");
    page.wait("document.querySelectorAll('.shot').length", &4.into());

    // What has a shadow tree shows as it did: its adopted rules, what only scripts knew, and nothing that runs.
    page.run("location.hash = '#/src/kiln-lamp.js#kiln-lamp'");
    let lamp = "[...document.querySelectorAll('.shot iframe')].at(0)?.contentDocument?.querySelector('kiln-lamp')?.shadowRoot";
    page.wait(&format!("getComputedStyle({lamp}?.querySelector('b') ?? document.body).color"), &"rgb(1, 2, 3)".into());
    page.wait(&format!("{lamp}.querySelector('input').value"), &"typed".into());
    assert_eq!(page.run("return window.hacked ?? null"), Json::Null);
    page.run("location.hash = '#/src/Lost.vue'");
    page.wait("/nowhere/.test(document.querySelector('main .notice')?.textContent)", &true.into());

    // Every control has a name, every frame a title, and headings do not leap.
    let nameless = "[...document.querySelectorAll('button, input, select, a, iframe')].filter((e) => !(e.ariaLabel || e.title || e.textContent.trim() || e.labels?.length)).map((e) => e.outerHTML)";
    for hash in ["#/", "#/src/DoubledCard.vue"] {
        page.run(&format!("location.hash = '{hash}'"));
        std::thread::sleep(Duration::from_millis(300));
        assert_eq!(page.run(&format!("return {nameless}")), serde_json::json!([]), "{hash}");
    }

    // Another folder's files are not written over, and an older report's are taken away.
    let run = studio.run(&["check", "src", "--html", "src"]);
    assert!(run.code == 2 && run.err.contains("holds other files"), "{}", run.err);
    studio.run(&["check", "src/GlazeBadge.vue", "--html", "report"]);
    let data: Vec<_> = std::fs::read_dir(studio.path("report/data"))
        .expect("there")
        .flatten()
        .map(|e| e.file_name().to_string_lossy().into_owned())
        .collect();
    assert_eq!(data.len(), 3, "{data:?}");
}

#[test]
fn ten_thousand_combinations_stay_usable() {
    if !has_browser() {
        return;
    }
    // Made up: to play so many takes minutes where nothing is optimised.
    let component = "Grid.vue".to_owned();
    let mut gallery = Gallery::new(component.clone(), Surface::new("Grid", "Grid.vue", "default", Framework::Vue));
    let digits: Vec<String> = (0..10).map(|n| n.to_string()).collect();
    let names = ["a", "b", "c", "d"];
    gallery.axes.extend(names.map(|name| (name.to_owned(), digits.clone())));
    gallery.styles.push(String::new());
    for n in 0..10_000 {
        let text = format!("{n:04}");
        let values = names.iter().zip(text.chars()).map(|(name, digit)| ((*name).to_owned(), digit.to_string())).collect();
        gallery.shots.push(Shot { case: format!("Grid@{n:06x}"), values, page: Some(n), events: Vec::new(), notes: Vec::new() });
        gallery.pages.push(GalleryPage { styles: 0, body: format!("<p>{text}</p>") });
    }
    let results = serde_json::json!({ "fidelon": "0.1.0", "format": 1, "totals": { "components": 1, "combinations": 10000, "checks": 10000, "broken": 0, "unjudged": 0 }, "faults": [],
        "components": [{ "component": component, "contract": null, "verdict": "holds", "reason": null, "combinations": 10000, "coverage": { "pairs": { "met": 600, "of": 600 }, "impossible": 0 },
            "clauses": [], "laws": [], "baseline": null, "findings": [], "notes": [] }] });
    let results = serde_json::from_value(results).expect("results");
    let studio = Studio::empty();
    for (path, text) in fidelon_report::html::report(&results, &[gallery]) {
        let file = studio.path("report").join(path);
        std::fs::create_dir_all(file.parent().expect("below")).expect("made");
        std::fs::write(file, text).expect("written");
    }
    let page = Seen::open(&studio, "report/index.html");
    page.run("location.hash = '#/Grid.vue'");
    page.wait("[...document.querySelectorAll('[role=status]')].some((s) => s.textContent === '10000 of 10000 combinations')", &true.into());
    // So many frames at once as are near the window, wherever one is.
    let few = "(() => { const n = document.querySelectorAll('iframe').length; return n > 0 && n < 200 })()".to_owned();
    page.wait(&few, &true.into());
    page.run("window.scrollTo({ top: document.body.scrollHeight, behavior: 'instant' })");
    page.wait("document.querySelectorAll('.shot').length > 400", &true.into());
    page.wait(&few, &true.into());
    // The last of all is found by its values.
    page.run("for (const axis of [0, 1, 2, 3]) { const s = document.getElementById(`axis-${axis}`); s.value = '9'; s.dispatchEvent(new Event('change')); }");
    page.wait("document.querySelectorAll('.shot').length", &1.into());
    page.wait("document.querySelector('.shot iframe')?.contentDocument?.body?.innerText.trim()", &"9999".into());
}

#[test]
fn the_sheet_lays_out_what_was_asked_for_and_is_drawn_as_a_picture() {
    let studio = shop();
    let run = studio.run(&["sheet", "src/GlazeBadge.vue", "src/DoubledCard.vue", "--by", "finish", "--across", "cone"]);
    assert_eq!(run.code, 0, "{}", run.err);
    assert!(run.err.contains("sheet.html") && run.err.contains("in 2 components, 2 broken"), "{}", run.err);
    let run = studio.run(&["sheet", "src/GlazeBadge.vue", "--by", "finsh"]);
    assert!(run.code == 2 && run.err.contains("finsh"), "{}", run.err);
    let run = studio.run(&["sheet", "src/GlazeBadge.vue", "--to", "sheet.gif"]);
    assert!(run.code == 2 && run.err.contains("neither .html nor .png"), "{}", run.err);
    // Where there is no browser a picture is refused with what to do instead.
    let run = studio.run_with(&["sheet", "src/GlazeBadge.vue", "--to", "sheet.png"], &[("PATH", "")]);
    assert!(run.code == 2 && run.err.contains("--to sheet.html"), "{}", run.err);
    if !has_browser() {
        return;
    }
    let page = Seen::open(&studio, "sheet.html");
    page.wait("document.querySelectorAll('thead th').length > 1 && [...document.querySelectorAll('thead th')].every((t) => t.textContent.includes('cone'))", &true.into());
    page.wait(
        "[...document.querySelectorAll('tbody th')].map((t) => t.textContent)",
        &serde_json::json!(["no finish", "finish = \"gloss\"", "finish = \"satin\"", "finish = \"matte\""]),
    );
    page.wait("document.querySelectorAll('.broke').length", &2.into());
    page.wait("document.querySelector('table iframe')?.contentDocument?.querySelector('.name')?.textContent", &"mug".into());
    let run = studio.run(&["sheet", "src/DoubledCard.vue", "--to", "sheet.png", "--width", "900"]);
    assert_eq!(run.code, 0, "{}", run.err);
    let png = std::fs::read(studio.path("sheet.png")).expect("written");
    assert_eq!(&png[..8], b"\x89PNG\r\n\x1a\n");
    let number = |at: usize| u32::from_be_bytes(png[at..at + 4].try_into().expect("four"));
    assert!(number(16) == 900 && number(20) > 300, "{} × {}", number(16), number(20));
}
