//! What was found, at its lines.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::{Component, FileFault, Results};
use fidelon_report::{places, told};
use fidelon_source::Place;
use lsp_types::{Diagnostic, DiagnosticRelatedInformation, DiagnosticSeverity, Location, NumberOrString, Range};
use serde::{Deserialize, Serialize};

use crate::state::State;
use crate::text::Text;

/// What an action needs of a finding, carried by its diagnostic.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub(crate) struct About {
    pub(crate) component: String,
    /// The law that broke; none for a clause.
    pub(crate) law: Option<String>,
    /// The prop, slot, event or member.
    pub(crate) about: Option<String>,
    /// The text that is meant by what was written.
    pub(crate) instead: Option<String>,
}

pub(crate) const SOURCE: &str = "fidelon";

/// The law of names that a parent passes and its child does not declare: what is expected is the name that was meant.
const MISNAMED: &str = "child/declared";

/// What is to be shown of a project's files, by path.
pub(crate) fn of(state: &State, root: &Path, results: &Results) -> BTreeMap<PathBuf, Vec<Diagnostic>> {
    let mut out = Collecting { state, root, texts: BTreeMap::new(), by_file: BTreeMap::new() };
    for fault in &results.faults {
        out.fault(fault);
    }
    for component in &results.components {
        out.unjudged(component);
        component.findings.iter().for_each(|finding| out.finding(component, finding));
    }
    out.by_file
}

struct Collecting<'a> {
    state: &'a State,
    root: &'a Path,
    texts: BTreeMap<PathBuf, Text>,
    by_file: BTreeMap<PathBuf, Vec<Diagnostic>>,
}

impl Collecting<'_> {
    fn text(&mut self, path: &Path) -> &Text {
        let state = self.state;
        self.texts.entry(path.to_path_buf()).or_insert_with(|| state.text_of(path))
    }

    fn location(&mut self, place: &Place) -> Option<Location> {
        let path = self.root.join(&place.file);
        let range = self.text(&path).range_of_place(place.line, place.column);
        Some(Location { uri: self.state.uri_of(&path)?, range })
    }

    fn fault(&mut self, fault: &FileFault) {
        let path = self.root.join(&fault.place.file);
        let span = fault.fault.span;
        let text = self.text(&path);
        let range = if span.end > span.start {
            text.range(span.start, span.end)
        } else {
            text.range_of_place(fault.place.line, fault.place.column)
        };
        let about = About { instead: fault.fault.instead.clone(), ..About::default() };
        self.push(path, diagnostic(range, DiagnosticSeverity::ERROR, places::fault_line(fault)), &about);
    }

    fn unjudged(&mut self, component: &Component) {
        let Some((place, reason)) = places::unjudged(component) else { return };
        let path = self.root.join(&place.file);
        let range = self.text(&path).range_of_place(place.line, place.column);
        let about = About { component: component.component.clone(), ..About::default() };
        self.push(path, diagnostic(range, DiagnosticSeverity::WARNING, format!("not judged: {reason}")), &about);
    }

    fn finding(&mut self, component: &Component, finding: &Finding) {
        let place = places::place_of(component, finding);
        let path = self.root.join(&place.file);
        let range = self.text(&path).range_of_place(place.line, place.column);
        let promised = finding.written.as_ref().filter(|_| finding.failure.place.is_some()).and_then(|written| self.location(written));
        let related = promised.map(|location| vec![DiagnosticRelatedInformation { location, message: "promised here".into() }]);
        let law = (finding.kind == RuleKind::Law).then(|| finding.rule.clone());
        let code = law.clone().map(NumberOrString::String);
        let shown = Diagnostic { code, related_information: related, ..diagnostic(range, DiagnosticSeverity::ERROR, message(finding)) };
        let instead = finding.failure.expected.clone().filter(|_| self.is_slip(&path, range, finding));
        let about = About { component: component.component.clone(), law, about: finding.about.clone(), instead };
        self.push(path, shown, &about);
    }

    /// Whether a finding is about a name alone, which stands in the source as it is told.
    fn is_slip(&mut self, path: &Path, range: Range, finding: &Finding) -> bool {
        let text = self.text(path);
        let written = &text.all()[text.offset(range.start)..text.offset(range.end)];
        finding.rule == MISNAMED && finding.failure.actual.as_deref() == Some(written)
    }

    fn push(&mut self, path: PathBuf, shown: Diagnostic, about: &About) {
        self.by_file.entry(path).or_default().push(Diagnostic { data: serde_json::to_value(about).ok(), ..shown });
    }
}

fn diagnostic(range: Range, severity: DiagnosticSeverity, message: String) -> Diagnostic {
    Diagnostic { range, severity: Some(severity), source: Some(SOURCE.into()), message, ..Diagnostic::default() }
}

/// A finding in a few lines: promise and cause, what was seen, the plainest case and how to see it again.
fn message(finding: &Finding) -> String {
    let mut out = format!("{}\nbreaks {}: {}", told::promise(finding), told::when(finding), told::in_one_line(&finding.failure.message));
    if let (Some(expected), Some(actual)) = (&finding.failure.expected, &finding.failure.actual) {
        out += &format!("\nexpected {}, actual {}", told::in_one_line(expected), told::in_one_line(actual));
    }
    if !finding.combination.is_empty() {
        out += &format!("\nshown by {}", told::in_one_line(&finding.combination));
    }
    out + &format!("\nagain: fidelon replay {}", finding.case)
}
