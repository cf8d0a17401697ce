//! A project whose packages lie in archives and are told by a table, as Yarn's Plug'n'Play installs them: nothing is in `node_modules`.

mod studio;

use std::io::Write as _;
use std::path::{Path, PathBuf};

use serde_json::{Value as Json, json};
use studio::{Studio, has_browser, kit};
use zip::write::SimpleFileOptions;

/// The folders of the packages in `node_modules`, with their names.
fn packages(modules: &Path) -> Vec<(String, PathBuf)> {
    let below = |folder: &Path| -> Vec<PathBuf> {
        let mut found: Vec<PathBuf> = folder.read_dir().expect("listed").flatten().map(|e| e.path()).filter(|p| p.is_dir()).collect();
        found.sort();
        found
    };
    let name = |path: &Path| path.strip_prefix(modules).expect("below it").to_string_lossy().into_owned();
    let is_scope = |path: &PathBuf| name(path).starts_with('@');
    below(modules).into_iter().flat_map(|p| if is_scope(&p) { below(&p) } else { vec![p] }).map(|p| (name(&p), p)).collect()
}

fn add(archive: &mut zip::ZipWriter<std::fs::File>, within: &str, folder: &Path) {
    for entry in folder.read_dir().expect("listed").flatten() {
        let name = format!("{within}/{}", entry.file_name().to_string_lossy());
        if entry.path().is_dir() {
            add(archive, &name, &entry.path());
        } else {
            archive.start_file(name, SimpleFileOptions::default()).expect("begun");
            archive.write_all(&std::fs::read(entry.path()).expect("read")).expect("written");
        }
    }
}

/// Puts a package into an archive; gives what the table tells of it.
fn archived(studio: &Studio, called: &str, name: &str, folder: &Path, dependencies: &[Json]) -> Json {
    let file = format!("{}.zip", called.replace('/', "-"));
    let mut archive = zip::ZipWriter::new(std::fs::File::create(studio.path(".yarn/cache").join(&file)).expect("made"));
    add(&mut archive, &format!("node_modules/{name}"), folder);
    archive.finish().expect("finished");
    let place = if name == "react-dom" { "__virtual__/react-dom-virtual-1a2b/0/cache" } else { "cache" };
    let location = format!("./.yarn/{place}/{file}/node_modules/{name}/");
    json!({ "packageLocation": location, "packageDependencies": dependencies, "linkType": "HARD" })
}

/// Every package goes into an archive of its own; each may use all the others. One is asked for through a virtual folder, as a package
/// with peers is.
fn pack(studio: &Studio) {
    let modules = studio.path("node_modules");
    let packages = packages(&modules);
    std::fs::create_dir_all(studio.path(".yarn/cache")).expect("made");
    let all: Vec<_> = packages.iter().map(|(name, _)| json!([name, "npm:1.0.0"])).collect();
    let mut registry = vec![json!([null, [[null, { "packageLocation": "./", "packageDependencies": all, "linkType": "SOFT" }]]])];
    for (name, folder) in &packages {
        // A version of its own that a package has within it.
        let own = Some(folder.join("node_modules")).filter(|f| f.is_dir()).map(|f| self::packages(&f)).unwrap_or_default();
        let reference = format!("npm:1.0.0-in-{name}");
        let told: Vec<_> = own.iter().map(|(inner, _)| json!([inner, reference])).collect();
        let others = all.iter().filter(|dependency| !own.iter().any(|(inner, _)| dependency[0] == **inner)).cloned();
        let dependencies: Vec<_> = others.chain(told).collect();
        for (inner, folder) in &own {
            registry.push(json!([inner, [[reference, archived(studio, &format!("{name}-{inner}"), inner, folder, &dependencies)]]]));
        }
        registry.push(json!([name, [["npm:1.0.0", archived(studio, name, name, folder, &dependencies)]]]));
    }
    let table = json!({
        "__info": [], "dependencyTreeRoots": [{ "name": "studio", "reference": "workspace:." }], "enableTopLevelFallback": true,
        "ignorePatternData": null, "fallbackExclusionList": [], "fallbackPool": [], "packageRegistryData": registry,
    });
    let text = format!("const RAW_RUNTIME_STATE =\n'{}';\n", table.to_string().replace('\'', "\\'"));
    std::fs::write(studio.path(".pnp.cjs"), text).expect("written");
    std::fs::remove_dir_all(modules).expect("removed");
}

