//! What shells complete by and what `man` shows, of every command.

mod studio;

use studio::Studio;

#[test]
fn licences_of_all_that_is_carried_are_told() {
    let told = Studio::empty().run(&["licences"]);
    assert_eq!(told.code, 0, "{}", told.err);
    // A crate, a crate under a licence that asks for its text, the fonts, a package of the demo.
    for of in ["serde ", "lightningcss ", "DejaVu fonts ", "svelte 5."] {
        assert!(told.out.lines().any(|line| line.starts_with(of)), "{of}");
    }
    assert!(told.out.contains("Mozilla Public License Version 2.0") && told.out.contains("Bitstream Vera"));
}

#[test]
fn shells_and_man_are_told_of_every_command() {
    let studio = Studio::empty();
    let help = studio.run(&["--help"]).out;
    let commands: Vec<&str> = help
        .lines()
        .skip_while(|l| *l != "Commands:")
        .skip(1)
        .take_while(|l| !l.is_empty())
        .filter(|l| l.starts_with("  ") && !l.starts_with("   "))
        .filter_map(|l| l.split_whitespace().next())
        .collect();
    assert!(commands.len() > 12 && commands.contains(&"serve"), "{commands:?}");
    for shell in ["bash", "zsh", "fish"] {
        let run = studio.run(&["completions", shell]);
        assert_eq!(run.code, 0, "{}", run.err);
        for command in &commands {
            assert!(run.out.contains(command), "{shell}: {command}");
        }
    }
    assert!(studio.run(&["manual"]).out.starts_with(".ie \\n(.g"));
    assert_eq!(studio.run(&["manual", "man"]).code, 0);
    for command in commands.iter().filter(|c| **c != "help") {
        let page = std::fs::read_to_string(studio.path(&format!("man/fidelon-{command}.1"))).unwrap_or_else(|e| panic!("{command}: {e}"));
        assert!(page.contains(".SH DESCRIPTION"), "{command}");
    }
    let run = studio.with("taken", "").run(&["manual", "taken"]);
    assert!(run.code == 2 && run.err.contains("taken"), "{}", run.err);
}
