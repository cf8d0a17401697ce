//! Faults of files: message, place, the text at fault underlined, what to write instead.

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use fidelon_core::results::FileFault;

use crate::style::Style;

/// A fault with the piece of text that it is about; `text` is the file's content, if it could be read.
pub fn show(fault: &FileFault, text: Option<&str>, style: Style) -> String {
    let renderer = if style.colour { Renderer::styled() } else { Renderer::plain() }.term_width(style.width);
    let title = Level::ERROR.primary_title(&fault.fault.message);
    let mut report = Vec::new();
    match text {
        Some(text) if !text.is_empty() => {
            let end = fault.fault.span.end.min(text.len());
            let start = fault.fault.span.start.min(end);
            let span = if start == end { start..(end + 1).min(text.len()) } else { start..end };
            let snippet = Snippet::source(text).path(&fault.place.file).annotation(AnnotationKind::Primary.span(span));
            report.push(title.element(snippet));
        }
        _ => report.push(Group::with_title(title).element(Level::NOTE.message(format!("in {}", fault.place.file)))),
    }
    if let Some(help) = &fault.fault.help {
        report.push(Group::with_title(Level::HELP.secondary_title(help.as_str())));
    }
    let mut out = renderer.render(&report).to_string();
    out.push('\n');
    out
}
