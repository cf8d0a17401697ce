//! What an application or a parent of the project puts around a component is put around it here, without a word of configuration.

mod studio;

use serde_json::Value as Json;
use studio::{Studio, has_browser, passed_over, stages};

fn component<'r>(results: &'r Json, name: &str) -> &'r Json {
    let all = results["components"].as_array().expect("components");
    all.iter().find(|c| c["component"] == name).unwrap_or_else(|| panic!("{name}: {results:#}"))
}

fn notes(component: &Json) -> String {
    component["notes"].as_array().expect("notes").iter().filter_map(Json::as_str).collect::<Vec<_>>().join("\n")
}

/// An application of Vue with a plugin, a component and a directive for all, and a store that is provided.
fn of_vue() -> Studio {
    Studio::new()
        .with("index.html", "<!doctype html><div id=app></div><script type=\"module\" src=\"/src/main.ts\"></script>")
        .with(
            "src/main.ts",
            "import './gone-by-a-plugin.css'\nimport { createApp, ref } from 'vue'\nimport App from './App.vue'\nimport KilnMark from './KilnMark.vue'\nimport { words } from './words'\n\
             const app = createApp(App)\napp.use(words, { hello: 'Welcome' })\napp.component('KilnMark', KilnMark).directive('warm', { mounted: (el: HTMLElement) => el.classList.add('warm') })\n\
             app.provide('heat', ref(600))\nconst ready = await Promise.resolve(1)\napp.mount('#app')\n",
        )
        .with(
            "src/words.ts",
            "import type { App } from 'vue'\nexport const words = { install(app: App, all: Record<string, string>) { app.config.globalProperties.$word = (key: string) => all[key] ?? key } }\n",
        )
        .with("src/App.vue", "<template><main><Greeting name=\"x\" /></main></template>\n<script setup>\nimport Greeting from './Greeting.vue'\n</script>")
        .with("src/KilnMark.vue", "<template><i><slot /></i></template>")
        .with(
            "src/Greeting.vue",
            "<script setup lang=\"ts\">\ndefineProps<{ name: string }>()\n</script>\n<template><p v-warm><KilnMark>{{ $word('hello') }}</KilnMark> {{ name }}</p></template>",
        )
        .with(
            "src/Dial.vue",
            "<script setup lang=\"ts\">\nimport { inject, type Ref } from 'vue'\nconst heat = inject<Ref<number>>('heat')!\nconst props = defineProps<{ unit: 'C' | 'F' }>()\nconst shown = props.unit\n</script>\n<template><b>{{ heat.value }} {{ shown }}</b></template>",
        )
        .with("src/Plain.vue", "<template><p>Plain</p></template>")
}

#[test]
fn an_application_of_vue_is_set_up_as_its_main_script_does() {
    let results = of_vue().results(&["src"]);
    for name in ["src/Greeting.vue", "src/App.vue"] {
        let one = component(&results, name);
        assert_eq!(one["verdict"], "holds", "{one:#}");
        assert!(notes(one).contains("judged within what `src/main.ts` puts around it"), "{one:#}");
    }
    let dial = component(&results, "src/Dial.vue");
    assert_eq!(dial["findings"][0]["rule"], "prop/live", "what is wrong with it is found all the same: {dial:#}");
    let plain = component(&results, "src/Plain.vue");
    assert_eq!((&plain["verdict"], notes(plain).as_str()), (&Json::from("holds"), ""), "nothing is put around what asks for nothing");
}