/// One of each framework whose packages or compilers are read out of archives.
const KIT: [&str; 9] = [
    "vue/VentSwitch.vue",
    "react/VentSwitch.tsx",
    "svelte/VentSwitch.svelte",
    "solid/VentSwitch.tsx",
    "solid/tsconfig.json",
    "preact/VentSwitch.tsx",
    "preact/tsconfig.json",
    "angular/vent-switch.ts",
    "contracts/VentSwitch.contract.yaml",
];

fn studio() -> Studio {
    let studio = KIT.into_iter().fold(Studio::new(), |studio, file| studio.with(file, kit(file)));
    let contract = kit("contracts/VentSwitch.contract.yaml").replace("  - ../elements/VentSwitch.js\n", "");
    let studio = studio.with("contracts/VentSwitch.contract.yaml", contract);
    pack(&studio);
    studio
}

#[test]
fn packages_are_read_out_of_their_archives() {
    let studio = studio();
    let run = studio.run(&["check"]);
    assert!(run.code == 0 && run.out.contains("6 components: 6 hold"), "{}{}", run.out, run.err);
    // What was kept counts as long as the archives are the same.
    let again = studio.run(&["check", "--verbose"]);
    assert!(again.err.contains("6 unchanged"), "{}{}", again.out, again.err);
    // From the folder above, too: the table is found by the file that asks.
    let above = studio.path(".").canonicalize().expect("there");
    let name = above.file_name().expect("named").to_string_lossy().into_owned();
    let run = studio.run_in("..", &["check", &format!("{name}/vue"), &format!("{name}/react")]);
    assert!(run.code == 0 && run.out.contains("2 components: 2 hold"), "{}{}", run.out, run.err);
}

#[test]
fn what_the_table_does_not_tell_is_not_installed() {
    let studio = studio().with("src/Lost.tsx", "import x from 'glazes'\nexport default function Lost() { return <p>{x}</p> }");
    let run = studio.run(&["check", "src"]);
    let told = run.out.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(run.code != 0 && told.contains("`glazes` is not installed") && told.contains("`yarn add glazes`"), "{told}{}", run.err);
    std::fs::write(studio.path(".pnp.cjs"), "module.exports = {}").expect("written");
    let run = studio.run(&["check", "vue"]);
    let told = run.out.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(told.contains("`.pnp.cjs`, cannot be read: run `yarn install`"), "{told}{}", run.err);
}

#[test]
fn a_virtual_folder_leads_no_further_than_the_project() {
    let outside = tempfile::tempdir().expect("a temporary folder");
    let secret = outside.path().canonicalize().expect("there").join("secret.json");
    std::fs::write(&secret, "{ \"word\": \"raku-1260\" }").expect("written");
    let studio = studio();
    let depth = studio.path(".").canonicalize().expect("there").components().count();
    let spy = |depth: usize| {
        let source = format!("import told from './__virtual__/a/{depth}{}'", secret.to_string_lossy());
        format!("{source}\nexport default function Spy() {{ return <p>{{told.word}}</p> }}")
    };
    let studio = studio.with("Spy.tsx", spy(depth - 1)).with("Nearer.tsx", spy(depth - 2)).with("Further.tsx", spy(depth));
    for file in ["Spy.tsx", "Nearer.tsx", "Further.tsx"] {
        let run = studio.run(&["render", file]);
        assert!(run.code != 0 && !run.out.contains("raku"), "{file}: {}{}", run.out, run.err);
    }
    let run = studio.run(&["render", "Spy.tsx"]);
    assert!(run.err.contains("lies outside the project"), "{}{}", run.out, run.err);
}

#[test]
fn a_browser_gets_them_too() {
    if !has_browser() {
        return;
    }
    let run = studio().run(&["check", "vue", "react", "--stage", "browser"]);
    assert!(run.code == 0 && run.out.contains("2 components: 2 hold"), "{}{}", run.out, run.err);
}
