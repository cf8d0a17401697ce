//! Modules that the build of an application makes: no file has them, and every component of such an application may import them. Here
//! they are files that stand where a package of their name would be installed, with what a stage can do of them.
//!
//! SvelteKit's are `$app/…` and `$env/…/public`; `$lib` is a folder, which the project's own tsconfig names once the build has run.

use std::path::{Path, PathBuf};

use crate::{Bounds, Files as _, ProjectFiles};

macro_rules! of_svelte_kit {
    ($($name:literal),*) => { &[$(($name, include_str!(concat!("../js/svelte-kit/", $name, ".js")))),*] };
}

/// The modules of `$app`, by name. `page` is what the others share.
const APP: &[(&str, &str)] = of_svelte_kit!("environment", "forms", "navigation", "page", "paths", "state", "stores");

/// Where variables of the environment are written, the later before the earlier; a fresh clone has the example alone.
const VARIABLES: [&str; 5] = [".env.example", ".env", ".env.local", ".env.development", ".env.development.local"];

/// What the names of variables begin with that a page may know.
const PUBLIC: &str = "PUBLIC_";

/// The file that `specifier` means in the file `from`, if the build makes it: `$app/state` → `/studio/node_modules/$app/state.js`.
pub fn path_of(from: &Path, specifier: &str) -> Option<PathBuf> {
    if let Some(name) = specifier.strip_prefix("./") {
        let beside = from.with_file_name(name);
        return (text_of(from).is_some() && text_of(&beside).is_some()).then_some(beside);
    }
    let known = match specifier.split_once('/')? {
        ("$app", name) => name != "page" && APP.iter().any(|(known, _)| *known == name),
        ("$env", name) => matches!(name, "static/public" | "dynamic/public"),
        _ => false,
    };
    known.then(|| Some(project_of(from)?.join("node_modules").join(format!("{specifier}.js")))).flatten()
}

/// The path that `$lib/…` means in the file `from`, where its project has that folder.
pub fn library(from: &Path, specifier: &str) -> Option<PathBuf> {
    let rest = specifier.strip_prefix("$lib")?;
    if !rest.is_empty() && !rest.starts_with('/') {
        return None;
    }
    let folder = project_of(from)?.join("src/lib");
    folder.is_dir().then(|| folder.join(rest.trim_start_matches('/')))
}

/// The text of a file that the build makes.
pub(crate) fn text_of(path: &Path) -> Option<String> {
    let (project, name) = path.to_str()?.split_once("/node_modules/$")?;
    match name.strip_suffix(".js")?.split_once('/')? {
        ("app", name) => APP.iter().find(|(known, _)| *known == name).map(|(_, text)| (*text).to_owned()),
        ("env", "static/public") => {
            Some(variables(Path::new(project)).iter().map(|(n, v)| format!("export const {n} = {v:?};\n")).collect())
        }
        ("env", "dynamic/public") => {
            let all: Vec<_> = variables(Path::new(project)).iter().map(|(n, v)| format!("{n}: {v:?}")).collect();
            Some(format!("export const env = {{ {} }};\n", all.join(", ")))
        }
        _ => None,
    }
}

/// The folder of the project that a file belongs to: that of the application where it is a package's.
fn project_of(from: &Path) -> Option<PathBuf> {
    let own = from.to_str()?.split_once("/node_modules/").map_or(from, |(above, _)| Path::new(above));
    let is_root = |folder: &&Path| folder.join("package.json").is_file() || folder.join("node_modules").is_dir();
    own.ancestors().skip(usize::from(own == from)).find(is_root).map(Path::to_path_buf)
}

/// The public variables of a project by name. A file that leads out of the project, or is none that ends, has none.
fn variables(project: &Path) -> Vec<(String, String)> {
    let mut out: Vec<(String, String)> = Vec::new();
    let files = ProjectFiles(Bounds::of(&[project]));
    for text in VARIABLES.iter().filter_map(|file| files.read(&project.join(file)).ok()) {
        for (name, value) in text.lines().filter_map(|line| line.trim().trim_start_matches("export ").split_once('=')) {
            let name = name.trim();
            if name.starts_with(PUBLIC) && name.chars().all(|c| c.is_ascii_alphanumeric() || c == '_') {
                out.retain(|(other, _)| other != name);
                out.push((name.to_owned(), value.trim().trim_matches(['"', '\'', '`']).to_owned()));
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bytes_of;

    #[test]
    fn what_a_build_makes_lies_where_a_package_would() {
        let studio = tempfile::tempdir().expect("made");
        let root = studio.path();
        std::fs::create_dir_all(root.join("src/lib")).expect("made");
        std::fs::write(root.join("package.json"), "{}").expect("written");
        std::fs::write(root.join(".env.example"), "PUBLIC_KILN=north\nSECRET=1\nPUBLIC_UNIT = \"C\"").expect("written");
        std::fs::write(root.join(".env"), "# of this machine\nexport PUBLIC_KILN='south'\n").expect("written");
        let dial = root.join("src/routes/Dial.svelte");
        let installed = root.join("node_modules/@studio/dials/dist/Dial.svelte");
        let text = |specifier: &str| {
            let path = path_of(&dial, specifier)?;
            assert_eq!(Some(&path), path_of(&installed, specifier).as_ref(), "a package's is that of the application");
            Some(String::from_utf8(bytes_of(&path).expect("it is read as a file is")).expect("text"))
        };
        for name in ["environment", "forms", "navigation", "paths", "state", "stores"] {
            assert!(text(&format!("$app/{name}")).is_some_and(|text| text.contains("export ")), "{name}");
        }
        assert_eq!(
            text("$env/static/public").as_deref(),
            Some("export const PUBLIC_UNIT = \"C\";\nexport const PUBLIC_KILN = \"south\";\n")
        );
        assert_eq!(text("$env/dynamic/public").as_deref(), Some("export const env = { PUBLIC_UNIT: \"C\", PUBLIC_KILN: \"south\" };\n"));
        #[cfg(unix)]
        {
            let elsewhere = tempfile::tempdir().expect("made");
            std::fs::write(elsewhere.path().join("keys"), "PUBLIC_KEY=1").expect("written");
            std::os::unix::fs::symlink(elsewhere.path().join("keys"), root.join(".env.local")).expect("linked");
            assert!(!text("$env/static/public").is_some_and(|text| text.contains("PUBLIC_KEY")), "nothing outside of the project is read");
        }
        let state = path_of(&dial, "$app/state").expect("it is made");
        assert_eq!(path_of(&state, "./page.js"), Some(state.with_file_name("page.js")), "they share what no other sees");
        for of_others in ["$app/page", "$app/server", "$env/static/private", "$apps/state", "vue", "./$app/state"] {
            assert_eq!(path_of(&dial, of_others), None, "{of_others}");
        }
        assert!(bytes_of(&root.join("node_modules/$app/server.js")).is_err());
        assert_eq!(library(&dial, "$lib/glaze.js"), Some(root.join("src/lib/glaze.js")));
        assert_eq!(library(&dial, "$library/glaze.js"), None);
    }
}