/// Names that a project's build imports, as it declares them for the type checker.
#[test]
fn what_a_build_imports_is_imported() {
    let scripts = "export {}\ndeclare global {\n  const ref: typeof import('vue')['ref']\n  const computed: typeof import('vue')['computed']\n  \
                   const useHeat: typeof import('./src/heat')['useHeat']\n}\n";
    let tags =
        "declare module 'vue' {\n  export interface GlobalComponents {\n    KilnMark: typeof import('./KilnMark.vue')['default']\n  }\n}\n";
    let dial = "<script setup lang=\"ts\">\nconst props = defineProps<{ step: number }>()\nconst heat = useHeat()\nconst shown = computed(() => heat.value + props.step)\n\
                const raise = () => { heat.value += props.step }\n</script>\n<template><kiln-mark>{{ shown }}</kiln-mark><button @click=\"raise\">Raise</button></template>\n";
    let contract = "component: ./Dial.vue\nprops: { step: [5, 10] }\nclauses:\n  - clause: it is raised\n    where: step == 5\n    do: [{ press: button }]\n    expect: [{ text: mark, is: '610' }]\n";
    let bare = || {
        Studio::new()
            .with("package.json", "{}")
            .with("src/heat.ts", "export const useHeat = () => ref(600)")
            .with("src/KilnMark.vue", "<template><mark><slot /></mark></template>")
            .with("src/Dial.vue", dial)
            .with("src/Dial.contract.yaml", contract)
    };
    let studio = bare().with("auto-imports.d.ts", scripts).with("src/components.d.ts", tags);
    for stage in stages() {
        let results = studio.results(&["src", "--stage", stage, "--effort", "quick"]);
        for name in ["src/Dial.vue", "src/KilnMark.vue"] {
            let one = component(&results, name);
            assert_eq!(one["verdict"], "holds", "{stage}: {one:#}");
        }
    }
    // Without the declarations the names come from nowhere; once the build has written them, what was kept is made anew.
    let studio = bare();
    let alone = studio.results(&["src/Dial.vue"]);
    let finding = &component(&alone, "src/Dial.vue")["findings"][0];
    assert!(finding.to_string().contains("useHeat is not defined"), "{alone:#}");
    let studio = studio.with("auto-imports.d.ts", scripts).with("src/components.d.ts", tags);
    assert_eq!(component(&studio.results(&["src/Dial.vue"]), "src/Dial.vue")["verdict"], "holds");
}

#[test]
fn the_same_in_a_browser() {
    if !has_browser() {
        return passed_over("no browser");
    }
    let studio = of_vue();
    let results = studio.results(&["src/Greeting.vue", "--stage", "browser"]);
    let one = component(&results, "src/Greeting.vue");
    assert_eq!(one["verdict"], "holds", "{one:#}");
    assert!(notes(one).contains("judged within what `src/main.ts` puts around it"), "{one:#}");
}

/// What asked in vain is asked again: what it needs may have been added since.
#[test]
fn what_is_added_later_is_seen() {
    let word = "<template><p>{{ $word('hello') }}</p></template>";
    let studio = Studio::new().with("package.json", "{}").with("src/Word.vue", word);
    let before = studio.results(&["src"]);
    assert_ne!(component(&before, "src/Word.vue")["verdict"], "holds", "{before:#}");
    let studio = studio.with(
        "src/main.ts",
        "import { createApp } from 'vue'\nimport Word from './Word.vue'\nconst app = createApp(Word)\napp.config.globalProperties.$word = (key: string) => key\napp.mount('#app')\n",
    );
    let after = studio.results(&["src"]);
    // The root component is the application's own: what is done to that counts for it all the same.
    assert_eq!(component(&after, "src/Word.vue")["verdict"], "holds", "{after:#}");
}

#[test]
fn a_main_script_that_changes_is_asked_again() {
    let studio = of_vue();
    assert_eq!(component(&studio.results(&["src"]), "src/Greeting.vue")["verdict"], "holds");
    let main = "import { createApp } from 'vue'\nimport App from './App.vue'\ncreateApp(App).mount('#app')\n";
    let results = studio.with("src/main.ts", main).results(&["src"]);
    let greeting = component(&results, "src/Greeting.vue");
    assert_ne!(greeting["verdict"], "holds", "{greeting:#}");
}

