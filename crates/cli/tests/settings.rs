//! What `fidelon.toml` says of a project: what it calls its folders, and what stands around its components.

mod studio;

use studio::Studio;

const SETTINGS: &str = r#"
[alias]
"@studio" = "src/studio"
"glazes" = "src/glazes.ts"

[[around]]
in = "src/vue"
setup = "test/vue-setup.ts"
wrap = "test/Bench.vue"
styles = ["src/theme.css"]

[[around]]
in = "src/react"
setup = ["test/react-setup.ts"]
wrap = ["test/Bench.tsx#Bench"]

[[around]]
in = "src/angular"
setup = "test/angular-setup.ts"
"#;

fn project() -> Studio {
    Studio::new()
        .with("fidelon.toml", SETTINGS)
        .with("src/studio/kilns.ts", "export const kiln = 'Anagama'\nexport interface Dial { unit: 'C' | 'F' }\n")
        .with("src/glazes.ts", "export default ['Celadon', 'Tenmoku']\n")
        .with("src/theme.css", ".shelf { color: rgb(1, 2, 3) }\n")
        // Plugins, components for every template, directives: what an application's own start does.
        .with(
            "test/vue-setup.ts",
            "import { h } from 'vue'\nexport default (app) => {\n  app.provide('kiln', 'Noborigama')\n  app.component('StudioMark', { render: () => h('i', 'mark') })\n  app.config.globalProperties.$t = (key) => `words of ${key}`\n\
               \n  // What a router, a theme and a place for messages leave on the page is none of the component's.\
               \n  addEventListener('popstate', () => {})\n  setInterval(() => {}, 60_000)\n  document.body.append(document.createElement('aside'))\n}\n",
        )
        .with("test/Bench.vue", "<template><section class=\"bench\"><slot /></section></template>\n")
        .with(
            "src/vue/Shelf.vue",
            "<script setup lang=\"ts\">\nimport { inject } from 'vue'\nimport { kiln } from '@studio/kilns'\nimport type { Dial } from '@studio/kilns'\nimport glazes from 'glazes'\ndefineProps<Dial>()\nconst given = inject('kiln')\n</script>\n<template><p class=\"shelf\">{{ kiln }} {{ given }} {{ glazes[0] }} {{ $t('shelf') }} {{ unit }} <StudioMark /></p></template>\n",
        )
        .with("test/react-setup.ts", "globalThis.studioWords = { shelf: 'Shelf' }\n")
        .with("test/Bench.tsx", "export function Bench({ children }) { return <section className=\"bench\">{children}</section> }\n")
        .with(
            "src/react/Shelf.tsx",
            "import { kiln, type Dial } from '@studio/kilns'\nexport function Shelf({ unit }: Dial) { return <p className=\"shelf\">{kiln} {unit} {globalThis.studioWords.shelf}</p> }\n",
        )
        .with(
            "test/angular-setup.ts",
            "import { InjectionToken } from '@angular/core'\nexport const KILN = new InjectionToken('kiln')\nexport default [{ provide: KILN, useValue: 'Noborigama' }]\n",
        )
        .with(
            "src/angular/shelf.ts",
            "import { Component, inject } from '@angular/core'\nimport { KILN } from '../../test/angular-setup'\n@Component({ selector: 'app-shelf', template: '<p class=\"shelf\">{{ kiln }}</p>' })\nexport class Shelf { kiln = inject(KILN) }\n",
        )
}

