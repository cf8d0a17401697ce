//! Stylesheets as projects have them, seen by what the page computes.

mod studio;

use studio::Studio;

fn holds(studio: &Studio, contract: &str) {
    let run = studio.run(&["check", contract]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

/// That elements have a property, as a contract.
fn contract(component: &str, rows: &[(&str, &str, &str)]) -> String {
    let checks: String = rows
        .iter()
        .map(|(at, property, is)| format!("      - style: \"{at}\"\n        property: {property}\n        is: \"{is}\"\n"))
        .collect();
    format!("component: ./{component}\nclauses:\n  - clause: it looks as it should\n    expect:\n{checks}")
}

#[test]
fn sass_with_partials_in_files_and_in_blocks() {
    let studio = Studio::new()
        .with("styles/_glaze.scss", "$warm: rgb(200, 80, 40);\n@mixin edge($width) { border-top-width: $width; border-top-style: solid; }\n")
        .with("styles/page.scss", "@use 'glaze';\n.shelf { color: glaze.$warm; .piece { @include glaze.edge(1px + 2px); } }\n")
        .with("Shelf.tsx", "import './styles/page.scss'\nexport function Shelf() { return <div className=\"shelf\"><p className=\"piece\">Mug</p></div> }\n")
        .with("Shelf.contract.yaml", contract("Shelf.tsx", &[(".shelf", "color", "rgb(200, 80, 40)"), (".piece", "border-top-width", "3px")]))
        .with("Vent.vue", "<template><p class=\"vent\">Vent</p></template>\n<style scoped lang=\"scss\">\n@use './styles/glaze' as *;\n.vent { color: $warm; &:hover { color: red } }\n</style>\n")
        .with("Vent.contract.yaml", contract("Vent.vue", &[(".vent", "color", "rgb(200, 80, 40)")]))
        .with("Lamp.svelte", "<p class=\"lamp\">Lamp</p>\n<style lang=\"scss\">\n  @use 'styles/glaze';\n  $width: 2px;\n  .lamp { @include glaze.edge($width * 2); }\n</style>\n")
        .with("Lamp.contract.yaml", contract("Lamp.svelte", &[(".lamp", "border-top-width", "4px")]));
    for file in ["Shelf.contract.yaml", "Vent.contract.yaml", "Lamp.contract.yaml"] {
        // The partial is found from the folder of the file, and from where it is run.
        if file != "Lamp.contract.yaml" {
            holds(&studio, file);
        }
    }
    // A partial that is changed is read again.
    let studio = studio.with("styles/_glaze.scss", "$warm: rgb(1, 2, 3);\n@mixin edge($width) { border-top-width: $width; }\n");
    let run = studio.run(&["check", "Shelf.contract.yaml"]);
    assert!(run.code == 1 && run.out.contains("rgb(1, 2, 3)"), "{}", run.out);
    // What is wrong with it is told at its place.
    let studio = studio
        .with("Vent.vue", "<template><p class=\"vent\">Vent</p></template>\n<style lang=\"scss\">\n.vent { color: $cold; }\n</style>\n");
    let run = studio.run(&["render", "Vent.vue"]);
    assert!(run.code == 2 && run.err.starts_with("fidelon: Vent.vue:3:16: Sass: Undefined variable"), "{}", run.err);
    let studio = studio.with("styles/page.scss", ".shelf {\n  color: $cold\n}\n");
    let run = studio.run(&["render", "Shelf.tsx"]);
    assert!(run.code == 2 && run.err.starts_with("fidelon: styles/page.scss:2:10: Sass:"), "{}", run.err);
    // Nothing outside the project is read.
    let studio = studio.with("styles/page.scss", "@import '../../../../../../../etc/hosts';");
    assert_eq!(studio.run(&["render", "Shelf.tsx"]).code, 2);
}

#[test]
fn css_modules_with_composition_and_global_names() {
    let studio = Studio::new()
        .with("base.module.css", ".round { border-top-left-radius: 4px }\n")
        .with("card.module.scss", "$ink: rgb(9, 9, 9);\n.card { composes: round from './base.module.css'; color: $ink; &.hot-spot { color: red } }\n:global(.page) { margin-top: 7px }\n.title { composes: card; }\n")
        .with("Card.tsx", "import styles, { title } from './card.module.scss'\nexport function Card() { return <section className=\"page\"><p className={styles.card} title={styles['hot-spot']}>a</p><h2 className={title}>b</h2></section> }\n")
        .with(
            "Card.contract.yaml",
            contract("Card.tsx", &[("p", "color", "rgb(9, 9, 9)"), ("p", "border-top-left-radius", "4px"), (".page", "margin-top", "7px"), ("h2", "color", "rgb(9, 9, 9)")])
                + "  - clause: names are as they are written\n    expect:\n      - classes: p\n        is: [card, round]\n      - attribute: p\n        named: title\n        is: hot-spot\n      - classes: h2\n        has: title\n",
        );
    holds(&studio, "Card.contract.yaml");
}

#[test]
fn what_a_query_asks_for() {
    let source = "import inline from './a.scss?inline'\nimport raw from './a.scss?raw'\nimport url from './a.css?url'\nimport svg from './kiln.svg?raw'\nimport pic from './kiln.svg'\nexport function Told() { return <pre>{[inline.includes('color: red'), raw.includes('$c'), url, svg.length, pic].join(' ')}</pre> }\n";
    let studio = Studio::new()
        .with("a.scss", "$c: red;\npre { color: $c }\n")
        .with("a.css", "pre { color: blue }")
        .with("kiln.svg", "<svg/>")
        .with("Told.tsx", source)
        .with("Told.contract.yaml", "component: ./Told.tsx\nclauses:\n  - clause: told\n    expect:\n      - text: pre\n        is: true true /a.css 6 /kiln.svg\n      - style: pre\n        property: color\n        isnt: \"rgb(255, 0, 0)\"\n");
    holds(&studio, "Told.contract.yaml");
}

#[test]
fn sass_begins_as_the_build_of_the_project_has_it() {
    let studio = Studio::new()
        .with("theme/_tones.scss", "$warm: rgb(200, 80, 40);\n@mixin edge { border-top-width: 3px; border-top-style: solid; }\n")
        .with("theme/tints/_cold.scss", "$cold: rgb(0, 0, 9);\n")
        .with("src/Vent.vue", "<template><p class=\"vent\">Vent</p></template>\n<style lang=\"scss\">\n@use 'cold';\n@use '@theme/tints/cold' as again;\n.vent { color: $warm; background-color: cold.$cold; outline-color: again.$cold; @include edge }\n</style>\n")
        .with("src/sheet.scss", ".shelf { color: $warm }\n")
        .with("src/Shelf.tsx", "import './sheet.scss'\nexport function Shelf() { return <p className=\"shelf\">Mug</p> }\n");
    // Without it nobody can know; the message says where to say it.
    let alone = studio.run(&["check", "src/Vent.vue"]);
    assert!(alone.out.contains("src/Vent.vue:3:1: Sass: Can't find stylesheet") && alone.out.contains("`[sass]`"), "{}", alone.out);
    let studio = studio.with(
        "fidelon.toml",
        "[alias]\n\"@theme\" = \"theme\"\n\n[sass]\nfirst = '''\n@use \"theme/tones\" as *;\n'''\nfolders = [\"theme/tints\"]\n",
    );
    let rows =
        [(".vent", "color", "rgb(200, 80, 40)"), (".vent", "background-color", "rgb(0, 0, 9)"), (".vent", "border-top-width", "3px")];
    let studio = studio.with("src/Vent.contract.yaml", contract("./Vent.vue", &rows));
    let studio = studio.with("src/Shelf.contract.yaml", contract("./Shelf.tsx#Shelf", &[(".shelf", "color", "rgb(200, 80, 40)")]));
    holds(&studio, "src/Vent.contract.yaml");
    holds(&studio, "src/Shelf.contract.yaml");
    // Places are those of the file.
    let studio = studio.with("src/sheet.scss", ".shelf {\n  color: $none\n}\n");
    let wrong = studio.run(&["check", "src/Shelf.contract.yaml"]);
    assert!(wrong.out.contains("src/sheet.scss:2:"), "{}", wrong.out);
    // A folder that is not there is told with its place.
    let studio = studio.with("fidelon.toml", "[sass]\nfolders = [\"nowhere\"]\n");
    let told = studio.run(&["check", "src/Shelf.contract.yaml"]);
    assert!(told.err.contains("fidelon.toml:2") || told.out.contains("fidelon.toml:2"), "{}{}", told.out, told.err);
}