#[test]
fn a_main_script_that_cannot_run_costs_nothing() {
    let main = "import { createApp } from 'vue'\nimport App from './App.vue'\nimport { gone } from './gone'\ncreateApp(App).use(gone).mount('#app')\n";
    let results = of_vue().with("src/main.ts", main).results(&["src"]);
    let dial = component(&results, "src/Dial.vue");
    assert_eq!(dial["verdict"], "unjudged", "{dial:#}");
    assert!(dial["reason"]["message"].as_str().is_some_and(|m| m.contains("injection \"heat\" not found")), "{dial:#}");
    assert!(notes(dial).contains("tried within what `src/main.ts` puts around it") && notes(dial).contains("gone"), "{dial:#}");
    assert_eq!(component(&results, "src/Plain.vue")["verdict"], "holds");
}

#[test]
fn providers_of_a_react_application_stand_around_what_asks_for_them() {
    let studio = Studio::new()
        .with(
            "src/main.tsx",
            "import { StrictMode } from 'react'\nimport { createRoot } from 'react-dom/client'\nimport App from './App'\nimport { Kiln, kiln } from './kiln'\n\
             const root = createRoot(document.getElementById('root')!)\nroot.render(<StrictMode><Kiln.Provider value={kiln}><App /></Kiln.Provider></StrictMode>)\n",
        )
        .with(
            "src/kiln.ts",
            "import { createContext, useContext } from 'react'\nexport const kiln = { heat: 600 }\nexport const Kiln = createContext<typeof kiln | null>(null)\nexport const useKiln = () => useContext(Kiln)!\n",
        )
        .with(
            "src/glaze.tsx",
            "import { createContext, useContext, useState, type ReactNode } from 'react'\nconst Glaze = createContext<{ name: string; next(): void } | null>(null)\n\
             function GlazeProvider({ children }: { children: ReactNode }) { const [name, set] = useState('ash'); return <Glaze.Provider value={{ name, next: () => set('shino') }}>{children}</Glaze.Provider> }\n\
             export { GlazeProvider as Glazed }\nexport function useGlaze() { const glaze = useContext(Glaze); if (!glaze) throw new Error('there is no glaze here'); return glaze }\n",
        )
        .with(
            "src/App.tsx",
            "import { Glazed as Provider } from './glaze'\nimport { Tile } from './Tile'\nexport default function App() { return <Provider><Tile label=\"x\" /></Provider> }\n",
        )
        .with(
            "src/Tile.tsx",
            "import { useGlaze } from './glaze'\nimport { useKiln } from './kiln'\nexport function Tile({ label }: { label: string }) { const { name, next } = useGlaze(); return <button onClick={next}>{label} {name} {useKiln().heat}</button> }\n",
        );
    let results = studio.results(&["src/Tile.tsx"]);
    let tile = component(&results, "src/Tile.tsx#Tile");
    assert_eq!(tile["verdict"], "holds", "{tile:#}");
    assert!(notes(tile).contains("`src/main.tsx`") && notes(tile).contains("`src/App.tsx`"), "{tile:#}");
}