#[test]
fn aliases_set_ups_wrappers_and_stylesheets_hold_for_whole_folders() {
    let studio = project();
    let rendered = |component: &str| {
        let run = studio.run(&["render", component, "--as", "raw"]);
        assert_eq!(run.code, 0, "{component}: {}", run.err);
        run.out
    };
    let vue = rendered("src/vue/Shelf.vue");
    assert!(vue.contains("<section class=\"bench\"") && vue.contains("Anagama Noborigama Celadon words of shelf C <i>mark</i>"), "{vue}");
    let react = rendered("src/react/Shelf.tsx");
    assert!(react.contains("<section class=\"bench\"><p class=\"shelf\">Anagama C Shelf</p></section>"), "{react}");
    assert!(rendered("src/angular/shelf.ts").contains("Noborigama"));
    // Types are read through aliases, by the reader and by the compiler alike.
    let run = studio.run(&["survey", "src/vue/Shelf.vue"]);
    assert!(run.out.contains("\"C\" | \"F\""), "{}", run.out);
    // A contract's own surroundings stand within those of the project.
    let studio = studio
        .with("src/vue/Inner.vue", "<template><div class=\"inner\"><slot /></div></template>\n")
        .with(
            "src/vue/Shelf.contract.yaml",
            "component: ./Shelf.vue\nwrap: ./Inner.vue\nclauses:\n  - clause: it stands on its bench\n    expect:\n      - present: .bench > .inner > .shelf\n      - style: .shelf\n        property: color\n        is: rgb(1, 2, 3)\n",
        );
    let run = studio.run(&["check", "src"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    if studio::has_browser() {
        let run = studio.run(&["check", "src/vue/Shelf.vue", "--stage", "browser"]);
        assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    }
    // What the component itself leaves is told all the same.
    let studio = studio.with(
        "src/vue/Leaky.vue",
        "<script setup>\nimport { onMounted } from 'vue'\nonMounted(() => addEventListener('resize', () => {}))\n</script>\n<template><p>leaks</p></template>\n",
    );
    let run = studio.run(&["check", "src/vue/Leaky.vue"]);
    assert!(run.code == 1 && run.out.contains("render/leaves-nothing") && run.out.contains("1 listener on the window"), "{}", run.out);
    std::fs::remove_file(studio.path("src/vue/Leaky.vue")).expect("removed");
    // Another meaning of an alias is heeded at once, whatever was kept.
    let studio = studio
        .with("fidelon.toml", SETTINGS.replace("src/studio", "src/other"))
        .with("src/other/kilns.ts", "export const kiln = 'Raku'\nexport interface Dial { unit: 'K' }\n");
    let run = studio.run(&["render", "src/vue/Shelf.vue", "--as", "raw"]);
    assert!(run.out.contains("Raku Noborigama Celadon words of shelf K"), "{}{}", run.out, run.err);
}

#[test]
fn what_is_wrong_with_it_is_told_at_its_place() {
    let studio = project();
    let told = |from: &str, to: &str| {
        assert!(SETTINGS.contains(from), "{from}");
        std::fs::write(studio.path("fidelon.toml"), SETTINGS.replacen(from, to, 1)).expect("written");
        let run = studio.run(&["check", "src/react"]);
        assert_eq!(run.code, 2, "{from} → {to}: {}", run.out);
        // Commands for one component say it too.
        assert_eq!(studio.run(&["render", "src/react/Shelf.tsx"]).code, 2, "{from} → {to}");
        run.out
    };
    let out = told("src/glazes.ts", "src/gone.ts");
    assert!(out.contains("fidelon.toml:4:12") && out.contains("no such file or folder"), "{out}");
    let out = told("test/react-setup.ts", "test/gone.ts");
    assert!(out.contains("fidelon.toml:14:9") && out.contains("test/gone.ts"), "{out}");
    let out = told("Bench.tsx#Bench", "Bench.tsx#Bank");
    assert!(out.contains("fidelon.toml:15:8") && out.contains("Bank"), "{out}");
    let out = told("in = \"src/react\"", "in = \"src/reakt\"");
    assert!(out.contains("fidelon.toml:13:6"), "{out}");
    let out = told("setup = \"test/vue", "set-up = \"test/vue");
    assert!(out.contains("set-up") && out.contains("docs/project.md"), "{out}");
    let out = told("\"@studio\" =", "\"./studio\" =");
    assert!(out.contains("cannot stand for a folder"), "{out}");
    // A set-up module of Vue that sets nothing up is told as what it is.
    std::fs::write(studio.path("fidelon.toml"), SETTINGS).expect("written");
    std::fs::write(studio.path("test/vue-setup.ts"), "export default { kiln: 1 }").expect("written");
    let run = studio.run(&["render", "src/vue/Shelf.vue"]);
    assert!(run.code != 0 && run.err.contains("export default (app) =>"), "{}{}", run.out, run.err);
}

#[test]
fn constants_that_a_build_puts_in_can_be_set_up() {
    let studio = Studio::new()
        .with("Sign.vue", "<script setup>\nconst version = __KILN_VERSION__\n</script>\n<template><p>{{ version }}</p></template>\n")
        .with("words.ts", "export const word = __KILN_WORD__ ? 'hot' : 'cold'\n")
        .with("Word.vue", "<script setup>\nimport { word } from './words'\n</script>\n<template><p>{{ word }}</p></template>\n");
    let run = studio.run(&["check", "Word.vue"]);
    assert!(run.code == 2 && run.out.contains("words.ts:1:") && run.out.contains("globalThis.__KILN_WORD__"), "{}", run.out);
    let studio = studio
        .with("fidelon.toml", "[[around]]\nin = \"\"\nsetup = \"start.ts\"\n")
        .with("start.ts", "Object.assign(globalThis, { __KILN_VERSION__: '1.2', __KILN_WORD__: true })\n");
    let run = studio.run(&["check", "Sign.vue", "Word.vue"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}
