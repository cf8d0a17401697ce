//! Results a line each: for editors and scripts (`file:line:column: error: …`, as compilers write), and as the workflow commands by which
//! CI services put annotations beside the code.

use std::fmt::Write as _;

use fidelon_core::results::Results;
use fidelon_source::Place;

use crate::places::{fault_line, place_of, unjudged};
use crate::told::sentence;

/// One thing to be told.
struct Line {
    place: Place,
    /// Broken or faulty rather than not judged.
    is_error: bool,
    title: String,
    text: String,
}

fn all(results: &Results) -> Vec<Line> {
    let faults = results.faults.iter().map(|f| Line {
        place: f.place.clone(),
        is_error: true,
        title: "a fault in a file".into(),
        text: fault_line(f),
    });
    let mut out: Vec<Line> = faults.collect();
    for component in &results.components {
        if let Some((place, reason)) = unjudged(component) {
            out.push(Line { place, is_error: false, title: format!("{} is not judged", component.component), text: reason.to_owned() });
        }
        out.extend(component.findings.iter().map(|finding| Line {
            place: place_of(component, finding),
            is_error: true,
            title: component.component.clone(),
            text: format!("{} [{}]", sentence(finding), finding.case),
        }));
    }
    out
}

/// `src/KilnDial.vue:41:7: error: …`
pub fn lines(results: &Results) -> String {
    let mut out = String::new();
    for line in all(results) {
        let level = if line.is_error { "error" } else { "warning" };
        let text = line.text.split_whitespace().collect::<Vec<_>>().join(" ");
        // A line each, whatever a file is called.
        let place = line.place.to_string().replace('\n', "␊");
        let _ = writeln!(out, "{place}: {level}: {text}");
    }
    out
}

/// `::error file=src/KilnDial.vue,line=41,col=7,title=…::…`
pub fn annotations(results: &Results) -> String {
    let mut out = String::new();
    for line in all(results) {
        let level = if line.is_error { "error" } else { "warning" };
        let Place { file, line: row, column } = &line.place;
        let (file, title) = (property(file), property(&line.title));
        let _ = writeln!(out, "::{level} file={file},line={row},col={column},title={title}::{}", data(&line.text));
    }
    out
}

fn data(text: &str) -> String {
    text.replace('%', "%25").replace('\r', "%0D").replace('\n', "%0A")
}

fn property(text: &str) -> String {
    data(text).replace(':', "%3A").replace(',', "%2C")
}