#[test]
fn a_part_is_judged_within_the_parent_that_it_names() {
    let item = "<script setup lang=\"ts\">\nimport { inject } from 'vue'\nconst shelf = inject<{ tall: boolean } | null>('shelf', null)\nif (!shelf) throw new Error('A part must be used within `ShelfRoot`')\n\
                const props = defineProps<{ label: string; stale?: string }>()\nconst kept = props.stale\n</script>\n<template><li :class=\"{ tall: shelf.tall }\">{{ label }} {{ kept }}</li></template>";
    let root = "<script setup lang=\"ts\">\nimport { provide } from 'vue'\nconst props = defineProps<{ open?: boolean; size: 'small' | 'large' }>()\nprovide('shelf', { tall: props.size === 'large' })\n</script>\n\
                <template><ul v-if=\"open\"><slot /></ul></template>";
    let shut = "<script setup lang=\"ts\">\nimport { inject } from 'vue'\nif (!inject('box', null)) throw new Error('must be used within `BoxRoot`')\ndefineProps<{ label: string }>()\n</script>\n<template><b>{{ label }}</b></template>";
    let box_root = "<script setup lang=\"ts\">\nimport { provide, ref } from 'vue'\nprovide('box', {})\nconst lifted = ref(false)\n</script>\n<template><div><slot v-if=\"lifted\" /></div></template>";
    let studio = Studio::new()
        .with("src/shelf/ShelfItem.vue", item)
        .with("src/shelf/ShelfRoot.vue", root)
        .with("src/box/BoxPart.vue", shut)
        .with("src/box/BoxRoot.vue", box_root);
    let results = studio.results(&["src"]);
    let item = component(&results, "src/shelf/ShelfItem.vue");
    assert!(notes(item).contains("judged within `src/shelf/ShelfRoot.vue`"), "{item:#}");
    let broken: Vec<&str> = item["findings"].as_array().expect("findings").iter().filter_map(|f| f["about"].as_str()).collect();
    assert_eq!(broken, ["stale"], "{item:#}");
    let shut = component(&results, "src/box/BoxPart.vue");
    assert_eq!(shut["verdict"], "unjudged", "what its parent does not show holds nothing: {shut:#}");
    assert!(notes(shut).contains("within its parent it is not shown"), "{shut:#}");
}

#[test]
fn a_part_of_react_is_judged_within_the_component_that_gives_its_context() {
    let source = "import { createContext, useContext, type ReactNode } from 'react'\nconst Rack = createContext<{ pick(name: string): void } | null>(null)\n\
                  export function RackRoot({ children, onPick }: { children?: ReactNode; onPick?: (name: string) => void }) { return <Rack.Provider value={{ pick: (name) => onPick?.(name) }}><ul>{children}</ul></Rack.Provider> }\n\
                  export function RackItem({ name }: { name: string }) { const { pick } = useContext(Rack)!; return <li><button onClick={() => pick(name)}>{name}</button></li> }\n";
    let results = Studio::new().with("src/rack.tsx", source).results(&["src"]);
    let item = component(&results, "src/rack.tsx#RackItem");
    assert_eq!(item["verdict"], "holds", "{item:#}");
    assert!(notes(item).contains("judged within `src/rack.tsx#RackRoot`"), "{item:#}");
}

#[test]
fn providers_of_solid_and_preact_do_as_well() {
    let mug = |package: &str| {
        format!(
            "/** @jsxImportSource {package} */\nimport {{ createContext }} from '{package}'\nimport {{ useContext }} from '{}'\nexport const Heat = createContext()\nexport const Glow = () => {{ const heat = useContext(Heat); return <b>{{heat.degrees}}</b> }}\n",
            if package == "preact" { "preact/hooks" } else { package }
        )
    };
    let main = |package: &str, renders: &str| {
        format!(
            "/** @jsxImportSource {package} */\nimport {{ render }} from '{package}{}'\nimport {{ Heat }} from './Glow'\nimport App from './App'\n{renders}",
            if package == "solid-js" { "/web" } else { "" }
        )
    };
    for (package, renders) in [
        ("solid-js", "render(() => <Heat.Provider value={{ degrees: 600 }}><App /></Heat.Provider>, document.getElementById('root'))\n"),
        ("preact", "render(<Heat.Provider value={{ degrees: 600 }}><App /></Heat.Provider>, document.getElementById('root'))\n"),
    ] {
        let studio = Studio::new()
            .with("src/Glow.jsx", mug(package))
            .with("src/App.jsx", format!("/** @jsxImportSource {package} */\nexport default function App() {{ return <main /> }}\n"))
            .with("src/main.jsx", main(package, renders));
        let results = studio.results(&["src/Glow.jsx"]);
        let glow = component(&results, "src/Glow.jsx#Glow");
        assert_eq!(glow["verdict"], "holds", "{package}: {glow:#}");
        assert!(notes(glow).contains("`src/main.jsx`"), "{package}: {glow:#}");
    }
}
