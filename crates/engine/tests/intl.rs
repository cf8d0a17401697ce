//! ECMA-402, row by row against what a browser gave.

mod page;

#[test]
fn locales_say_what_they_say_in_a_browser() {
    let rows: Vec<(String, &str)> = include_str!("intl.txt")
        .lines()
        .filter(|line| !line.starts_with('#'))
        .map(|line| line.rsplit_once(" => ").expect(line))
        .map(|(script, expected)| (format!("return String({script})"), expected))
        .collect();
    let rows: Vec<(&str, &str)> = rows.iter().map(|(script, expected)| (script.as_str(), *expected)).collect();
    page::check(&rows);
}
